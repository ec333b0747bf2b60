"""Where the illusion stops: past the surface's edge, beside or over the backdrop."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..camera.coverage import backdrop_seen, seen_on_table
from ..camera.view import View
from ..evaluate import Picture
from ..facts.optics import Fact
from ..tolerances import CONTACT_MM
from .finding import Finding, Mark, Segment
from .kind import Kind, Rule

SURFACE_EDGE = Kind(
    code="surface.edge", rank=130, severity="mend", unit="mm",
    measure="mm seen past the surface, in a window; up to the backdrop", limit=Fact(0, "mm", "geometry"),
    gives="a larger surface, a tighter crop, or a longer lens would have to give", makers=("see less",),
    retouch_minutes=12,
)  # fmt: skip
NARROW = Kind(
    code="backdrop.narrow", rank=140, severity="mend", unit="mm",
    measure="mm seen past the backdrop's sides or top, in a window", limit=Fact(0, "mm", "geometry"),
    gives="a wider or higher backdrop, or a longer lens, would have to give", makers=("slide the backdrop", "stand before the backdrop"),
    retouch_minutes=10,
)  # fmt: skip


#: A view to the horizon is reported as this much past the edge, mm.
ENDLESS_MM = 10_000.0


def find_surface(picture: Picture) -> Iterator[Finding]:
    """The table ends inside a crop: on the left, right or front, or at the back where no backdrop stands."""
    surface, backdrop = picture.scene.surface, picture.scene.backdrop
    for crop, window in picture.windows:
        seen = seen_on_table(picture.view, window, y_max=None if backdrop is None else backdrop.y)
        if len(seen) < 3:
            continue
        past = {
            "left": (-seen[:, 0].min(), ((0.0, _at(seen, 0, min)[1]), _at(seen, 0, min))),
            "right": (seen[:, 0].max() - surface.width, ((surface.width, _at(seen, 0, max)[1]), _at(seen, 0, max))),
            "front": (-seen[:, 1].min(), ((_at(seen, 1, min)[0], 0.0), _at(seen, 1, min))),
            "back": (seen[:, 1].max() - surface.depth, ((_at(seen, 1, max)[0], surface.depth), _at(seen, 1, max))),
        }
        over = {side: mark for side, (amount, mark) in past.items() if amount > CONTACT_MM}
        if not over:
            continue
        measure = min(max(float(past[side][0]) for side in over), ENDLESS_MM)
        where = "the frame" if crop is None else f"the crop {crop}"
        far = f"{measure:.0f} mm" if measure < ENDLESS_MM else "more than ten metres"
        yield SURFACE_EDGE.found(
            (),
            round(measure, 1),
            0,
            f"{where} sees past the surface ({', '.join(over)}), at most by {far}",
            crop=crop,
            sides=tuple(over),
            mark=_mark(picture.view, tuple(over.values())),
        )


def _at(points: np.ndarray, axis: int, pick: object) -> tuple[float, float]:
    values = points[:, axis]
    x, y = points[int(values.argmin() if pick is min else values.argmax())]
    return float(x), float(y)


def _mark(view: View, table: tuple[Segment, ...]) -> Mark:
    frame = []
    for start, end in table:
        uv = view.project(np.array([[*start, 0.0], [*end, 0.0]]))
        if view.is_in_front(uv[:, 2]) and np.abs(uv[:, :2]).max() < 5:
            frame.append(((float(uv[0, 0]), float(uv[0, 1])), (float(uv[1, 0]), float(uv[1, 1]))))
    near = tuple(s for s in table if np.abs(np.array(s)).max() < ENDLESS_MM)
    return Mark(frame=tuple(frame), table=near)


def find_backdrop(picture: Picture) -> Iterator[Finding]:
    """A crop sees past the backdrop's sides or over its top."""
    backdrop = picture.scene.backdrop
    if backdrop is None:
        return
    for crop, window in picture.windows:
        seen = backdrop_seen(picture.view, backdrop, window)
        short = {"left": seen.short_left, "right": seen.short_right, "top": seen.short_top}
        sides = tuple(side for side, amount in short.items() if amount > CONTACT_MM)
        if not sides or seen.seen is None:
            continue
        measure = max(short.values())
        where = "the frame" if crop is None else f"the crop {crop}"
        yield NARROW.found(
            (),
            round(measure, 1),
            0,
            f"{where} sees {measure:.0f} mm past the backdrop ({', '.join(sides)}); it needs {seen.width_needed:.0f} x {seen.height_needed:.0f} mm there",
            crop=crop,
            sides=sides,
            mark=_backdrop_mark(picture, seen.seen, sides),
        )


def _backdrop_mark(picture: Picture, seen: tuple[float, float], sides: tuple[str, ...]) -> Mark:
    backdrop = picture.scene.backdrop
    assert backdrop is not None
    left, right = backdrop.x - backdrop.width / 2, backdrop.x + backdrop.width / 2
    segments = []
    if "left" in sides:
        segments.append(((seen[0], backdrop.y), (left, backdrop.y)))
    if "right" in sides:
        segments.append(((right, backdrop.y), (seen[1], backdrop.y)))
    return _mark(picture.view, tuple(segments))


RULES = (Rule(find_surface, (SURFACE_EDGE,)), Rule(find_backdrop, (NARROW,)))
