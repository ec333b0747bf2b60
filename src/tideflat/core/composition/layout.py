"""Where in the frame there is to be composed: what every crop shares, less what is kept for words."""

from __future__ import annotations

from dataclasses import dataclass

from ..camera.crops import FULL_FRAME, Rect
from ..camera.view import View
from ..evaluate import Picture

#: Schools that bend how things are arranged.
LEANINGS = ("hero", "order", "edges", "spacing", "fullness")


@dataclass(frozen=True, eq=False, slots=True)
class Layout:
    """field: where in the frame to compose; copies: boxes kept for words; both in fractions. table: where things may stand, mm.
    leanings run from -1 to 1. count: how many things there are to lay out."""

    view: View
    field: Rect
    copies: tuple[Rect, ...]
    table: Rect
    leanings: dict[str, float]
    count: int

    @property
    def slant(self) -> float:
        """How much of the table's depth the frame sees: 1 from above, 0 at eye level."""
        return abs(float(self.view.forward[2]))


def layout_of(picture: Picture, count: int) -> Layout:
    """Of a set-up with so many things to lay out."""
    scene = picture.scene
    copies = tuple(c.copy_box for c in picture.crops if c.copy_box is not None)
    surface, backdrop = scene.surface, scene.backdrop
    back = surface.depth if backdrop is None else min(surface.depth, backdrop.y)
    leanings = {name: scene.brief.leaning(name) for name in LEANINGS}
    return Layout(picture.view, _field(picture.safe_area or FULL_FRAME, copies), copies, (0.0, 0.0, surface.width, back), leanings, count)


def _field(window: Rect, copies: tuple[Rect, ...]) -> Rect:
    """The window without the bands kept for words: for each, the side is given up that costs the least room."""
    u0, v0, u1, v1 = window
    for a, b, c, d in copies:
        left, right, top, bottom = max(a, u0), min(c, u1), max(b, v0), min(d, v1)
        if left >= right or top >= bottom:
            continue
        ways = {"u0": right - u0, "u1": u1 - left, "v0": bottom - v0, "v1": v1 - top}
        sizes = {"u0": u1 - u0, "u1": u1 - u0, "v0": v1 - v0, "v1": v1 - v0}
        side = min(ways, key=lambda s: ways[s] / sizes[s])
        u0, v0, u1, v1 = (
            right if side == "u0" else u0, bottom if side == "v0" else v0, left if side == "u1" else u1, top if side == "v1" else v1,
        )  # fmt: skip
    return (u0, v0, u1, v1) if u1 > u0 and v1 > v0 else window
