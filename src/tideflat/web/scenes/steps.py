"""A scene's history as it is read: what undo and redo would do, and every step with who and when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from tideflat.web.bridge.act_words import act_words

from .models import Change, Scene
from .services.history import steps_around

#: Steps listed at once, the newest.
SHOWN = 200


def step_words(step: Change, unit: str, *, with_setup: bool = False) -> str:
    """What was done, in the reader's unit; ``with_setup``: and in which set-up, as there are several."""
    words = act_words(step.code, step.figures, unit) if step.code else step.label
    is_named = step.setup in (step.figures.get("only"), step.figures.get("setup"))
    return f"{words}, in {step.setup}" if with_setup and step.setup and not is_named else words


def names_around(row: Scene, unit: str, *, with_setup: bool = False) -> tuple[str | None, str | None]:
    """(what undo would undo, what redo would do again); None where there is nothing."""
    here, ahead = steps_around(row)
    return tuple(None if s is None else step_words(s, unit, with_setup=with_setup) for s in (here, ahead))  # type: ignore[return-value]


@dataclass(frozen=True)
class Step:
    """One line of the list. ``is_way``: it lies between the beginning and where one stands; ``after``: the number of the step that it was
    made from, where that is not the one before it."""

    number: int
    words: str
    who: str
    at: datetime
    is_here: bool
    is_way: bool
    after: int | None


def steps_of(row: Scene, unit: str, *, with_setup: bool) -> list[Step]:
    """The scene's steps, the newest first, at most SHOWN."""
    found = list(Change.objects.filter(scene=row).order_by("-number").defer("state").select_related("by")[:SHOWN])
    parents = dict(Change.objects.filter(scene=row).values_list("number", "parent"))
    way: set[int] = set()
    number: int | None = row.position
    while number is not None and number not in way:
        way.add(number)
        number = parents.get(number)
    return [
        Step(
            c.number,
            step_words(c, unit, with_setup=with_setup),
            c.by.first_name or c.by.username if c.by else "",
            c.at,
            c.number == row.position,
            c.number in way,
            c.parent if c.parent is not None and c.parent != c.number - 1 else None,
        )
        for c in found
    ]
