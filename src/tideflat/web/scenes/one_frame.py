"""One frame for all deliverables: asked for as a job, told in words, taken in one step."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.web.accounts.models import Studio
from tideflat.web.work import services as work
from tideflat.web.work.models import Work

from .building import about
from .models import Scene

KIND = "frame"


@dataclass(frozen=True)
class Told:
    """The frame that was found, in words; better: whether it is better than today's; gains: what each deliverable costs the others."""

    now: str
    found: str
    better: bool
    gains: tuple[str, ...]


def ask(row: Scene, picture: Picture) -> Work:
    """Begin to look, or what was begun for the same state."""
    found = newest(row, picture)
    if found is not None and found.state in (Work.WAITING, Work.WORKING, Work.DONE):
        return found
    return work.begin(row.studio, KIND, about(row, picture), {"document": row.document, "setup": picture.setup.name})


def newest(row: Scene, picture: Picture) -> Work | None:
    return work.newest(row.studio, KIND, about(row, picture))


def act_of(studio: Studio, row: Scene, picture: Picture, work_id: int) -> dict[str, Any]:
    """The act that makes the frame what was found for this very state. Raises FieldError."""
    found = work.one(studio, KIND, about(row, picture), work_id)
    told = [] if found is None else json.loads(found.told)
    if not told:
        raise FieldError("work", "must be of what stands now; look for one frame again", show_got=False)
    return {"act": "frame_all", **{key: told[0][key] for key in ("aim", "distance", "centres")}}


def told_of(found: Work | None) -> Told | None:
    """What there is of it."""
    told = [] if found is None else json.loads(found.told)
    if not told:
        return None
    first = told[0]
    gains = tuple(f"Without {d['name']}: {_words(d['worth'])}." for d in first["dropped"] if _order(d["worth"]) < _order(first["worth"]))
    return Told(_words(first["now"]), _words(first["worth"]), _order(first["worth"]) < _order(first["now"]), gains)


def _order(worth: dict[str, Any]) -> tuple[int, int, float]:
    return worth["stops"], worth["mends"], round(worth["less"], 4)


def _words(worth: dict[str, Any]) -> str:
    stops = f"{worth['stops']} that cannot be shot, " if worth["stops"] else ""
    mends = f"{worth['mends']} to mend" if worth["mends"] else "nothing to mend"
    return f"{stops}{mends}, the hero at least {1 - worth['less']:.1%} of its crop".replace("%", "\u00a0%")
