"""The first look at a photograph laid flat: what of it is not the ground, and the plain solids whose edges are seen there."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace

import cv2
import numpy as np
import shapely

from .edge_support import EdgePicture, Shaded, edge_picture
from .ground import tell_apart
from .look import Look
from .outlined import parts_of
from .rectified import Flat, flatten
from .sheet import FoundSheet
from .solid_edges import SolidSeen
from .solid_starts import Shapes, circles, faces
from .solids_chosen import COVERED
from .solids_found import solids_in

#: Pixels a mm, and the most of the long side: of the first look; and of the picture that edges are asked in.
_FIRST_PER_MM, _FIRST_PX, _EDGES_PER_MM = 4.0, 850, 2.2
#: No thing's top is larger than this share of the sheet.
MOST_OF_SHEET = 0.75
#: Solids are looked for in so many regions.
_MOST_REGIONS = 8
#: So far apart, mm, are stripes at the most.
_BETWEEN_MM = 28.0
#: A round solid whose edge is so plain all round, and so large, mm, need not be told from the ground.
ROUND_SEEN, ROUND_MM = 0.9, 25.0


@dataclass(frozen=True, eq=False)
class FirstLook:
    """look: the coarse picture and its ground; picture: that which edges are asked in; every: the solids seen, the plainest first."""

    look: Look
    picture: EdgePicture
    every: list[SolidSeen]

    @property
    def solids(self) -> list[SolidSeen]:
        """Those that are told from the ground, or are round and plain enough without."""
        return [solid for solid in self.every if _may_be(solid, self.look)]


def first_look(rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], height_mm: float) -> FirstLook:
    """Within ``box`` mm; height_mm: of the solids."""
    per_mm = min(_FIRST_PER_MM, _FIRST_PX / max(box[2] - box[0], box[3] - box[1]))
    flat = flatten(rgb, found.pose.plane_to_pixel, box, per_mm)
    most = MOST_OF_SHEET * found.size_mm[0] * found.size_mm[1]
    with ThreadPoolExecutor(max_workers=1) as beside:  # edges and colours are looked at at once: most of both is OpenCV's and NumPy's
        edges = beside.submit(_edges, rgb, found, box, flat, most)
        ground = tell_apart(flat, found.size_mm)
        look = Look(flat, ground, _bridged(ground.mask, per_mm), found.area)
        regions = _regions(look)
        picture, shapes = edges.result()
    picture = replace(picture, shade=Shaded(flat, ground.left))
    return FirstLook(look, picture, solids_in(picture, flat, look.told, regions, shapes, found.pose, height_mm))


def _edges(
    rgb: np.ndarray, found: FoundSheet, box: tuple[float, float, float, float], flat: Flat, most_mm2: float
) -> tuple[EdgePicture, Shapes]:
    fine = flatten(rgb, found.pose.plane_to_pixel, box, min(_EDGES_PER_MM, 1.1 / found.mm_per_pixel))
    return edge_picture(fine), Shapes(faces(flat, most_mm2), circles(flat))


def _bridged(mask: np.ndarray, per_mm: float) -> np.ndarray:
    """The mask with what lies between two of its parts, as white stripes between red ones do."""
    size = int(_BETWEEN_MM * per_mm) | 1
    x, y, wide, high = cv2.boundingRect(mask.astype(np.uint8))
    within = np.s_[y : y + high, x : x + wide]
    padded = np.pad(mask[within].astype(np.uint8), size)
    closed = cv2.morphologyEx(padded, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
    bridged = np.zeros_like(mask)
    bridged[within] = closed[size:-size, size:-size]
    return bridged


def _regions(look: Look) -> list[shapely.Polygon]:
    """Where things may be: every part of the mask, without what hangs on it, and with what lies about it."""
    masks = (look.ground.mask, look.ground.bare, look.told)
    found = [part for mask in masks for part in parts_of(mask, look.flat)[:_MOST_REGIONS]]
    kept: list[shapely.Polygon] = []
    for region in found:
        if region.geom_type == "Polygon" and all(np.abs(np.array(region.bounds) - np.array(other.bounds)).max() > 1.0 for other in kept):
            kept.append(region)
    return kept


def _may_be(solid: SolidSeen, look: Look) -> bool:
    if look.covered(solid.silhouette) >= COVERED:
        return True
    return solid.kind in ("disc", "taper", "oval", "ball") and solid.seen >= ROUND_SEEN and float(solid.values[2]) >= ROUND_MM
