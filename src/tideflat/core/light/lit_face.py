"""A flat lit face: what it gives with nothing between, and places that stand for its parts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..tolerances import SAME_NUMBER
from .form_factor import even_disc, even_square, projected_solid_angle


@dataclass(frozen=True, eq=False, slots=True)
class LitFace:
    """A flat part of a light. polygon: (k, 3) its corners, mm; out: (3,) unit, the side that it lights; luminance: lux on a face for each
    unit of projected solid angle; cosine: of half the angle it shines in, None for all of the half space."""

    polygon: np.ndarray
    out: np.ndarray
    luminance: float
    cosine: float | None = None

    @property
    def middle(self) -> np.ndarray:
        return self.polygon.mean(axis=0)  # type: ignore[no-any-return]


def samples_of(face: LitFace, side: int) -> np.ndarray:
    """(m, 3) places that stand for even parts of a face, side * side of them."""
    polygon = face.polygon
    if len(polygon) == 4:
        square = even_square(side * side)
        u, v = square[:, :1], square[:, 1:]
        return polygon[0] + u * (polygon[1] - polygon[0]) + v * (polygon[3] - polygon[0])  # type: ignore[no-any-return]
    disc = even_disc(side)
    middle, quarter = face.middle, len(polygon) // 4
    return middle + disc[:, :1] * (polygon[0] - middle) + disc[:, 1:] * (polygon[quarter] - middle)  # type: ignore[no-any-return]


def weights_of(points: np.ndarray, normals: np.ndarray, out: np.ndarray, places: np.ndarray) -> np.ndarray:
    """(n, m) how much each place of a face that looks along ``out`` counts at each point, up to a factor: 0 below the horizon and behind
    the face. places: (m, 3), or (n, m, 3) where each point has its own."""
    ways = (places[None] if places.ndim == 2 else places) - points[:, None]
    square = (ways**2).sum(axis=2)
    falls = np.maximum(0.0, np.einsum("nmc,nc->nm", ways, normals))
    leaves = np.maximum(0.0, -(ways @ out))
    return falls * leaves / np.maximum(square, SAME_NUMBER) ** 2  # type: ignore[no-any-return]


def in_beam(points: np.ndarray, face: LitFace, places: np.ndarray) -> np.ndarray | None:
    """(n, m) whether each point is inside the beam of each place; None where it shines everywhere before it."""
    if face.cosine is None:
        return None
    ways = (places[None] if places.ndim == 2 else places) - points[:, None]
    return -(ways @ face.out) >= face.cosine * np.linalg.norm(ways, axis=2)  # type: ignore[no-any-return]


def unhindered(points: np.ndarray, normals: np.ndarray, face: LitFace, side: int) -> np.ndarray:
    """(n,) lux on points (n, 3) facing normals (n, 3) from a face with nothing between."""
    before = (points - face.polygon[0]) @ face.out > 0
    lux = np.zeros(len(points))
    lux[before] = face.luminance * projected_solid_angle(points[before], normals[before], face.polygon)
    if face.cosine is None:
        return lux  # type: ignore[no-any-return]
    places = samples_of(face, side)
    weight, inside = weights_of(points, normals, face.out, places), in_beam(points, face, places)
    whole = weight.sum(axis=1)
    return lux * np.where(whole > 0, (weight * inside).sum(axis=1) / np.maximum(whole, SAME_NUMBER**2), 0.0)  # type: ignore[no-any-return]


def area_of(polygon: np.ndarray) -> float:
    """Of a flat polygon (k, 3)."""
    return float(np.linalg.norm(np.cross(polygon - polygon[0], np.roll(polygon, -1, axis=0) - polygon[0]).sum(axis=0))) / 2
