"""Light that is worked out at once, while a hand moves: straight from the lights, what stands between left out, and first bounces of cards,
surface and ceiling. Where more is asked, falling.py gives it with every bounce."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from ..colour.mix import linear_from_hex
from ..colour.spaces import RGB_TO_XYZ
from ..facts.light import CEILING_SIDE
from ..model import Card, Scene, Surface
from ..remember import counted
from .forms import Panel
from .lit_face import LitFace, area_of, unhindered, weights_of
from .sources import Source
from .surroundings import card_rgb, card_strips, mean_rgb

UP = np.array([0.0, 0.0, 1.0])
_LUMINANCE = RGB_TO_XYZ[1]
#: The ceiling is looked at in so many patches a side.
_PATCHES = 4


def straight_lux(sources: Iterable[Source], points: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(n,) lux straight from lights on points (n, 3) facing normals (n, 3), unit."""
    found = np.zeros(len(points))
    for source in sources:
        if source.to_sun is not None:
            falls = np.maximum(0.0, normals @ source.to_sun)
            if source.opening is not None:
                falls = falls * source.opening.passes(points, source.to_sun)
            found += source.sun_lux * falls
        elif source.sky_lux:
            found += source.sky_lux * (1 + normals[:, 2]) / 2  # an even half space above
        if len(source.faces) == 1:
            found += unhindered(points, normals, source.faces[0], 4)
        elif source.faces:
            light = np.array([face.luminance * area_of(face.polygon) for face in source.faces])
            found += weights_of(points, normals, source.faces[0].out, np.array([face.middle for face in source.faces])) @ light
    return found


def from_cards(sources: Sequence[Source], cards: Iterable[Card], points: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(n,) lux that cards give on of what comes to their middles straight from lights."""
    return sum((unhindered(points, normals, face, 4) for face in _lit_cards(tuple(sources), tuple(cards))), np.zeros(len(points)))


@counted(256)
def _lit_cards(sources: tuple[Source, ...], cards: tuple[Card, ...]) -> tuple[LitFace, ...]:
    """Both sides of each strip of each card, as what they give on."""
    found = []
    for card in cards:
        rho = float(card_rgb(card) @ _LUMINANCE)
        for middle, along, upward in card_strips(card):
            corners = np.array([middle + a * along + b * upward for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
            out = np.cross(along, upward)
            out = out / np.linalg.norm(out)
            for way, polygon in ((out, corners), (-out, corners[::-1])):
                lux = float(straight_lux(sources, middle[None], way[None])[0])
                if lux > 0:
                    found.append(LitFace(polygon, way, rho * lux / np.pi))
    return tuple(found)


def from_surface(surface: Surface, sources: Sequence[Source], points: np.ndarray, normals: np.ndarray) -> np.ndarray:
    """(n,) lux that the surface gives on, as bright all over as below each point."""
    rho = float(mean_rgb(surface.colours) @ _LUMINANCE)
    corners = np.array([[0.0, 0, 0], [surface.width, 0, 0], [surface.width, surface.depth, 0], [0, surface.depth, 0]])
    below = points * [1, 1, 0]
    lux = straight_lux(sources, below, np.tile(UP, (len(points), 1)))
    return rho * lux * unhindered(points, normals, LitFace(corners, UP, 1 / np.pi), 4)


def ceiling_patches(scene: Scene) -> tuple[np.ndarray, float, float] | None:
    """((k, 3) middles, mm2 of each, what it gives back) of the ceiling in patches; None without."""
    room = scene.room
    if room is None or room.ceiling_height is None:
        return None
    x, y, wide, deep = scene.surface.width / 2, scene.surface.depth / 2, CEILING_SIDE.value, CEILING_SIDE.value
    if room.x is not None and room.y is not None and room.width is not None and room.depth is not None:
        x, y, wide, deep = room.x, room.y, room.width, room.depth
    z = room.ceiling_height - scene.surface.height_above_floor
    steps = (np.arange(_PATCHES) + 0.5) / _PATCHES - 0.5
    gx, gy = (g.ravel() for g in np.meshgrid(x + steps * wide, y + steps * deep))
    middles = np.column_stack([gx, gy, np.full(gx.size, z)])
    return middles, wide * deep / len(middles), float(np.array(linear_from_hex(room.ceiling or room.walls)) @ _LUMINANCE)


def from_ceiling(scene: Scene, sources: Sequence[Source], point: np.ndarray, seen: np.ndarray) -> float:
    """Lux that the ceiling gives on to a level face, of what comes to it straight from lights. seen: (k,) which of its patches the face sees."""
    patches = ceiling_patches(scene)
    if patches is None:
        return 0.0
    middles, area, rho = patches
    lux = straight_lux([s for s in sources if not s.sky_lux and s.to_sun is None], middles, np.tile(-UP, (len(middles), 1)))
    return float(weights_of(point[None], UP[None], -UP, middles)[0] @ (lux * seen)) * rho * area / float(np.pi)


def card_panels(cards: Iterable[Card]) -> tuple[Panel, ...]:
    """Cards as what stands in the way."""
    return tuple(Panel(middle, along, upward, 1, 1, -1, -1, True) for card in cards for middle, along, upward in card_strips(card))
