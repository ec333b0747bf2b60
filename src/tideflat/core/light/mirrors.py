"""What a gloss or metal face shows the lens: the way the lens looks after the mirror, and what it meets there.

A ray along d that meets a face of unit normal n goes on along ``d - 2 (d . n) n``. The face that would show a place q is square to the
bisector of the ways to lens and q; turning a flat mirror by t turns what it shows by 2 t.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..facts.light import SUN_DISC
from ..model import Prop
from ..solids.body import Body, rotation
from ..tolerances import LIFTED_MM, SAME_NUMBER
from .falling import Lighting
from .rays import first_met
from .sources import Opening, Source

#: Finishes whose faces mirror.
MIRRORS: tuple[str, ...] = ("gloss", "metal")
#: The lens is met within this of its middle, mm: the front of a lens is about so wide (common practice, no source).
LENS_RADIUS_MM = 40.0
#: What never stands before sun or sky.
NEVER_SHADE: tuple[str, ...] = ("dark",)
_SUN_COSINE = math.cos(math.radians(SUN_DISC.value / 2))


@dataclass(frozen=True, slots=True)
class Mirror:
    """face: ``top``, or ``front``, the upright part that looks toward the lens. at: where it is looked at, normal: unit, its way.
    direction: unit, along which the lens looks after it. meets: the id of a light, card, thing or piece of rig, or what of the room."""

    placement: str
    face: str
    at: tuple[float, float, float]
    normal: tuple[float, float, float]
    direction: tuple[float, float, float]
    meets: str


def mirrors_of(lighting: Lighting, lens: np.ndarray) -> list[Mirror]:
    """What every gloss or metal thing shows the lens at ``lens`` (3,), at its top and where its upright side faces the lens."""
    found = []
    for placement_id, body in lighting.bodies.items():
        if lighting.props[placement_id].finish not in MIRRORS:
            continue
        for face, at, normal in faces_of(body, lens):
            if float((lens - at) @ normal) <= 0 or (face == "top" and holds_something(body, lighting.props[placement_id])):
                continue  # it is turned away, or one sees what lies in it
            way = at - lens
            direction = mirrored(way / np.linalg.norm(way), normal)
            meets = met_along(lighting, at, normal, direction, lens, but=lighting.owner("placement", placement_id))
            found.append(Mirror(placement_id, face, _plain(at), _plain(normal), _plain(direction), meets))
    return found


def holds_something(body: Body, prop: Prop) -> bool:
    """Whether what is seen in a dish is its contents: drawn, or in the picture that it wears."""
    return body.local.opening is not None and (prop.texture == "filled" or any(skin.face in ("top", "tile") for skin in prop.skins))


def mirrored(way: np.ndarray, normal: np.ndarray) -> np.ndarray:
    """(..., 3) unit ways after a mirror whose unit normals are (..., 3)."""
    return way - 2 * (way * normal).sum(axis=-1, keepdims=True) * normal  # type: ignore[no-any-return]


def faces_of(body: Body, lens: np.ndarray) -> list[tuple[str, np.ndarray, np.ndarray]]:
    """(name, place, unit normal) of the faces of a thing that are looked at."""
    p = body.placement
    up = rotation(p.turn, p.lean, p.lean_toward) @ np.array([0.0, 0.0, 1.0])
    top = body.placed_point(np.array([0.0, 0.0, body.shape.sides()[2]]))
    if len(body.spheres):
        ball = body.spheres[int(np.argmax(body.spheres[:, 2] + body.spheres[:, 3]))]
        up, top = np.array([0.0, 0.0, 1.0]), ball[:3] + np.array([0.0, 0.0, ball[3]])
    elif body.local.opening is not None and body.shape.floor_mm is not None:
        top = body.placed_point(np.array([0.0, 0.0, body.shape.floor_mm]))
    found = [("top", top, up)]
    front = _front_of(body, lens, up)
    return found if front is None else [*found, ("front", *front)]


def _front_of(body: Body, lens: np.ndarray, up: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
    """Where the side of a thing looks most toward the lens: of what is round, the place under the lens's way; of a ball, the place nearest
    to the lens; of what has flat sides, the middle of the side that looks that way."""
    if len(body.spheres) == 1:
        centre, radius = body.spheres[0, :3], body.spheres[0, 3]
        way = (lens - centre) / np.linalg.norm(lens - centre)
        return centre + radius * way, way
    if len(body.circles) >= 2:
        return _wall_of(body, lens, up)
    if body.local.outline is None and body.parts and len(body.parts[0]) == 8:
        return _side_of(body, lens)
    return None


def _wall_of(body: Body, lens: np.ndarray, up: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
    """At the middle of the tallest stretch of a turned thing's profile."""
    circles = body.circles
    heights = (circles[:, 0] - circles[0, 0]) @ up
    k = int(np.argmax(np.diff(heights)))
    low, high = circles[k], circles[k + 1]
    middle = (low[0] + high[0]) / 2
    level = (lens - middle) - ((lens - middle) @ up) * up
    size = float(np.linalg.norm(level))
    if size < SAME_NUMBER:
        return None
    if abs(np.linalg.norm(low[1]) - np.linalg.norm(low[2])) > LIFTED_MM:
        return None  # an oval shows another face to every way
    out = level / size
    radii = float(np.linalg.norm(low[1])), float(np.linalg.norm(high[1]))
    rise = float(heights[k + 1] - heights[k])
    normal = out * rise - up * (radii[1] - radii[0])
    return middle + sum(radii) / 2 * out, normal / np.linalg.norm(normal)


def _side_of(body: Body, lens: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    wide, deep, high = body.shape.sides()
    middles = np.array([[0, -deep / 2, high / 2], [wide / 2, 0, high / 2], [0, deep / 2, high / 2], [-wide / 2, 0, high / 2]])
    ways = np.array([[0.0, -1, 0], [1, 0, 0], [0, 1, 0], [-1, 0, 0]]) @ body.turned.T
    places = body.placed_point(middles)
    to_lens = lens - places
    k = int(np.argmax((ways * to_lens).sum(axis=1) / np.linalg.norm(to_lens, axis=1)))
    return places[k], ways[k]


def met_along(
    lighting: Lighting, at: np.ndarray, normal: np.ndarray, direction: np.ndarray, lens: np.ndarray, *, but: frozenset[int]
) -> str:
    """What a ray from a face meets first: the id of a light, card, thing or piece of rig, else what of the room, ``lens`` or ``dark``."""
    start = at + LIFTED_MM * normal
    met = first_met(lighting.casters, start[None], direction[None], but=but)
    far = float(met.far[0])
    kind, name = lighting.casters.owners[int(met.owner[0])] if met.owner[0] >= 0 else ("dark", "dark")
    meets = name if kind in ("placement", "card", "rig", "light") else kind
    for source in lighting.sources:
        at_source = float(far_to_source(source, start[None], direction[None])[0])
        if at_source <= far + 2 * LIFTED_MM and math.isfinite(at_source):
            far, meets = at_source, source.id
    if meets in NEVER_SHADE:
        meets = _sky_along(lighting, start, direction) or meets
    to_lens = lens - start
    along = float(to_lens @ direction)
    if 0 < along < far and float(np.linalg.norm(to_lens - along * direction)) <= LENS_RADIUS_MM:
        meets = "lens"
    return meets


def _sky_along(lighting: Lighting, start: np.ndarray, direction: np.ndarray) -> str | None:
    """The sun, or the even sky of the room, where a ray goes on to it."""
    sky = None
    for source in lighting.sources:
        if source.sky_lux and direction[2] > 0:
            sky = source.id
        if source.to_sun is not None and source.sun_lux > 0 and float(direction @ source.to_sun) >= _SUN_COSINE:
            if source.opening is None or source.opening.passes(start[None], direction)[0]:
                return source.id
    return sky


def far_to_source(source: Source, starts: np.ndarray, ways: np.ndarray) -> np.ndarray:
    """(n,) mm along unit ways (n, 3) from starts (n, 3) to a light's face, seen from its front; infinite where it is not met. The sun lies
    further than anything."""
    far, off = off_source(source, starts, ways)
    return np.where(off <= 0, far, np.inf)


def off_source(source: Source, starts: np.ndarray, ways: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """((n,) mm to the plane of a light's face, seen from its front; (n,) how far beside the face it is met, in half-sides, -1 in its middle
    and 0 at its edge), infinite where the plane is not met."""
    nowhere = np.full(len(starts), np.inf)
    if source.outline is None:
        return nowhere, nowhere
    outline = source.outline
    out = source.faces[0].out
    along, upward = outline[1] - outline[0], outline[-1] - outline[0]
    if len(outline) == 4:
        face = Opening(outline.mean(axis=0), along / 2, upward / 2, False)
    else:
        middle, quarter = outline.mean(axis=0), len(outline) // 4
        face = Opening(middle, outline[0] - middle, outline[quarter] - middle, True)
    slope = ways @ out
    far = ((outline[0] - starts) @ out) / np.where(slope < 0, slope, 1.0)
    is_met = (slope < 0) & (far > 0)
    return np.where(is_met, far, np.inf), np.where(is_met, face.off(starts + np.where(is_met, far, 0.0)[:, None] * ways), np.inf)


def _plain(vector: np.ndarray) -> tuple[float, float, float]:
    x, y, z = (float(v) for v in vector)
    return x, y, z
