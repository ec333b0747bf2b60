"""What lies behind the words of a deliverable: the light of every spot of its copy space, out of skins where there are any, in the set-up's
own light where that is decided."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..camera.crops import Rect
from ..camera.view import View
from ..colour.contrast import contrast_over, luminances
from ..colour.mix import luminance
from ..evaluate import Picture
from ..model import Skin
from ..remember import Pixels, counted
from ..tolerances import BEHIND_AREA, PARALLEL
from .grounds import Ground, grounds
from .in_light import PARTS, as_lit, ground_parts, in_light
from .seen import Around, owners_at, parts

_COLUMNS, _ROWS = 36, 24
#: What words are usually set in.
INKS = ("#ffffff", "#000000")


@dataclass(frozen=True, slots=True)
class Legibility:
    """ink: the better of white and black; ratio: the contrast it keeps on all but the worst twentieth of the copy space."""

    ink: str
    ratio: float
    behind: str


def legibility(picture: Picture, room: Rect) -> Legibility:
    """Of words in the window ``room`` of the frame."""
    lit = in_light(picture)
    parts_of = {} if lit is None else lit.things
    near = tuple(
        (i, t, as_lit(picture.props[i].colours, parts_of.get(i, 0)))
        for i, t in picture.things.items()
        if t.visible.area > BEHIND_AREA and _meet(t.visible.bounds, room)
    )
    skin = picture.scene.surface.skin
    pixels = picture.skins.get(skin.picture) if skin is not None else None
    behind = grounds(picture.scene, picture.view)
    spots = _spots(room)
    # How light grounds are at each spot, in parts of a stop: plain numbers, so that what stays is not worked out anew.
    falls = () if lit is None else tuple((g.name, tuple(ground_parts(lit, g.name, spots).tolist())) for g in behind)
    return _legibility(behind, near, room, picture.view, skin, None if pixels is None else Pixels(pixels), falls)


def _meet(a: Rect, b: Rect) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


@counted(64)
def _spots(room: Rect) -> np.ndarray:
    u = room[0] + (np.arange(_COLUMNS) + 0.5) / _COLUMNS * (room[2] - room[0])
    v = room[1] + (np.arange(_ROWS) + 0.5) / _ROWS * (room[3] - room[1])
    return np.stack(np.meshgrid(u, v), axis=-1).reshape(-1, 2)


@counted(512)
def _legibility(
    behind: tuple[Ground, ...],
    near: Around,
    room: Rect,
    view: View,
    skin: Skin | None,
    pixels: Pixels | None,
    falls: tuple[tuple[str, tuple[int, ...]], ...] = (),
) -> Legibility:
    spots, lit = _spots(room), {name: np.array(parts) for name, parts in falls}
    owner = owners_at(spots, [n for n, _, _ in near], [t.visible for _, t, _ in near], behind)
    colours = {g.name: g.colours for g in behind} | {n: c for n, _, c in near}
    names = list(dict.fromkeys(o for o in owner if o is not None))
    light: list[np.ndarray] = []
    weight: list[np.ndarray] = []
    for name in names:
        mine = np.array([o == name for o in owner])
        if name == "surface" and skin is not None and pixels is not None:
            falling = 1.0 if name not in lit else 2.0 ** (lit[name][mine] / PARTS)
            light.append(np.minimum(_tile_light(view, skin, pixels.values, spots[mine]) * falling, 1.0))
            weight.append(np.ones(int(mine.sum())))
        elif name in lit:
            for fallen in np.unique(lit[name][mine]):
                light.append(np.array([luminance(c.hex) for c, _ in parts(as_lit(colours[name], int(fallen)))]))
                weight.append(np.array([share * (lit[name][mine] == fallen).sum() for _, share in parts(colours[name])]))
        else:
            light.append(np.array([luminance(c.hex) for c, _ in parts(colours[name])]))
            weight.append(np.array([share * mine.sum() for _, share in parts(colours[name])]))
    if not light:
        return Legibility(INKS[0], 21.0, "")
    every, shares = np.concatenate(light), np.concatenate(weight)
    ratios = {ink: contrast_over(ink, every, shares) for ink in INKS}
    best = max(ratios, key=lambda ink: ratios[ink])
    return Legibility(best, ratios[best], max(names, key=owner.count))


def _tile_light(view: View, skin: Skin, pixels: np.ndarray, spots: np.ndarray) -> np.ndarray:
    """Relative luminance of the surface's skin where the rays through ``spots`` meet the table."""
    rays = view.rays(spots)
    reach = -view.position[2] / np.minimum(rays[:, 2], -PARALLEL)
    at = view.position[:2] + rays[:, :2] * reach[:, None]
    assert skin.width is not None and skin.depth is not None
    h, w = pixels.shape[:2]
    column = ((at[:, 0] / skin.width) % 1 * w).astype(int) % w
    row = ((1 - (at[:, 1] / skin.depth) % 1) * h).astype(int) % h
    return luminances(pixels[row, column, :3] / 255)
