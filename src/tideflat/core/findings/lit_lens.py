"""What of the lights the lens itself gets: a light that shines into it, and metal or gloss that mirrors none."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from ..composition.relations import LARGE_ROLES, label
from ..evaluate import Picture
from ..facts.optics import Fact
from ..facts.practice import INTO_LENS, STEALS_FROM
from ..light.at_once import card_panels
from ..light.forms import Caster, Panel, forms_of
from ..light.lit_face import LitFace, samples_of
from ..light.mirrors import MIRRORS, faces_of, holds_something, mirrored
from ..light.rays import hidden_by
from ..light.sources import Source, sources_of
from ..light.surroundings import card_strips, rig_block
from ..solids.body import Body
from ..tolerances import LIFTED_MM, PARALLEL
from .finding import Finding
from .kind import Kind, Rule

GLARE_KIND = Kind(
    code="light.glare", rank=177, severity="taste", unit="degrees", measure="how far beside the frame a light stands that shines into the lens",
    limit=INTO_LENS, limit_note="below nothing where it stands in the frame", gives="another place for the light or the camera would have to give",
    makers=("keep it off the lens",), retouch_minutes=15,
)  # fmt: skip
DULL_KIND = Kind(
    code="light.dull", rank=192, severity="taste", unit="degrees", measure="how far a flat of metal, or the hero's gloss, would have to tilt to mirror a light or a bright card",
    limit=Fact(0, "degrees", "geometry"), limit_note="of flats of 0.6 % of the frame or more that lead, support or accent",
    gives="another place for the camera, or a larger light, would have to give", makers=("a light where it mirrors",),
)  # fmt: skip
#: Parts of a light that are looked at, a side.
_SIDE = 4
#: A thing this much flatter than it is wide shows its top and little else.
_FLAT = 0.35
#: Half of a way across a flat: places of it that are looked at besides its middle.
_ACROSS = 0.35
_BRIGHT_CARDS = ("white", "silver", "gold", "tint")


def _casters(picture: Picture, but: frozenset[str] = frozenset()) -> list[Caster]:
    """What hides a light: things that are not of glass, cards, rig, the backdrop."""
    found: list[Caster] = [
        form for i, body in picture.bodies.items() if i not in but and picture.props[i].finish != "glass" for form in forms_of(body)
    ]
    found += [*card_panels(picture.scene.cards), *(rig_block(piece) for piece in picture.scene.rig)]
    backdrop = picture.scene.backdrop
    if backdrop is not None:
        half = np.array([backdrop.width / 2, 0, 0]), np.array([0, 0, backdrop.height / 2])
        found.append(Panel(np.array([backdrop.x, backdrop.y, backdrop.height / 2]), *half, 1, 1, -1, -1, True))
    return found


def find_glare(picture: Picture) -> Iterator[Finding]:
    """The light that shines into the lens from nearest to the frame."""
    if not picture.scene.lights:
        return
    lens = picture.view.position
    nearest: tuple[float, str] | None = None
    hiding: list[Caster] | None = None
    for source in sources_of(picture.scene.lights, picture.scene.room):
        places = _shining(source, lens)
        off = _beside_frame(picture, places)
        near = off < INTO_LENS.value
        if not near.any() or (nearest is not None and off.min() >= nearest[0]):
            continue
        hiding = _casters(picture) if hiding is None else hiding
        free = ~hidden_by(hiding, lens, places[near])
        if free.any():
            worst = float(off[near][free].min())
            nearest = (worst, source.id) if nearest is None or worst < nearest[0] else nearest
    if nearest is not None:
        words = f"the {nearest[1]} shines into the lens from {nearest[0]:.0f} degrees beside the frame"
        yield GLARE_KIND.found((), round(nearest[0], 1), INTO_LENS.value, words, figures=(("light", nearest[1]),))


def _shining(source: Source, lens: np.ndarray) -> np.ndarray:
    """(n, 3) places of a light that the lens stands before."""
    if source.to_sun is not None:
        place = lens + 100_000 * source.to_sun
        passes = source.sun_lux > 0 and (source.opening is None or bool(source.opening.passes(lens[None], source.to_sun)[0]))
        return place[None] if passes else np.empty((0, 3))
    if not source.faces:
        return np.empty((0, 3))
    one = len(source.faces) == 1
    places = np.concatenate([samples_of(face, _SIDE if one else 1) for face in source.faces])
    face = source.faces[0]
    way = lens - places
    before = way @ face.out
    if face.cosine is not None and one:
        before = np.where(before >= face.cosine * np.linalg.norm(way, axis=1), before, -1.0)
    return places[before > 0]  # type: ignore[no-any-return]


def _beside_frame(picture: Picture, places: np.ndarray) -> np.ndarray:
    """(n,) degrees between the ways to places (n, 3) and the nearest way that the frame sees; negative inside it, by how much."""
    view = picture.view
    seen = view.straight(places)
    before = seen[:, 2] > PARALLEL
    uv = seen[:, :2]
    clipped = np.clip(uv, 0.0, 1.0)
    inside = (uv == clipped).all(axis=1)
    # Of what stands in the frame, to its nearest edge.
    edges = np.stack([uv[:, 0], 1 - uv[:, 0], uv[:, 1], 1 - uv[:, 1]], axis=1)
    side = edges.argmin(axis=1)
    to_edge = clipped.copy()
    for k, (axis, end) in enumerate(((0, 0.0), (0, 1.0), (1, 0.0), (1, 1.0))):
        to_edge[inside & (side == k), axis] = end
    a, b = view.straight_rays(uv), view.straight_rays(to_edge)
    cosine = (a * b).sum(axis=1) / np.linalg.norm(a, axis=1) / np.linalg.norm(b, axis=1)
    off = np.degrees(np.arccos(np.clip(cosine, -1, 1)))
    return np.where(before, np.where(inside, -off, off), 180.0)  # type: ignore[no-any-return]


def find_dull(picture: Picture) -> Iterator[Finding]:
    """Flats of metal, and a hero of gloss that is flat, in which no light and no bright card is mirrored."""
    if not picture.scene.lights:
        return
    lens, bright = picture.view.position, _bright_faces(picture)
    if not bright:
        return
    heroes = picture.hero_ids()
    for i, body in picture.bodies.items():
        prop = picture.props[i]
        is_asked = (prop.finish == "metal" and body.placement.role in LARGE_ROLES) or (prop.finish in MIRRORS and i in heroes)
        if (
            not is_asked
            or picture.things[i].frame_area_share * 100 < STEALS_FROM.value
            or not _is_flat(body)
            or holds_something(body, prop)
        ):
            continue
        at, normal = next((at, normal) for name, at, normal in faces_of(body, lens) if name == "top")
        if float((lens - at) @ normal) <= 0 or _mirrors_one(picture, body, normal, bright):
            continue
        tilts = {name: _tilt(at, normal, lens, face.middle) for name, face in bright}
        nearest = min(tilts, key=lambda name: tilts[name])
        words = f"{label(picture, i)} mirrors no light and no bright card; the {nearest} is {tilts[nearest]:.0f} degrees of tilt away"
        yield DULL_KIND.found((i,), round(max(tilts[nearest], 0.1), 1), 0, words, figures=(("light", nearest),))


def _bright_faces(picture: Picture) -> list[tuple[str, LitFace]]:
    found = [(s.id, face) for s in sources_of(picture.scene.lights, picture.scene.room) for face in s.faces]
    for card in picture.scene.cards:
        if card.kind not in _BRIGHT_CARDS:
            continue
        for middle, along, upward in card_strips(card):
            corners = np.array([middle + a * along + b * upward for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
            out = np.cross(along, upward)
            found += [
                (card.id, LitFace(corners, out / np.linalg.norm(out), 1.0)),
                (card.id, LitFace(corners[::-1], -out / np.linalg.norm(out), 1.0)),
            ]
    return found


def _is_flat(body: Body) -> bool:
    wide, deep, high = body.shape.sides()
    return not len(body.spheres) and high <= _FLAT * max(wide, deep)


def _mirrors_one(picture: Picture, body: Body, normal: np.ndarray, bright: list[tuple[str, LitFace]]) -> bool:
    """Whether from the middle of a flat, or from a place across it, the lens sees a light or a bright card in it."""
    lens = picture.view.position
    wide, deep, high = body.shape.sides()
    steps = np.array([[0, 0], [_ACROSS, 0], [-_ACROSS, 0], [0, _ACROSS], [0, -_ACROSS]]) * [wide, deep]
    places = body.placed_point(np.column_stack([steps, np.full(len(steps), high)])) + LIFTED_MM * normal
    ways = places - lens
    on = mirrored(ways / np.linalg.norm(ways, axis=1, keepdims=True), normal)
    hiding = _casters(picture, frozenset((body.id,)))
    for _, face in bright:
        slope = on @ face.out
        far = np.where(slope < -PARALLEL, ((face.middle - places) @ face.out) / np.where(slope < -PARALLEL, slope, -1.0), -1.0)
        met = places + far[:, None] * on
        edges = np.roll(face.polygon, -1, axis=0) - face.polygon
        sides = np.stack([np.cross(edge, met - corner) @ face.out for corner, edge in zip(face.polygon, edges, strict=True)])
        for k in np.nonzero((far > 0) & (sides >= 0).all(axis=0))[0]:
            before = met[k] - LIFTED_MM * on[k] * 2
            if not hidden_by(hiding, places[k], before[None])[0]:
                return True
    return False


def _tilt(at: np.ndarray, normal: np.ndarray, lens: np.ndarray, place: np.ndarray) -> float:
    """Degrees between a face's normal and the bisector of the ways to the lens and to a place."""
    ways = [(p - at) / np.linalg.norm(p - at) for p in (lens, place)]
    bisector = ways[0] + ways[1]
    size = float(np.linalg.norm(bisector))
    return 90.0 if size < PARALLEL else math.degrees(math.acos(max(-1.0, min(1.0, float(bisector @ normal) / size))))


RULES = (Rule(find_glare, (GLARE_KIND,), cost=1), Rule(find_dull, (DULL_KIND,), cost=1))
