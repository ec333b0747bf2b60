"""The chart of lenses: a lane for each body, every lens at the distance from which it shows as much as today, and what stands in its way."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any

from tideflat.core.frame.lens_chart import Row
from tideflat.core.units import format_length

#: What stands in a lens's way, in words. Of the first it cannot be taken so at all; of the others it can, at a price.
WALLS = {
    "rig.ceiling": "under the ceiling there is no room",
    "rig.reach": "no support of yours brings it there",
    "rig.table": "it would be in the table",
    "lens.min_focus": "it does not focus so near",
    "lens.too_far": "with its extension it does not focus so far",
    "lens.circle": "its corners stay dark on this body",
}
PRICES = {
    "surface.edge": "it sees past the surface",
    "backdrop.narrow": "the backdrop is too narrow for it",
    "crop.enlarged": "a crop has too few pixels",
}
#: Drawing units.
_WIDE, _LANE, _LEFT, _RIGHT, _TOP, _FOOT = 600.0, 40.0, 132.0, 12.0, 24.0, 26.0
#: Distances at which the axis is marked, mm.
_TICKS_MM = (50, 100, 150, 200, 300, 400, 500, 700, 1000, 1500, 2000, 3000, 4000, 6000, 10_000, 20_000)
#: Figures of the axis are no nearer than this; lenses of one length within the other are marked by one figure.
_APART, _SAME = 64.0, 3.0
#: Marks nearer than this get their figure above and below by turns.
_NEAR = 26.0


@dataclass(frozen=True)
class Chart:
    """wide, high: drawing units; foot, bottom: y of the axis's figures and of its lines' ends. lanes: by body; ticks: x, distance and stretch in
    words; now: x of where the lens is today, None off the chart; told: the chart in one sentence; rows: every lens in words."""

    wide: float
    high: float
    foot: float
    bottom: float
    lanes: tuple[dict[str, Any], ...]
    ticks: tuple[dict[str, Any], ...]
    now: float | None
    told: str
    rows: tuple[dict[str, Any], ...]


def chart_drawn(rows: Sequence[Row], now_mm: float, offsets_mm: Sequence[float], unit: str) -> Chart:
    """``now_mm``: today's distance; ``offsets_mm``: how much further than the aim each thing is, along the axis."""
    distances = [row.camera.distance for row in rows if row.camera is not None] or [now_mm]
    low, high = math.log(min(distances) * 0.8), math.log(max(distances) * 1.25)

    def x(distance: float) -> float:
        return _LEFT + (_WIDE - _LEFT - _RIGHT) * (math.log(distance) - low) / (high - low)

    lanes = tuple(_lane(k, body, list(of), x, unit) for k, (body, of) in enumerate(groupby(rows, key=lambda r: r.body)))
    shown: list[float] = []
    for mm in _TICKS_MM:
        if low <= math.log(mm) <= high and (not shown or x(mm) - x(shown[-1]) >= _APART):
            shown.append(mm)
    ticks = tuple({"x": x(mm), "distance": format_length(mm, unit), "stretch": _stretch(mm, offsets_mm)} for mm in shown)
    able = sum(not _walls(row) for row in rows)
    told = f"{able} of {len(rows)} lenses can, each showing as much as now"
    now = x(now_mm) if low <= math.log(now_mm) <= high else None
    tall = _TOP + len(lanes) * _LANE + _FOOT
    return Chart(
        _WIDE,
        tall,
        tall - 6,
        tall - 20,
        lanes,
        ticks,
        now,
        told,
        tuple({**_words(row, unit), "is_first": not k or row.body != rows[k - 1].body} for k, row in enumerate(rows)),
    )


def _lane(k: int, body: str, rows: list[Row], x: Callable[[float], float], unit: str) -> dict[str, Any]:
    middle, top = _TOP + (k + 0.5) * _LANE, _TOP + k * _LANE + 3
    marks: list[dict[str, Any]] = []
    above, under = -_WIDE, -_WIDE
    placed = sorted(((row.camera.distance, row) for row in rows if row.camera is not None), key=lambda p: (p[0], p[1].lens))
    for distance, row in placed:
        at = x(distance)
        label, y = "", middle
        if marks and at - marks[-1]["x"] < _SAME and marks[-1]["label"] == f"{row.focal_length:g}":
            label = ""
        elif at - above >= _NEAR:
            label, y, above = f"{row.focal_length:g}", middle - 9, at
        elif at - under >= _NEAR:
            label, y, under = f"{row.focal_length:g}", middle + 18, at
        kind = "walled" if _walls(row) else "dear" if _prices(row) else "able"
        marks.append({"x": at, "label": label, "label_y": y, "kind": kind, "title": _words(row, unit)["told"], "lens": row.lens})
    stopped = [x(distance) for distance, row in placed if "rig.ceiling" in row.walls]
    beyond = {"x": min(stopped) - 9, "y": top, "wide": _WIDE - _RIGHT - min(stopped) + 9, "high": _LANE - 6} if stopped else None
    return {"body": body, "y": middle, "label_y": middle + 4, "left": _LEFT, "right": _WIDE - _RIGHT, "marks": marks, "beyond": beyond}


def _stretch(mm: float, offsets_mm: Sequence[float]) -> str:
    """How much larger the front is shown than the back from there."""
    depths = [mm + off for off in offsets_mm]
    return f"\u00d7{max(depths) / min(depths):.2f}" if len(depths) > 1 and min(depths) > 0 else ""


def _walls(row: Row) -> list[str]:
    return [WALLS[code] for code in row.walls if code in WALLS]


def _prices(row: Row) -> list[str]:
    return [PRICES[code] for code in row.walls if code in PRICES]


def _words(row: Row, unit: str) -> dict[str, Any]:
    """One lens in words: what it does from there, and what stands in its way."""
    ways = [*_walls(row), *_prices(row)]
    facts = _facts(row, unit)
    told = f"{row.lens} on {row.body}" + (f", from {facts['distance']} away" if facts else "")
    told += ": " + ("; ".join(ways) if ways else "it can")
    return {
        "body": row.body,
        "lens": row.lens,
        "told": told,
        "ways": "; ".join(ways),
        "is_able": row.camera is not None and not _walls(row),
        **facts,
    }


def _facts(row: Row, unit: str) -> dict[str, str]:
    if row.camera is None or row.height_above_floor is None:
        return {}
    return {
        "distance": format_length(row.camera.distance, unit),
        "floor": format_length(row.height_above_floor, unit),
        "clear": "" if row.ceiling_clearance is None else format_length(row.ceiling_clearance, unit),
        "stretch": "" if row.stretch is None else f"\u00d7{row.stretch:.2f}",
        "depth": "to the wall" if row.depth is None else format_length(row.depth, unit),
        "backdrop": "" if row.backdrop_width is None else format_length(row.backdrop_width, unit),
        "enlarged": "" if row.enlargement is None else f"{row.enlargement:.0%}".replace("%", "\u00a0%"),
        "held": ", ".join(row.held_by),
    }
