"""How a lens bends straight lines: Brown's model with OpenCV's names, there and back.

D. C. Brown, "Decentering distortion of lenses", Photogrammetric Engineering 32(3), 1966; the terms and their order (k1, k2, p1, p2, k3) are
those of OpenCV's camera model. Places are in focal lengths from the axis: x to the right, y downward.

    x' = x (1 + k1 r^2 + k2 r^4 + k3 r^6) + 2 p1 x y + p2 (r^2 + 2 x^2)
    y' = y (1 + k1 r^2 + k2 r^4 + k3 r^6) + p1 (r^2 + 2 y^2) + 2 p2 x y
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..tolerances import BENT_BACK, DIFFERENCE, SAME_NUMBER

#: Newton steps of the way back: each doubles the digits.
_STEPS = 12


@dataclass(frozen=True)
class Distortion:
    """The five terms. Past ``reach`` (in focal lengths from the axis) the radial part would fold the picture back over itself; there it
    goes on straight outward, so that what is far outside the frame stays outside."""

    terms: tuple[float, float, float, float, float]

    @cached_property
    def reach(self) -> float:
        """The radius at which r (1 + k1 r^2 + k2 r^4 + k3 r^6) stops to grow; inf where it never does."""
        k1, k2, _, _, k3 = self.terms
        roots = np.roots([7 * k3, 5 * k2, 3 * k1, 1.0])
        real = roots.real[(np.abs(roots.imag) < SAME_NUMBER) & (roots.real > 0)]
        return float(np.sqrt(real.min())) if len(real) else float("inf")

    def bent(self, places: np.ndarray) -> np.ndarray:
        """(..., 2) where the lens puts what a pinhole would put at ``places`` (..., 2)."""
        k1, k2, p1, p2, k3 = self.terms
        radius = np.linalg.norm(places, axis=-1, keepdims=True)
        inward = np.minimum(1.0, self.reach / np.maximum(radius, SAME_NUMBER)) if np.isfinite(self.reach) else 1.0
        kept = places * inward
        x, y = kept[..., 0], kept[..., 1]
        r2 = x * x + y * y
        radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3))
        bent = np.stack([x * radial + 2 * p1 * x * y + p2 * (r2 + 2 * x * x), y * radial + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y], axis=-1)
        return bent + (places - kept)

    def straightened(self, places: np.ndarray) -> np.ndarray:
        """(..., 2) what the lens puts at ``places``: the way back, by Newton's method with differences."""
        found = np.array(places, dtype=float)
        for _ in range(_STEPS):
            miss = self.bent(found) - places
            if float(np.abs(miss).max(initial=0.0)) < BENT_BACK:
                break
            across = (self.bent(found + [DIFFERENCE, 0.0]) - self.bent(found - [DIFFERENCE, 0.0])) / (2 * DIFFERENCE)
            down = (self.bent(found + [0.0, DIFFERENCE]) - self.bent(found - [0.0, DIFFERENCE])) / (2 * DIFFERENCE)
            determinant = across[..., 0] * down[..., 1] - across[..., 1] * down[..., 0]
            safe = np.where(np.abs(determinant) < _LEAST_GROWTH, _LEAST_GROWTH, determinant)
            dx = (miss[..., 0] * down[..., 1] - miss[..., 1] * down[..., 0]) / safe
            dy = (miss[..., 1] * across[..., 0] - miss[..., 0] * across[..., 1]) / safe
            found = found - np.stack([dx, dy], axis=-1)
        return found


#: A picture that grows less than this by area is taken to grow so much, to keep the steps of the way back bounded.
_LEAST_GROWTH = 0.05


def distortion_of(terms: tuple[float, ...]) -> Distortion | None:
    """None for a lens that draws straight lines straight."""
    if not any(terms):
        return None
    k1, k2, p1, p2, k3 = terms
    return Distortion((k1, k2, p1, p2, k3))
