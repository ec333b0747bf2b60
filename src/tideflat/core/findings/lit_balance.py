"""How the light is shared out: whether the side that the lens sees is filled, whether the hero is the brightest, what the ceiling gives.

Worked out at once (light/at_once.py): straight light and first bounces. Judged only where lights are decided.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..colour.spaces import RGB_TO_XYZ
from ..composition.relations import LARGE_ROLES, label
from ..delivered import hero_things
from ..evaluate import Picture
from ..facts.practice import BRIGHTER_THAN_HERO, CEILING_LIGHT, FROM_BEHIND, MORE_LIGHT, STEALS_FROM, UNFILLED
from ..light.at_once import UP, card_panels, ceiling_patches, from_cards, from_ceiling, from_surface, straight_lux
from ..light.forms import Caster, forms_of
from ..light.mirrors import faces_of
from ..light.rays import hidden_by
from ..light.sources import Source, sources_of
from ..light.surroundings import mean_rgb, rig_block
from ..model import Card
from ..tolerances import LIFTED_MM, NO_LIGHT_LUX
from .finding import Finding
from .kind import Kind, Rule
from .lit import LEANS, LitHero, lit_hero

FILL_KIND = Kind(
    code="light.no_fill", rank=176, severity="mend", unit="stops",
    measure="how far what lights, cards and table give to the hero's side turned to the lens stands under a key from behind", limit=UNFILLED,
    limit_note="not for those who lean to deep shadows", leaning="shadow", gives="a larger card, or a lower key, would have to give",
    makers=("fill with a card",), retouch_minutes=10,
)  # fmt: skip
ELSEWHERE_KIND = Kind(
    code="light.elsewhere", rank=188, severity="taste", unit="stops", measure="how much brighter than the hero a thing comes out under straight light",
    limit=BRIGHTER_THAN_HERO, limit_note="of large things of 0.6 % of the frame or more that the key reaches, in 0.35 stops more light than the hero's",
    gives="a darker such thing, or a place further from the light, would have to give", makers=("round the hero", "further off"),
)  # fmt: skip
SPILL_KIND = Kind(
    code="light.spill", rank=189, severity="taste", unit="stops", measure="how much more straight light than the hero the backdrop gets where the frame sees it",
    limit=BRIGHTER_THAN_HERO, gives="a backdrop further off, or a flag before it, would have to give", makers=("round the hero",),
)  # fmt: skip
CEILING_KIND = Kind(
    code="light.ceiling", rank=191, severity="taste", unit="%", measure="how much of the light on a level face at the hero the ceiling gives back",
    limit=CEILING_LIGHT, limit_note="not for those who lean to open shadows", leaning="shadow", gives="a higher or a darker ceiling would have to give",
    makers=("black overhead",),
)  # fmt: skip
_LUMINANCE = RGB_TO_XYZ[1]
#: A way that is less level than this (share of its length) comes from above, or looks down: it has no front and no back.
_LEVEL = 0.25
#: Further under the key than this, stops, walls and floor that nobody has told of give more than all that is known.
_DARKEST_STOPS = 7.0
#: A face that is seen more aslant than this (cosine) is a line: the lid of a tin at the lens's height.
_ASLANT = 0.1
#: What these show is not what falls on them.
_MIRRORING = ("glass", "metal")
#: Places of the frame where the backdrop is looked at.
_LOOKED = np.array([[u, v] for u in (0.1, 0.3, 0.5, 0.7, 0.9) for v in (0.05, 0.2, 0.35, 0.5)])


def _level(way: np.ndarray) -> np.ndarray | None:
    """(3,) unit and level, None of what is nearly upright."""
    size = float(np.linalg.norm(way[:2]))
    return None if size < _LEVEL * float(np.linalg.norm(way)) else np.array([way[0] / size, way[1] / size, 0.0])


def find(picture: Picture) -> Iterator[Finding]:
    """A key from behind without fill; a ceiling that takes the direction away."""
    lit = lit_hero(picture)
    if lit is None:
        return
    shadow = picture.scene.brief.leaning("shadow")
    if shadow <= LEANS:
        yield from _unfilled(picture, lit)
    if shadow >= -LEANS:
        yield from _ceiling(picture, lit)


def under_the_key(picture: Picture, lit: LitHero, cards: tuple[Card, ...]) -> float | None:
    """Stops that the hero's side turned to the lens stands under a key from behind, with these cards; None of another key."""
    to_lens, to_key = _level(picture.view.position - lit.place), _level(lit.to_key)
    if to_lens is None or to_key is None:
        return None
    if math.degrees(math.acos(max(-1.0, min(1.0, float(to_key @ to_lens))))) < FROM_BEHIND.value:
        return None
    sources = sources_of(picture.scene.lights, picture.scene.room)
    middle, face = picture.bodies[lit.hero].centroid[None], to_lens[None]
    fill = straight_lux(sources, middle, face) + from_cards(sources, cards, middle, face)
    lux = float((fill + from_surface(picture.scene.surface, sources, middle, face))[0])
    return min(_DARKEST_STOPS, math.log2(lit.lights[0][1] / max(lux, NO_LIGHT_LUX)))


def _unfilled(picture: Picture, lit: LitHero) -> Iterator[Finding]:
    stops = under_the_key(picture, lit, picture.scene.cards)
    if stops is not None and stops > UNFILLED.value:
        words = f"the {lit.key.id} comes from behind and the side toward the lens stands {stops:.1f} stops under it"
        yield FILL_KIND.found((lit.hero,), round(stops, 2), UNFILLED.value, words, figures=(("light", lit.key.id),))


def _ceiling(picture: Picture, lit: LitHero) -> Iterator[Finding]:
    patches = ceiling_patches(picture.scene)
    if patches is None:
        return
    sources = sources_of(picture.scene.lights, picture.scene.room)
    blocks: list[Caster] = [*card_panels(picture.scene.cards), *(rig_block(piece) for piece in picture.scene.rig)]
    start = lit.place + LIFTED_MM * UP
    given = from_ceiling(picture.scene, sources, lit.place, ~hidden_by(blocks, start, patches[0]))
    straight = float(straight_lux(sources, lit.place[None], UP[None])[0])
    share = 100 * given / max(given + straight, NO_LIGHT_LUX)
    if share > CEILING_LIGHT.value:
        words = f"the ceiling gives {share:.0f} % of the light at the hero: little direction is left"
        yield CEILING_KIND.found((), round(share, 1), CEILING_LIGHT.value, words, figures=(("light", lit.key.id),))


@dataclass(frozen=True, slots=True)
class _Bright:
    """The brighter of a thing's faces that the lens sees: its luminance up to a factor, by its mean colour, lux, and where."""

    id: str
    light: float
    lux: float
    place: np.ndarray


def find_brighter(picture: Picture) -> Iterator[Finding]:
    """The brightest thing, where that is not the hero and light makes it so; the backdrop."""
    lit = lit_hero(picture)
    if lit is None or picture.things[lit.hero].visible_share == 0 or picture.props[lit.hero].finish in _MIRRORING:
        return
    own = hero_things(picture, lit.hero)
    subject = picture.props[lit.hero].id
    twins = (i for i, prop in picture.props.items() if prop.id == subject)  # another of the same is the same subject
    beside = {*own, *_under(picture, lit.hero), *twins}
    asked = [i for i, thing in picture.things.items() if i not in beside and _is_asked(picture, i, thing.frame_area_share)]
    bright = _bright(picture, [*own, *asked], [source for source, _ in lit.lights])
    hero = max((b for b in bright if b.id in own), key=lambda b: b.light, default=None)
    if hero is None or hero.light <= 0:
        return
    for other in sorted((b for b in bright if b.id in asked and b.lux > hero.lux * 2**MORE_LIGHT.value), key=lambda b: -b.light):
        stops = math.log2(other.light / hero.light) if other.light > 0 else 0.0
        if stops <= BRIGHTER_THAN_HERO.value:
            break
        if _reached(picture, lit, other):
            words = f"{label(picture, other.id)} comes out {stops:.1f} stops brighter than the hero: the eye goes there first"
            figures = (("light", lit.key.id),)
            yield ELSEWHERE_KIND.found((other.id, lit.hero), round(stops, 2), BRIGHTER_THAN_HERO.value, words, figures=figures)
            break
    yield from _spill(picture, lit, hero.lux)


def _is_asked(picture: Picture, i: str, frame_share: float) -> bool:
    role = picture.bodies[i].placement.role
    is_large = role in LARGE_ROLES and role != "accent" and frame_share * 100 >= STEALS_FROM.value
    return is_large and picture.props[i].finish not in _MIRRORING


def _under(picture: Picture, hero: str) -> Iterator[str]:
    """What the hero stands on, and what that stands on: a white plate is no rival of what lies on it."""
    on: str | None = hero
    while on is not None and (on := picture.bodies[on].placement.on) is not None and on in picture.bodies:
        yield on


def _bright(picture: Picture, asked: list[str], sources: list[Source]) -> list[_Bright]:
    lens = picture.view.position
    every = [(i, at, normal) for i in asked for _, at, normal in faces_of(picture.bodies[i], lens)]
    faces = [face for face in every if float((lens - face[1]) @ face[2]) > _ASLANT * float(np.linalg.norm(lens - face[1]))]
    if not faces:
        return []
    places, normals = np.array([at for _, at, _ in faces]), np.array([normal for _, _, normal in faces])
    found: dict[str, _Bright] = {}
    for (i, _, _), lux, place in zip(faces, straight_lux(sources, places, normals), places + LIFTED_MM * normals, strict=True):
        if i not in found or lux > found[i].lux:
            found[i] = _Bright(i, float(lux * (mean_rgb(picture.props[i].colours) @ _LUMINANCE)), float(lux), place)
    return list(found.values())


def _reached(picture: Picture, lit: LitHero, other: _Bright) -> bool:
    """Whether the key's middle is seen from there past the other things."""
    to = lit.key.to_sun * 10_000 + other.place if lit.key.to_sun is not None else lit.key.middle
    if to is None:
        return True
    apart = {other.id, *picture.scene.carried_by(other.id)}
    return not any(
        bool(hidden_by(forms_of(body), other.place, to[None])[0])
        for i, body in picture.bodies.items()
        if i not in apart and picture.props[i].finish != "glass"
    )


def _spill(picture: Picture, lit: LitHero, hero: float) -> Iterator[Finding]:
    backdrop = picture.scene.backdrop
    if backdrop is None:
        return
    ways, lens = picture.view.rays(_LOOKED), picture.view.position
    to = ways[ways[:, 1] > 0]
    met = lens + ((backdrop.y - lens[1]) / to[:, 1:2]) * to
    seen = met[(np.abs(met[:, 0] - backdrop.x) <= backdrop.width / 2) & (met[:, 2] >= 0) & (met[:, 2] <= backdrop.height)]
    if not len(seen):
        return
    lux = straight_lux([s for s, _ in lit.lights], seen, np.tile([0.0, -1.0, 0.0], (len(seen), 1)))
    stops = math.log2(float(lux.max()) / hero) if lux.max() > 0 else 0.0
    if stops > BRIGHTER_THAN_HERO.value:
        words = f"the backdrop gets {stops:.1f} stops more light than the hero"
        yield SPILL_KIND.found((lit.hero,), round(stops, 2), BRIGHTER_THAN_HERO.value, words, figures=(("light", lit.key.id),))


RULES = (Rule(find, (FILL_KIND, CEILING_KIND), cost=1), Rule(find_brighter, (ELSEWHERE_KIND, SPILL_KIND), cost=1))
