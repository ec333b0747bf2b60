"""The light of a set-up, as far as it can be judged while a hand moves: where the key comes from, what stands in its way, what of it is
in the picture. Judged only where lights are decided."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from ..camera.crops import FULL_FRAME
from ..composition.relations import label
from ..evaluate import Picture
from ..facts.optics import BACK_PLATE_BEHIND_SENSOR, BACK_PLATE_WIDTH, Fact
from ..facts.practice import FALLOFF, FLAT_LIGHT, HARSH_LIGHT, MIXED_LIGHT, MIXED_SHARE, SHADED_HERO
from ..light.at_once import straight_lux
from ..light.forms import forms_of
from ..light.lit_face import samples_of, unhindered
from ..light.rays import hidden_by
from ..light.readings import UP, highest_point, softness_deg
from ..light.sources import Source, outline_of, sources_of
from ..light.surroundings import card_strips, rig_corners
from ..model import Faced, Lamp, Light, Window
from ..plane.hull import hull_of
from ..tolerances import LIFTED_MM, NEAR_DEPTH_MM, SEEN_AREA
from .finding import Finding
from .kind import Kind, Rule

FLAT_KIND = Kind(
    code="light.flat", rank=181, severity="mend", unit="degrees", measure="angle at the hero between the ways to key and lens",
    limit=FLAT_LIGHT, gives="another key, or another place for the camera, would have to give", makers=("round the hero",),
)  # fmt: skip
SHADED_KIND = Kind(
    code="light.shaded", rank=182, severity="mend", unit="%", measure="how much of the key another thing hides from the hero's top",
    limit=SHADED_HERO, gives="what throws the shadow would have to give", makers=("round the hero", "raise the light"),
)  # fmt: skip
CAMERA_KIND = Kind(
    code="light.camera_shadow", rank=183, severity="mend", unit="mm", measure="how near the way from hero to key passes the camera's axis",
    limit=Fact(BACK_PLATE_WIDTH.value / 2, "mm", BACK_PLATE_WIDTH.source), gives="another place for the key or the camera would have to give",
    makers=("round the hero",),
)  # fmt: skip
SEEN_KIND = Kind(
    code="light.in_picture", rank=184, severity="mend", unit="% of the frame", measure="how much of the frame a lamp, card or stand fills",
    limit=Fact(0, "%", "geometry"), gives="a tighter frame would have to give", makers=("out of the picture",), retouch_minutes=10,
)  # fmt: skip
MIXED_KIND = Kind(
    code="light.mixed", rank=185, severity="mend", unit="mired", measure="how far the warmest and the coolest light that count are apart",
    limit=MIXED_LIGHT, limit_note="of lights that give at least 12 % of what comes straight to the hero",
    gives="one of the lights would have to give", makers=("one warmth",), retouch_minutes=15,
)  # fmt: skip
FALLOFF_KIND = Kind(
    code="light.falloff", rank=186, severity="taste", unit="stops", measure="brightest against darkest over the things' feet", limit=FALLOFF,
    limit_note="not for those who lean to deep shadows", leaning="shadow", gives="a larger room would have to give", makers=("further off",),
)  # fmt: skip
HARSH_KIND = Kind(
    code="light.harsh", rank=187, severity="taste", unit="degrees", measure="how wide the key looks from the hero", limit=HARSH_LIGHT,
    limit_note="only for those who lean to open shadows", leaning="shadow", gives="a larger light would have to give", makers=("softer",),
)  # fmt: skip
#: Parts of a key that are looked at, a side; places a side over which falloff is read.
_SIDE, _FALL = 5, 7
#: A leaning counts from here on.
LEANS = 0.25


@dataclass(frozen=True, eq=False)
class LitHero:
    """The hero's top, the lights that are on with what each gives there square to its way and unhindered, the strongest first."""

    hero: str
    place: np.ndarray
    lights: tuple[tuple[Source, float], ...]

    @property
    def key(self) -> Source:
        return self.lights[0][0]

    @property
    def to_key(self) -> np.ndarray:
        """(3,) the way to it, mm; of the sun unit."""
        key = self.key
        return key.to_sun if key.to_sun is not None else (self.place if key.middle is None else key.middle) - self.place


def lit_hero(picture: Picture) -> LitHero | None:
    """None where no light is decided or comes there, or there is no hero."""
    heroes = picture.hero_ids()
    if not picture.scene.lights or not heroes or heroes[0] not in picture.bodies:
        return None
    place = highest_point(picture.bodies[heroes[0]])
    found = []
    for source in sources_of(picture.scene.lights, picture.scene.room):
        lux = _square_lux(source, place)
        if lux > 0:
            found.append((source, lux))
    return LitHero(heroes[0], place, tuple(sorted(found, key=lambda f: -f[1]))) if found else None


def _square_lux(source: Source, place: np.ndarray) -> float:
    if source.to_sun is not None:
        return source.sun_lux
    if source.middle is None:
        return 0.0
    way = source.middle - place
    size = float(np.linalg.norm(way))
    if size == 0:
        return 0.0
    return float(straight_lux([source], place[None], (way / size)[None])[0])


def find(picture: Picture) -> Iterator[Finding]:
    """From the front, shaded, behind the camera, mixed, harsh."""
    lit = lit_hero(picture)
    if lit is None:
        return
    to_key = lit.to_key
    to_lens = picture.view.position - lit.place
    angle = math.degrees(math.acos(max(-1.0, min(1.0, float(to_key @ to_lens / np.linalg.norm(to_key) / np.linalg.norm(to_lens))))))
    figures = (("light", lit.key.id),)
    if angle < FLAT_LIGHT.value:
        words = f"the {lit.key.id} comes from {angle:.0f} degrees beside the lens: light from the front is flat"
        yield FLAT_KIND.found((lit.hero,), round(angle, 1), FLAT_LIGHT.value, words, figures=figures)
    yield from _shaded(picture, lit)
    yield from _behind_camera(picture, lit, to_key)
    yield from _mixed(lit)
    soft = softness_deg(lit.key, lit.place)
    if picture.scene.brief.leaning("shadow") < -LEANS and soft is not None and soft < HARSH_LIGHT.value:
        words = f"the {lit.key.id} looks {soft:.1f} degrees wide from the hero: its shadows have edges"
        yield HARSH_KIND.found((), round(soft, 1), HARSH_LIGHT.value, words, figures=figures)


def _shaded(picture: Picture, lit: LitHero) -> Iterator[Finding]:
    """The thing that hides most of the key, if that is much. What lies on the hero, or under it, does not count."""
    key = lit.key
    start = lit.place + LIFTED_MM * UP
    places = (
        start + np.atleast_2d(key.to_sun) * 10_000
        if key.to_sun is not None
        else np.concatenate([samples_of(f, _SIDE if len(key.faces) == 1 else 1) for f in key.faces])
    )
    places = places[places[:, 2] > start[2]]
    if not len(places):
        return
    apart = {lit.hero, *picture.scene.carried_by(lit.hero)}
    worst, most = "", 0.0
    for placement_id, body in picture.bodies.items():
        if placement_id in apart or body.z_max <= lit.place[2] or picture.props[placement_id].finish == "glass":
            continue
        share = float(hidden_by(forms_of(body), start, places).mean())
        if share > most:
            worst, most = placement_id, share
    if 100 * most > SHADED_HERO.value:
        words = f"{label(picture, worst)} hides {most:.0%} of the {key.id} from {label(picture, lit.hero)}"
        yield SHADED_KIND.found((worst, lit.hero), round(100 * most, 1), SHADED_HERO.value, words, figures=(("light", key.id),))


def _behind_camera(picture: Picture, lit: LitHero, to_key: np.ndarray) -> Iterator[Finding]:
    """The body as a rod along the axis from the pupil back: how near the way from hero to key passes it."""
    view = picture.view
    length = view.principal_distance + BACK_PLATE_BEHIND_SENSOR.value
    steps = np.linspace(0.0, 1.0, 12)[:, None]
    body = view.position - steps * length * view.forward
    way = to_key / np.linalg.norm(to_key)
    along = (body - lit.place) @ way
    far = np.inf if lit.key.to_sun is not None else float(np.linalg.norm(to_key))
    off = np.linalg.norm(body - lit.place - along[:, None] * way, axis=1)
    near = off[(along > 0) & (along < far)]
    limit = CAMERA_KIND.limit.value
    if len(near) and near.min() < limit:
        words = f"the camera stands between the {lit.key.id} and the hero: its shadow falls there"
        yield CAMERA_KIND.found((lit.hero,), round(float(near.min()), 1), limit, words, figures=(("light", lit.key.id),))


def _mixed(lit: LitHero) -> Iterator[Finding]:
    total = sum(lux for _, lux in lit.lights)
    count = [source for source, lux in lit.lights if lux >= MIXED_SHARE.value * total]
    if len(count) < 2:
        return
    mired = [1e6 / kelvin_of(source) for source in count]
    apart = max(mired) - min(mired)
    if apart > MIXED_LIGHT.value:
        warm, cool = count[int(np.argmax(mired))], count[int(np.argmin(mired))]
        words = f"the {warm.id} is warm and the {cool.id} cool: {1e6 / max(mired):.0f} against {1e6 / min(mired):.0f} K"
        figures = (
            ("light", lit.key.id),
            ("other", warm.id if warm is not lit.key else cool.id),
            ("warm", round(1e6 / max(mired))),
            ("cool", round(1e6 / min(mired))),
        )
        yield MIXED_KIND.found((), round(apart, 1), MIXED_LIGHT.value, words, figures=figures)


def kelvin_of(source: Source) -> float:
    """The temperature of one light, its filter with it."""
    from ..light.planckian import kelvin_of_rgb

    return kelvin_of_rgb(source.rgb) or 5500.0


def find_falloff(picture: Picture) -> Iterator[Finding]:
    """Straight from the lights, over the hull of the feet."""
    if not picture.scene.lights or not picture.bodies or picture.scene.brief.leaning("shadow") > LEANS:
        return
    feet = [np.array(b.footprint_hull.exterior.coords) for b in picture.bodies.values() if b.footprint_hull.geom_type == "Polygon"]
    if not feet:
        return
    hull = hull_of(np.concatenate(feet))
    x0, y0, x1, y1 = hull.bounds
    grid = np.stack(np.meshgrid(np.linspace(x0, x1, _FALL), np.linspace(y0, y1, _FALL)), axis=-1).reshape(-1, 2)
    rim = shapely.get_coordinates(hull)[:-1][:: max(1, len(hull.exterior.coords) // 24)]
    flat = np.concatenate([grid[shapely.intersects_xy(hull, grid[:, 0], grid[:, 1])], rim])
    points, normals = np.column_stack([flat, np.zeros(len(flat))]), np.tile(UP, (len(flat), 1))
    lux = np.zeros(len(points))
    strongest, most = "", 0.0
    for source in sources_of(picture.scene.lights, picture.scene.room):
        own = sum((unhindered(points, normals, face, 4) for face in source.faces), np.full(len(points), source.sky_lux))
        if source.to_sun is not None:
            own = own + source.sun_lux * max(0.0, float(source.to_sun[2]))
        lux += own
        if source.faces and own.max() > most:
            strongest, most = source.id, float(own.max())
    if lux.min() > 0 and strongest and (stops := math.log2(lux.max() / lux.min())) > FALLOFF.value:
        words = f"the light falls off by {stops:.1f} stops over the set"
        yield FALLOFF_KIND.found((), round(stops, 2), FALLOFF.value, words, figures=(("light", strongest),))


def find_seen(picture: Picture) -> Iterator[Finding]:
    """Lamps, windows, cards and rig that the frame sees. What stands behind the backdrop it does not."""
    for key, item_id, corners in standing(picture):
        backdrop = picture.scene.backdrop
        if backdrop is not None and corners[:, 1].min() > backdrop.y:
            continue
        seen = picture.view.straight(corners)
        if (seen[:, 2] <= NEAR_DEPTH_MM).any():
            continue
        area = hull_of(seen[:, :2]).intersection(shapely.box(*FULL_FRAME)).area
        if area > SEEN_AREA:
            words = f"the {item_id} stands in the picture, over {area:.1%} of it"
            yield SEEN_KIND.found((), round(100 * area, 2), 0, words, figures=(("light", item_id), ("list", key)))


def standing(picture: Picture) -> Iterator[tuple[str, str, np.ndarray]]:
    """(list in the document, id, (n, 3) corners) of lamps, windows, cards and rig."""
    scene = picture.scene
    for light in scene.lights:
        if isinstance(light, Window | Lamp):
            yield "lights", light.id, outline_of(light)
    for card in scene.cards:
        strips = card_strips(card)
        yield "cards", card.id, np.concatenate([[m + a * along + b * up for a in (-1, 1) for b in (-1, 1)] for m, along, up in strips])
    for piece in scene.rig:
        yield "rig", piece.id, rig_corners(piece)


def light_in(picture: Picture, light_id: str) -> Light | None:
    """The light of the set-up with this id."""
    return next((light for light in picture.scene.lights if light.id == light_id), None)


def faced_in(picture: Picture, light_id: str) -> Faced | None:
    """The same, if it stands somewhere."""
    found = light_in(picture, light_id)
    return found if isinstance(found, Faced) else None


RULES = (
    Rule(find, (FLAT_KIND, SHADED_KIND, CAMERA_KIND, MIXED_KIND, HARSH_KIND), cost=1),
    Rule(find_seen, (SEEN_KIND,)),
    Rule(find_falloff, (FALLOFF_KIND,), cost=1),
)
