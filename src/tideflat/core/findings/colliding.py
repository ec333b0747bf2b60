"""Lamps, cards, rig, camera and things that would stand in each other, as convex solids."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import shapely

from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import BACK_PLATE_BEHIND_SENSOR, BACK_PLATE_HEIGHT, BACK_PLATE_WIDTH, Fact
from ..light.form_factor import frame_of
from ..light.surroundings import card_strips
from ..model import Lamp
from ..tolerances import SAME_NUMBER
from .finding import Finding
from .kind import Kind, Rule

COLLIDES_KIND = Kind(
    code="rig.collides", rank=104, severity="mend", unit="mm", measure="how far one would have to give way to the other",
    limit=Fact(0, "mm", "geometry"), limit_note="a lamp or card in its stand, arm or helper does not count",
    gives="a smaller lamp or card, or another place, would have to give", makers=("out of the picture",),
)  # fmt: skip
#: Depth of a lamp behind its face as a share of its width, and at most; of a card's board; of the table's top (common practice, no source).
_LAMP_SHARE, _LAMP_MOST, _CARD_MM, _TOP_MM = 0.6, 240.0, 6.0, 25.0
#: Touching is not colliding, mm.
_TOUCHES = 1.0
#: Edges less apart than this (sine) run along each other.
_PARALLEL = SAME_NUMBER**0.5
_HOLDERS = ("stand", "arm", "person")


@dataclass(frozen=True, eq=False, slots=True)
class _Solid:
    """A convex solid: corners (n, 3), ways its edges run and ways its faces look (k, 3) each. list: where it is in the document; kind."""

    list: str
    id: str
    kind: str
    corners: np.ndarray
    edges: np.ndarray
    faces: np.ndarray

    @property
    def middle(self) -> np.ndarray:
        return (self.corners.max(axis=0) + self.corners.min(axis=0)) / 2  # type: ignore[no-any-return]

    @property
    def radius(self) -> float:
        return float(np.linalg.norm(self.corners - self.middle, axis=1).max())


def _block(list_name: str, item_id: str, kind: str, middle: np.ndarray, axes: np.ndarray, half: np.ndarray) -> _Solid:
    """About its middle, its unit axes in rows."""
    corners = middle + np.array([[a, b, c] for a in (-1, 1) for b in (-1, 1) for c in (-1, 1)]) * half @ axes
    return _Solid(list_name, item_id, kind, corners, axes, axes)


def find(picture: Picture) -> Iterator[Finding]:
    """Every pair once, the deepest place of it; the surface's own top for what hangs lower than it."""
    about = [*_standing(picture)]
    if not about:
        return
    set_ = [_camera(picture), *_things(picture, about), _top(picture)]
    pairs = [(a, b) for a, b in combinations(about, 2) if a.id != b.id and not _holds(a, b)] + [(a, b) for a in about for b in set_]
    deepest: dict[tuple[str, str], tuple[float, _Solid, _Solid]] = {}
    for a, b in pairs:
        if float(np.linalg.norm(a.middle - b.middle)) >= a.radius + b.radius or (b.list in ("camera", "surface") and a.kind == "person"):
            continue
        depth = _depth(a, b)
        if depth > max(_TOUCHES, deepest.get((a.id, b.id), (0.0,))[0]):
            deepest[a.id, b.id] = depth, a, b
    for depth, a, b in deepest.values():
        other = label(picture, b.id) if b.list == "placements" else f"the {b.id}"
        things = (b.id,) if b.list == "placements" else ()
        figures = (("light", a.id), ("list", a.list), ("other", b.id), ("other_list", b.list))
        yield COLLIDES_KIND.found(things, round(depth, 1), 0, f"the {a.id} stands in {other}, {depth:.0f} mm deep", figures=figures)


def _holds(a: _Solid, b: _Solid) -> bool:
    return (a.list == "rig") != (b.list == "rig") and (a if a.list == "rig" else b).kind in _HOLDERS


def _standing(picture: Picture) -> Iterator[_Solid]:
    scene = picture.scene
    for light in scene.lights:
        if isinstance(light, Lamp):
            along, upward, out = frame_of(np.array(light.toward))
            deep = min(_LAMP_SHARE * light.width, _LAMP_MOST)
            middle = np.array(light.at) - out * deep / 2
            yield _block(
                "lights", light.id, "lamp", middle, np.array([along, upward, out]), np.array([light.width, light.height, deep]) / 2
            )
    for card in scene.cards:
        for middle, along, upward in card_strips(card):
            sides = float(np.linalg.norm(along)), float(np.linalg.norm(upward))
            out = np.cross(along, upward) / (sides[0] * sides[1])
            axes = np.array([along / sides[0], upward / sides[1], out])
            yield _block("cards", card.id, card.kind, middle, axes, np.array([*sides, _CARD_MM / 2]))
    for piece in scene.rig:
        along, _, _ = frame_of(np.array(piece.toward))
        axes = np.array([along, [-along[1], along[0], 0.0], [0.0, 0.0, 1.0]])
        middle = np.array(piece.at) + [0, 0, piece.height / 2]
        yield _block("rig", piece.id, piece.kind, middle, axes, np.array([piece.width, piece.depth, piece.height]) / 2)


def _camera(picture: Picture) -> _Solid:
    view = picture.view
    long = view.principal_distance + BACK_PLATE_BEHIND_SENSOR.value
    axes = np.array([view.right, view.up, view.forward])
    half = np.array([BACK_PLATE_WIDTH.value, BACK_PLATE_HEIGHT.value, long]) / 2
    return _block("camera", "camera", "camera", view.position - view.forward * long / 2, axes, half)


def _things(picture: Picture, about: list[_Solid]) -> Iterator[_Solid]:
    """A thing near one of those as the upright prism over the hull of its foot."""
    spans = np.array([[*(b.middle - b.radius), *(b.middle + b.radius)] for b in about])
    for i, body in picture.bodies.items():
        x0, y0, x1, y1 = body.footprint_bounds
        near = (spans[:, 0] < x1) & (spans[:, 3] > x0) & (spans[:, 1] < y1) & (spans[:, 4] > y0) & (spans[:, 2] < body.z_max)
        if not near.any():
            continue
        if body.footprint_hull.geom_type != "Polygon":
            continue
        ring = np.array(shapely.simplify(body.footprint_hull, _TOUCHES / 2).exterior.coords)
        edges = np.diff(ring, axis=0)
        edges = edges / np.linalg.norm(edges, axis=1, keepdims=True)
        level, up = np.column_stack([edges, np.zeros(len(edges))]), np.array([[0.0, 0.0, 1.0]])
        corners = np.array([[*p, z] for z in (body.z_min, body.z_max) for p in ring[:-1]])
        faces = np.concatenate([np.column_stack([edges[:, 1], -edges[:, 0], np.zeros(len(edges))]), up])
        yield _Solid("placements", i, "thing", corners, np.concatenate([level, up]), faces)


def _top(picture: Picture) -> _Solid:
    surface = picture.scene.surface
    half = np.array([surface.width, surface.depth, _TOP_MM]) / 2
    return _block("surface", "table", "table", np.array([half[0], half[1], -half[2]]), np.eye(3), half)


def _depth(a: _Solid, b: _Solid) -> float:
    """How far one reaches into the other along the way where that is least, mm; 0 where they are apart. Separating axes: S. Gottschalk
    et al., "OBBTree", SIGGRAPH 1996."""
    cross = np.cross(a.edges[:, None], b.edges[None]).reshape(-1, 3)
    size = np.linalg.norm(cross, axis=1)
    ways = np.concatenate([a.faces, b.faces, cross[size > _PARALLEL] / size[size > _PARALLEL, None]])
    here, there = a.corners @ ways.T, b.corners @ ways.T
    reach = np.minimum(here.max(axis=0) - there.min(axis=0), there.max(axis=0) - here.min(axis=0))
    return max(0.0, float(reach.min()))


RULES = (Rule(find, (COLLIDES_KIND,)),)
