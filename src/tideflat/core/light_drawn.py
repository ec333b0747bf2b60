"""The light of a set-up as both views draw it: pictures that lie over what is drawn in its own colours, brighter or darker and tinted.

1 is the light that the picture is exposed for (light/exposing.py): there, a colour is seen as it is in the hand.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np

from .colour.shoulder import rolled
from .evaluate import Picture
from .light.exposing import reference_light, subject_of
from .light.falling import LUMINANCE, Lighting
from .light.on_surface import Part, surface_light
from .light.on_things import Seen, ThingsLit, backdrop_light, things_light, things_seen
from .light.surroundings import mean_rgb
from .lit import lighting_of, lit_picture, worn_colours

#: Places across the table and the frame where things are looked at, across the surface, and across what the frame sees behind things.
THINGS_ACROSS, THINGS_IN_FRAME, SURFACE_ACROSS, FRAME_ACROSS = 150, 190, 300, 360
#: The frame looks at a part of the surface by itself where that is less than this share of it; places of its edge that are asked.
_LITTLE, _EDGE_LOOKED = 0.3, 24
#: The wall behind everything, where nothing is known of it, has this share of the light at the subject.
_WALL_SHARE = 0.5


@dataclass(frozen=True, eq=False, slots=True)
class DrawnLight:
    """Shares of the light that is exposed for, (h, w, 3), first row on top; of the things with where they are, (h, w). surface: over the
    surface; frame_ground: over the frame, what lies under and behind the things; table_things over the bounds ``table_box`` (x0, y0, x1,
    y1, mm). exposed: (3,) linear lux, what 1 stands for."""

    surface: np.ndarray
    table_things: ThingsLit
    table_box: tuple[float, float, float, float]
    frame_ground: np.ndarray
    frame_things: ThingsLit
    exposed: np.ndarray


def light_drawn(
    picture: Picture,
    *,
    share: float = 1.0,
    before: Lighting | None = None,
    earlier: Lighting | None = None,
    worn: Mapping[str, np.ndarray] | None = None,
) -> tuple[DrawnLight, Lighting]:
    """The light of the picture, of the usual window where none is decided, and what it was worked out with. share: of the places that are
    looked at, for a quick look. before: of the same things and cards, or nearly. earlier: else, what it was before things
    were moved. worn: as lit.py's
    ``worn_colours``, where the picture has no skins."""
    lit = lit_picture(picture)
    lighting = lighting_of(lit, worn_colours(lit) if worn is None else worn)
    if before is not None:
        lighting.knowing(before)
    elif earlier is not None:
        lighting.following(earlier)
    heroes = lit.hero_ids()
    subject = subject_of(lighting, heroes[0] if heroes else None, np.array(lit.setup.camera.aim), lit.view.position)
    exposed = reference_light(lighting, subject, quick=share < 1)
    side = 6 if share == 1 else 4
    over = surface_light(lighting, surface_size(lighting, share), side=side) / exposed
    box = table_box(lit)
    things = _scaled(things_light(lighting, seen_from_above(lighting, box, round(THINGS_ACROSS * share))), exposed)
    frame_things = _scaled(things_light(lighting, seen_through_lens(lighting, lit, round(THINGS_IN_FRAME * share))), exposed)
    over = shouldered(over, mean_rgb(lit.scene.surface.colours))
    near = None
    if (part := near_part(lit)) is not None:
        size = part_size(part, share)
        near = part, shouldered(surface_light(lighting, size, side=side, part=part) / exposed, mean_rgb(lit.scene.surface.colours))
    return DrawnLight(over, things, box, _behind(lighting, lit, over, exposed, near), frame_things, exposed), lighting


def near_part(picture: Picture) -> Part | None:
    """The part of the surface that the frame sees, where that is little of it: shadows are then drawn there by themselves, as finely as the
    frame shows them."""
    surface, view = picture.scene.surface, picture.view
    ways = _rays(picture, _EDGE_LOOKED)
    ways = np.concatenate([ways[0], ways[-1], ways[:, 0], ways[:, -1]])
    if (ways[:, 2] >= 0).any():
        return None
    met = view.position[:2] - view.position[2] / ways[:, 2:] * ways[:, :2]
    (x0, y0), (x1, y1) = np.maximum(met.min(axis=0), 0.0), np.minimum(met.max(axis=0), (surface.width, surface.depth))
    if x1 <= x0 or y1 <= y0 or (x1 - x0) * (y1 - y0) > _LITTLE * surface.width * surface.depth:
        return None
    return float(x0), float(y0), float(x1), float(y1)


def part_size(part: Part, share: float = 1.0) -> tuple[int, int]:
    """(across, down) of the picture over a part of the surface."""
    x0, y0, x1, y1 = part
    scale = share * FRAME_ACROSS / max(x1 - x0, y1 - y0)
    return max(2, round(scale * (x1 - x0))), max(2, round(scale * (y1 - y0)))


def surface_size(lighting: Lighting, share: float = 1.0) -> tuple[int, int]:
    """(across, down) of the picture over the surface."""
    surface, across = lighting.scene.surface, round(SURFACE_ACROSS * share)
    return across, max(2, round(across * surface.depth / surface.width))


def _scaled(lit: ThingsLit, exposed: np.ndarray) -> ThingsLit:
    return ThingsLit(shouldered(lit.light / exposed, lit.colour), lit.there, lit.colour)


def shouldered(shares: np.ndarray, colour: np.ndarray) -> np.ndarray:
    """Shares of light on a colour, so that what is over white comes to it as gently as in a proof."""
    floor = np.maximum(colour, 1 / 255)
    return rolled(shares * floor) / floor  # type: ignore[no-any-return]


def table_box(picture: Picture) -> tuple[float, float, float, float]:
    """x0, y0, x1, y1, mm: of the surface and all that stands on it."""
    surface = picture.scene.surface
    bounds = [body.footprint_bounds for body in picture.bodies.values()]
    x0, y0 = (min([0.0, *(b[k] for b in bounds)]) for k in (0, 1))
    x1, y1 = (max([side, *(b[k] for b in bounds)]) for k, side in ((2, surface.width), (3, surface.depth)))
    return x0, y0, x1, y1


def seen_from_above(lighting: Lighting, box: tuple[float, float, float, float], across: int) -> Seen:
    """The things in so many places across the box."""
    x0, y0, x1, y1 = box
    down = max(2, round(across * (y1 - y0) / (x1 - x0)))
    high = max([body.z_max for body in lighting.bodies.values()], default=0.0) + 10
    x, y = x0 + (np.arange(across) + 0.5) / across * (x1 - x0), y1 - (np.arange(down) + 0.5) / down * (y1 - y0)
    gx, gy = np.meshgrid(x, y)
    starts = np.stack([gx, gy, np.full(gx.shape, high)], axis=-1)
    return things_seen(lighting, starts, np.broadcast_to(np.array([0.0, 0, -1]), starts.shape), "from above")


def _rays(picture: Picture, across: int) -> np.ndarray:
    """(h, w, 3) unit ways through even places of the frame."""
    view = picture.view
    down = max(2, round(across / view.aspect))
    u, v = np.meshgrid((np.arange(across) + 0.5) / across, (np.arange(down) + 0.5) / down)
    ways = view.rays(np.column_stack([u.ravel(), v.ravel()]))
    return (ways / np.linalg.norm(ways, axis=1, keepdims=True)).reshape(down, across, 3)  # type: ignore[no-any-return]


def seen_through_lens(lighting: Lighting, picture: Picture, across: int) -> Seen:
    """The things in so many places across the frame."""
    ways = _rays(picture, across)
    return things_seen(lighting, np.broadcast_to(picture.view.position, ways.shape), ways, f"through lens {picture.setup.camera}")


def _behind(
    lighting: Lighting, picture: Picture, over: np.ndarray, exposed: np.ndarray, near: tuple[Part, np.ndarray] | None
) -> np.ndarray:
    """(h, w, 3) what the frame sees of surface, backdrop and wall, by where each ray meets them. near: a part of the surface, more finely."""
    ways = _rays(picture, FRAME_ACROSS)
    lens = picture.view.position
    surface, backdrop = picture.scene.surface, picture.scene.backdrop
    found = np.full(ways.shape, _WALL_SHARE * float(np.median(over @ LUMINANCE)) + 0.0)
    behind = backdrop_light(lighting, 24, 16)
    if backdrop is not None and behind is not None:
        far = (backdrop.y - lens[1]) / np.where(ways[..., 1] > 0, ways[..., 1], np.nan)
        x, z = lens[0] + far * ways[..., 0], lens[2] + far * ways[..., 2]
        u, v = (x - backdrop.x) / backdrop.width + 0.5, 1 - z / backdrop.height
        _lay(found, (behind / exposed).astype(np.float32), u, v)
    down = np.where(ways[..., 2] < 0, ways[..., 2], np.nan)
    far = -lens[2] / down
    x, y = lens[0] + far * ways[..., 0], lens[1] + far * ways[..., 1]
    before = y <= backdrop.y if backdrop is not None else np.isfinite(y)
    _lay(found, over.astype(np.float32), np.where(before, x / surface.width, np.nan), 1 - y / surface.depth)
    if near is not None:
        (x0, y0, x1, y1), finer = near
        _lay(found, finer.astype(np.float32), np.where(before, (x - x0) / (x1 - x0), np.nan), (y1 - y) / (y1 - y0))
    return found


def _lay(found: np.ndarray, picture: np.ndarray, u: np.ndarray, v: np.ndarray) -> None:
    """Where u and v lie in the picture, the picture."""
    height, width = picture.shape[:2]
    inside = (u >= 0) & (u <= 1) & (v >= 0) & (v <= 1)
    x, y = np.where(inside, u, 0) * width - 0.5, np.where(inside, v, 0) * height - 0.5
    laid = cv2.remap(picture, x.astype(np.float32), y.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    found[inside] = laid[inside]
