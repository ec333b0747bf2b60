"""What is told of a thing that was measured in a photograph."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry

from ..colour.clusters import colours_with_shares
from .cut_out import PaperLight, cut_out
from .sheet import FoundSheet
from .smallest_rectangle import smallest_rectangle
from .solid_edges import SolidSeen
from .without_bend import in_picture, seen_from


@dataclass(frozen=True, eq=False)
class Measured:
    """width_mm, depth_mm: sides of the smallest rectangle around it, the longer first. outline_mm (n, 2) about its own centroid, x along
    the longer side, counter-clockwise. colours: (hex, share). why: reasons to look again; none when sure. skin (h, w, 4) uint8: its
    cut-out, laid out as outline_mm. corners (4, 2) and traced (m, 2): sheet and outline in the photograph's pixels, for moving by
    hand. shape: the plain solid that it was seen to be, None of another. error_mm: what a side may be off by; None when not sure, as then
    nothing bounds it. height_mm: the height that it was measured with, None where none was known. place_mm: its outline's middle from the
    sheet's. of_camera: those of ``why`` that are of the sheet and the camera: another look at the thing does not settle them. shadow: rings
    (m, 2) in the photograph's pixels round what was taken for its shadow."""

    sheet: str
    width_mm: float
    depth_mm: float
    outline_mm: np.ndarray
    colours: tuple[tuple[str, float], ...]
    why: tuple[str, ...]
    skin: np.ndarray
    corners: np.ndarray
    traced: np.ndarray
    tilt_deg: float
    shape: SolidSeen | None = None
    error_mm: float | None = None
    height_mm: float | None = None
    place_mm: tuple[float, float] = (0.0, 0.0)
    of_camera: tuple[str, ...] = ()
    shadow: tuple[np.ndarray, ...] = ()

    @property
    def is_sure(self) -> bool:
        return not self.why

    def as_value(self) -> dict[str, Any]:
        """As plain JSON values, one of ``things`` as ``tideflat measure`` prints them."""
        return {
            "sheet": self.sheet,
            "width_mm": round(self.width_mm, 1),
            "depth_mm": round(self.depth_mm, 1),
            "height_mm": None if self.height_mm is None else round(self.height_mm, 1),
            "outline_mm": [[round(float(x), 1), round(float(y), 1)] for x, y in self.outline_mm],
            "colours": [{"hex": h, "share": round(s, 3)} for h, s in self.colours],
            "shape": None if self.shape is None else self.shape.as_value(),
            "error_mm": None if self.error_mm is None else round(self.error_mm, 1),
            "sure": self.is_sure,
            "why": "; ".join(self.why) or None,
        }


def value_of(things: Sequence[Measured]) -> dict[str, Any]:
    """What ``tideflat measure`` prints: the largest thing's keys, and every thing's in ``things``."""
    return things[0].as_value() | {"things": [t.as_value() for t in things]}


def described(
    rgb: np.ndarray, found: FoundSheet, paper: PaperLight, footprint: BaseGeometry, rim_mm: float, sheet: str, why: tuple[str, ...]
) -> Measured:
    """Without its doubts of shape and camera. footprint: as it is, without the lens's bend; rim_mm: how high its outline lies."""
    if footprint.geom_type != "Polygon":
        footprint = max(footprint.geoms, key=lambda g: g.area)
    outline = shapely.simplify(shapely.Polygon(footprint.exterior), 0.35)
    corners, _, angle = smallest_rectangle(np.array(footprint.exterior.coords))
    width, depth = corners
    centre = outline.centroid
    level = rotate(outline, -angle, origin=centre)
    points = np.array(shapely.geometry.polygon.orient(level).exterior.coords)[:-1] - [centre.x, centre.y]
    to_pixels = seen_from(found, np.array([centre.x, centre.y]), rim_mm)
    skin, pixels = cut_out(rgb, to_pixels, paper, points, (centre.x, centre.y), angle)
    traced = in_picture(found, np.array(outline.exterior.coords)[:-1], rim_mm)
    return Measured(
        sheet,
        width,
        depth,
        points,
        tuple(colours_with_shares(pixels, most=4, least_share=0.04)),
        why,
        skin,
        found.corners,
        traced,
        found.pose.tilt_deg,
        place_mm=(float(centre.x), float(centre.y)),
    )
