"""How a scene is built on the table: numbered steps with measures by a tape, and how far each thing may drift, which is worked out beside."""

from __future__ import annotations

import json
import math
import zlib
from dataclasses import dataclass
from typing import Any

from tideflat.core.arrange.building import Step, Wanted, build_order, to_borrow
from tideflat.core.arrange.drift import WAYS
from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import KINDS
from tideflat.core.tolerances import ROUNDING
from tideflat.core.units import MM_PER_INCH, format_length
from tideflat.web.accounts.models import Studio
from tideflat.web.bridge.code_words import CODE_WORDS
from tideflat.web.bridge.drawing import table_drawing
from tideflat.web.work import services as work
from tideflat.web.work.models import Work

from .models import Scene

KIND = "drift"
_FUSSIEST = 3
_ALL_ROUND = tuple(str(way) for way in WAYS)
#: Of the ways those that a person looks along: (degrees as a text, in words).
_SAID = (("0", "right"), ("90", "back"), ("180", "left"), ("270", "forward"))


@dataclass(frozen=True)
class Line:
    """One numbered step in words. x, y: where its number is drawn. drift: of each way that has an end a length; None until it is known."""

    step: Step
    across: str
    deep: str
    how: str
    x: float
    y: float
    drift: tuple[str, ...] | None
    turn: str
    least: str
    ends_with: str
    is_fussy: bool


def about(row: Scene, picture: Picture) -> int:
    """What a job about this state of this set-up is known by: another state needs another."""
    return zlib.crc32(f"{row.pk} {picture.setup.name} {row.document}".encode())


def ask(studio: Studio, row: Scene, picture: Picture) -> Work:
    """Begin to work out how far things may drift, or what was begun for the same state."""
    found = work.newest(studio, KIND, about(row, picture))
    if found is not None and found.state in (Work.WAITING, Work.WORKING, Work.DONE):
        return found
    job = {"document": row.document, "setup": picture.setup.name, "ids": [s.id for s in build_order(picture)]}
    return work.begin(studio, KIND, about(row, picture), job)


def lines(picture: Picture, cross: tuple[float, float] | None, found: Work | None, unit: str) -> list[Line]:
    told: dict[str, dict[str, Any]] = {} if found is None else {d["id"]: d for d in json.loads(found.told)}
    fussy = [d["id"] for d in sorted(told.values(), key=lambda d: d["least"]) if _ends(d)[1]][:_FUSSIEST]
    depth = picture.scene.surface.depth
    return [_line(picture, s, told.get(s.id), unit, s.id in fussy, depth) for s in build_order(picture, cross)]


def wanted_words(picture: Picture, unit: str) -> list[str]:
    """What has to be borrowed, a line each."""
    return [_wanted(w, unit) for w in to_borrow(picture)]


def _wanted(wanted: Wanted, unit: str) -> str:
    sides = " × ".join(format_length(side, unit) for side in wanted.prop.shape.sides())
    times = f"{wanted.count} × " if wanted.count > 1 else ""
    return f"{times}{wanted.prop.name}: about {sides}, {colour_words(wanted.prop.colours[0].hex)}, {wanted.prop.finish}"


def _line(picture: Picture, s: Step, d: dict[str, Any] | None, unit: str, is_fussy: bool, depth: float) -> Line:
    p = picture.bodies[s.id].placement
    least, ends_with = ("", "") if d is None else _ends(d)
    return Line(
        s,
        _from(s.across, s.across_from, ("right", "left"), unit),
        _from(s.deep, s.deep_from, ("back", "forward"), unit),
        _how(s, unit),
        p.x,
        depth - p.y,
        None if d is None else tuple(f"{words} {held_words(d['ways'][way]['mm'], unit)}" for way, words in _SAID if d["ways"][way]["ends_with"]),
        "" if d is None or d["turns"] is None or not any(t["ends_with"] for t in d["turns"]) else " / ".join(_degrees(t) for t in d["turns"]),
        least if d is None else held_words(d["least"], unit),
        ends_with,
        is_fussy,
    )


def held_words(mm: float, unit: str) -> str:
    """A length that holds, never told larger than it is: tenths of a mm, hundredths of a cm or of an inch, rounded down."""
    if unit == "mm":
        return f"{math.floor(mm * 10 + ROUNDING) / 10:g} mm"
    return f"{math.floor(mm / (10 if unit == 'cm' else MM_PER_INCH) * 100 + ROUNDING) / 100:.2f} {unit}"


def _from(mm: float, origin: str, ways: tuple[str, str], unit: str) -> str:
    if origin == "the cross":
        return f"{format_length(abs(mm), unit)} {ways[0] if mm >= 0 else ways[1]}"
    return f"{format_length(mm, unit)} {origin}"


def _how(s: Step, unit: str) -> str:
    said = [f"on {s.on}"] if s.on else []
    if s.held_by:
        said.append(f"held by {s.held_by}, {format_length(s.up, unit)} up")
    elif s.up > 0 and not s.on:
        said.append(f"{format_length(s.up, unit)} up")
    if s.turn:
        said.append(f"turned {s.turn:g}°")
    if s.lean:
        said.append(f"leaning {s.lean:g}°")
    return ", ".join(said)


def _ends(d: dict[str, Any]) -> tuple[str, str]:
    """(least, what is found just past it, in words), or nothing where nothing is found as far as is looked."""
    at = min((d["ways"][way] for way in _ALL_ROUND), key=lambda r: (r["ends_with"] is None, r["mm"]))
    return str(at["mm"]), "" if at["ends_with"] is None else CODE_WORDS.get(at["ends_with"], KINDS[at["ends_with"]].measure)


def _degrees(turn: dict[str, Any]) -> str:
    return f"{turn['degrees']:.1f}°" if turn["ends_with"] else f"over {turn['degrees']:g}°"


def plan(picture: Picture) -> dict[str, Any]:
    """The table from above, as it is drawn under the numbers."""
    return table_drawing(picture, prefix="b", live=False)
