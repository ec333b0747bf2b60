"""How light or dark things and grounds come out in a set-up's own light, against the hero, which is exposed for: worked out at once from
straight light and first bounces. What stands between a light and a thing is not asked. Without lights all is as under even light."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..camera.view import View
from ..colour.mix import hex_from_linear, linear_from_hex
from ..colour.shoulder import rolled
from ..evaluate import Picture
from ..light.at_once import UP, from_cards, from_surface, straight_lux
from ..light.mirrors import faces_of
from ..light.readings import highest_point
from ..light.sources import Source, sources_of
from ..model import Backdrop, Card, Colour, Surface
from ..remember import Pixels, counted, remembered
from ..solids.body import Body
from ..tolerances import NO_LIGHT_LUX, PARALLEL

#: Light is told in parts of a stop, so that what hardly changes is not worked out anew; darker and lighter than this is told alike.
PARTS, _DARKEST, _LIGHTEST = 4, -6.0, 2.0
#: What these show is not the light that falls on them.
_MIRRORING = ("glass", "metal")


@dataclass(frozen=True, slots=True)
class Givers:
    """What gives light at once; equal where that is, so that what it gives is worked out once. sources: of the lights that are on."""

    sources: tuple[Source, ...]
    cards: tuple[Card, ...]
    surface: Surface
    backdrop: Backdrop | None

    def falling(self, places: np.ndarray, normals: np.ndarray) -> np.ndarray:
        """(n,) lux at places (n, 3) on faces that look along unit normals (n, 3)."""
        found = straight_lux(self.sources, places, normals)
        found = found + from_cards(self.sources, self.cards, places, normals)
        return found + from_surface(self.surface, self.sources, places, normals)


@dataclass(frozen=True, slots=True)
class InLight:
    """things: parts of a stop that each thing comes out lighter than the hero's place, by its id; reference: lux there."""

    givers: Givers
    view: View
    reference: float
    things: dict[str, int]

    def parts(self, lux: np.ndarray) -> np.ndarray:
        """(n,) whole parts of a stop against the hero's place."""
        stops = np.log2(np.maximum(lux, NO_LIGHT_LUX) / self.reference)
        return np.rint(np.clip(stops, _DARKEST, _LIGHTEST) * PARTS).astype(int)  # type: ignore[no-any-return]


def in_light(picture: Picture) -> InLight | None:
    """None where no lights are decided, all are off, or there is no hero to expose for."""
    heroes, scene, view = picture.hero_ids(), picture.scene, picture.view
    if not scene.lights or not heroes:
        return None
    givers = Givers(sources_of(scene.lights, scene.room), scene.cards, scene.surface, scene.backdrop)
    reference = _at_hero(givers, picture.bodies[heroes[0]], view)
    if reference <= NO_LIGHT_LUX:
        return None
    found = InLight(givers, view, reference, {})
    asked = [i for i in picture.bodies if picture.props[i].finish not in _MIRRORING]
    if asked:
        lux = np.array([_on_thing(givers, picture.bodies[i], view) for i in asked])
        found.things.update(zip(asked, found.parts(lux).tolist(), strict=True))
    return found


def lit_figures(picture: Picture) -> tuple[tuple[str, bool], ...]:
    """What a finding says of it: that colours were judged in the set-up's own light."""
    return (("lit", True),) if in_light(picture) is not None else ()


@counted(256)
def _at_hero(givers: Givers, hero: Body, view: View) -> float:
    """Lux, the mean of a level face at its highest point and of one that looks to the lens."""
    place = highest_point(hero)
    way = (view.position - place) / np.linalg.norm(view.position - place)
    return float(givers.falling(np.array([place, place]), np.array([UP, way])).mean())


@counted(2048)
def _on_thing(givers: Givers, body: Body, view: View) -> float:
    """Lux, the mean over the faces that look to the lens, by about what area of each is seen."""
    wide, deep, high = body.shape.sides()
    places, normals, shares = [], [], []
    for face, at, normal in faces_of(body, view.position):
        looks = float((view.position - at) @ normal) / float(np.linalg.norm(view.position - at))
        if looks > 0:
            places.append(at)
            normals.append(normal)
            shares.append(looks * wide * (deep if face == "top" else high))
    return float(np.average(givers.falling(np.array(places), np.array(normals)), weights=shares)) if shares else 0.0


def ground_parts(lit: InLight, name: str, spots: np.ndarray) -> np.ndarray:
    """(n,) parts of a stop of a ground where the frame sees it at spots (n, 2), which stay as they are; 0 where nothing is known."""
    if name not in ("surface", "backdrop"):
        return np.zeros(len(spots), dtype=int)
    return lit.parts(_on_ground(lit.givers, lit.view, name, Pixels(spots)))


@remembered(2)
def _on_ground(givers: Givers, view: View, name: str, spots: Pixels) -> np.ndarray:
    """(n,) lux."""
    rays, lens = view.rays(spots.values), view.position
    if name == "backdrop" and givers.backdrop is not None:
        far, normal = (givers.backdrop.y - lens[1]) / np.maximum(rays[:, 1], PARALLEL), np.array([0.0, -1.0, 0.0])
    else:
        far, normal = -lens[2] / np.minimum(rays[:, 2], -PARALLEL), UP
    return givers.falling(lens + far[:, None] * rays, np.tile(normal, (len(rays), 1)))


@counted(8192)
def as_lit(colours: tuple[Colour, ...], parts: int) -> tuple[Colour, ...]:
    """Colours in so much more light, in parts of a stop; what goes over white comes to it gently."""
    return tuple(replace(c, hex=_lit_hex(c.hex, parts)) for c in colours) if parts else colours


@counted(8192)
def _lit_hex(colour: str, parts: int) -> str:
    light = np.array(linear_from_hex(colour)) * 2.0 ** (parts / PARTS)
    r, g, b = (float(v) for v in (rolled(light) if parts > 0 else light))
    return hex_from_linear((r, g, b))
