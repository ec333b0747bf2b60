"""What all judgements of an arrangement look at: outlines of the things that shape it, as seen, in heights of the frame, y down."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property

import numpy as np
import shapely
from shapely.affinity import scale
from shapely.geometry.base import BaseGeometry

from ..camera.crops import FULL_FRAME, Rect
from ..colour.spaces import lab_of
from ..evaluate import Picture
from ..model import Colour, Placement
from ..palette.seen import against, parts, seen_colours
from ..palette.wanted import met
from ..plane.areas import areas_of, common, together
from ..remember import counted
from ..tolerances import PLAIN, SAME_NUMBER
from .relations import SHAPING_ROLES, related

#: What stands so little out from what is behind it weighs by its area alone, CIEDE2000.
_LEAST_CONTRAST = 5.0
#: An end of a long thing points as far as this, heights of the frame.
_RAY = 3.0


def shapes_it(placement: Placement) -> bool:
    """What lies on something belongs to it; a hero counts wherever it lies."""
    return placement.role == "hero" or (placement.role in SHAPING_ROLES and placement.on is None)


@counted(16)
def eye_of(picture: Picture) -> Eye:
    return Eye(picture)


class Eye:
    """What all measures look at: outlines of the shaping things as seen, in heights of the frame."""

    def __init__(self, picture: Picture) -> None:
        self.picture = picture
        self.aspect = picture.view.aspect
        self.window: Rect = picture.safe_area or FULL_FRAME
        self.ids = [i for i, t in picture.things.items() if t.frame_area_share > 0 and shapes_it(picture.bodies[i].placement)]
        self.hero = next((i for i in self.ids if picture.bodies[i].placement.role == "hero"), None)

    def seen(self, i: str) -> BaseGeometry:
        return scale(self.picture.things[i].visible, self.aspect, 1.0, origin=(0, 0))

    @cached_property
    def outlines(self) -> dict[str, BaseGeometry]:
        visible = np.array([self.picture.things[i].visible for i in self.ids], dtype=object)
        outlines = shapely.transform(visible, lambda points: points * [self.aspect, 1.0])
        return dict(zip(self.ids, outlines.tolist(), strict=True))

    @cached_property
    def room(self) -> BaseGeometry:
        u0, v0, u1, v1 = self.window
        return shapely.box(u0 * self.aspect, v0, u1 * self.aspect, v1)

    @cached_property
    def covered(self) -> BaseGeometry:
        """All that is seen of anything but cloth, in the window that every crop shares."""
        seen = [self.picture.things[i].visible for i, b in self.picture.bodies.items() if b.placement.role != "cloth"]
        if not seen:
            return shapely.Polygon()
        return common(together(self._plain(seen)), self.room)

    def _plain(self, visible: Iterable[BaseGeometry]) -> np.ndarray:
        """Outlines in heights of the frame without what nobody sees."""
        outlines = shapely.transform(np.array(list(visible), dtype=object), lambda points: points * [self.aspect, 1.0])
        return np.array([areas_of(shapely.make_valid(g)) for g in shapely.simplify(outlines, PLAIN)], dtype=object)

    @cached_property
    def gaps(self) -> np.ndarray:
        """(n, n) between the outlines of shaping things; infinite on the diagonal."""
        n = len(self.ids)
        shapes = self._plain(self.picture.things[i].visible for i in self.ids)
        gaps = np.full((n, n), np.inf)
        one, other = np.triu_indices(n, 1)
        gaps[one, other] = gaps[other, one] = shapely.distance(shapes[one], shapes[other])
        return gaps

    @cached_property
    def middles(self) -> np.ndarray:
        """(n, 2)"""
        return np.array([[g.centroid.x, g.centroid.y] for g in self.outlines.values()]).reshape(-1, 2)

    @cached_property
    def areas(self) -> np.ndarray:
        return np.array([g.area for g in self.outlines.values()])

    @cached_property
    def weights(self) -> tuple[np.ndarray, np.ndarray]:
        """(weights, (n, 2) middles) of everything seen: area times how much it stands out from what lies behind it."""
        rims, things = against(self.picture), self.picture.things
        ids = [i for i, t in things.items() if t.frame_area_share > 0 and i in rims]
        weights = np.array([things[i].visible.area * max(_LEAST_CONTRAST, rims[i].delta_e) for i in ids])
        middles = np.array([[(c := things[i].visible.centroid).x * self.aspect, c.y] for i in ids]).reshape(-1, 2)
        return weights, middles

    @cached_property
    def weight_middle(self) -> np.ndarray | None:
        """(2,) the middle of visual weight; None where nothing weighs."""
        weights, middles = self.weights
        return weights @ middles / weights.sum() if weights.sum() > SAME_NUMBER else None

    @cached_property
    def rods(self) -> dict[str, np.ndarray]:
        """(2,) the way along each long thing, of length 1; what is seen end on has none."""
        found = {}
        for i in self.ids:
            if self.picture.bodies[i].placement.role != "linear":
                continue
            corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(self.outlines[i]))[:-1]
            if len(corners) == 4:
                sides = np.diff(corners[:3], axis=0)
                way = sides[int(np.hypot(*sides.T).argmax())]
                found[i] = way / max(float(np.hypot(*way)), SAME_NUMBER)
        return found

    def points_at(self, i: str, end: int) -> bool:
        """Whether a long thing's line, onward from its middle to one end (1 or -1), meets anything large that shapes the picture."""
        start = np.array(self.outlines[i].centroid.coords[0])
        ray = shapely.LineString([start, start + end * self.rods[i] * _RAY])
        return any(shapely.intersects(ray, self.outlines[j]) for j in self.ids if j != i and j not in self.rods)

    @cached_property
    def leading_out(self) -> tuple[str, ...]:
        """Long things whose line meets nothing either way."""
        return tuple(i for i in self.rods if not (self.points_at(i, -1) or self.points_at(i, 1)))


def echoes(picture: Picture) -> tuple[tuple[str, str, str], ...]:
    """(one, other, the accent's hex) of each accent of the palette that two things, and nothing else, carry; not of two that
    stay together."""
    palette, found = picture.scene.palette, []
    for part in () if palette is None else met(palette, seen_colours(picture))[0]:
        carriers = [o for o in part.owners if o in picture.props]
        groups = [picture.scene.group_of(i) for i in carriers]
        is_pair = len(carriers) == len(part.owners) == 2 and not set(carriers) & set(picture.hero_ids())
        is_pair = is_pair and (groups[0] is None or groups[0] != groups[1])
        if part.wanted.part == "accent" and is_pair and not related(picture, *carriers):
            found.append((carriers[0], carriers[1], part.wanted.hex))
    return tuple(found)


def lightness(colours: tuple[Colour, ...]) -> float:
    """L* of what has several colours, each by its share."""
    return sum(float(lab_of(c.hex)[0]) * share for c, share in parts(colours))
