"""How plainly a quadrilateral's edges are seen in a small picture, and how even the light is along them."""

from __future__ import annotations

import numpy as np

#: Light along an edge, log, is even within this.
_EVEN = 0.12


def edge_share(corners: np.ndarray, light: np.ndarray) -> float:
    """Share of points along the edges where it is brighter by a tenth just inside than just outside."""
    inside, outside = _beside_edges(corners, light, 4.0), _beside_edges(corners, light, -4.0)
    known = np.isfinite(inside) & np.isfinite(outside)
    return float((inside > 1.1 * outside + 3)[known].mean()) if known.sum() > 40 else 0.0


def least_within(corners: np.ndarray, light: np.ndarray) -> float:
    """Of the four edges, the share of that of which least lies in the picture, with what is just inside and just outside of it."""
    beside = _beside_edges(corners, light, 4.0) + _beside_edges(corners, light, -4.0)
    return float(np.isfinite(beside).mean(axis=1).min())


def uneven_share(corners: np.ndarray, light: np.ndarray) -> float:
    """Share of points just inside the edges that are not of the light that most of their edge has: a thing that lies across it; or checks,
    where it is no sheet's."""
    values = np.log(_beside_edges(corners, light, 4.0) + 1)
    values = values[np.isfinite(values).sum(axis=1) >= 4]
    if not len(values):
        return 1.0
    shares = np.linspace(-1, 1, values.shape[1])
    first, second = np.triu_indices(len(shares), 1)
    slopes = (values[:, second] - values[:, first]) / (shares[second] - shares[first])
    level = values - _medians(slopes) * shares  # of all pairs: P. K. Sen, JASA 63, 1968
    off = np.abs(level - _medians(level))
    return float((off > _EVEN).sum() / np.isfinite(off).sum())


def _medians(rows: np.ndarray) -> np.ndarray:
    """(n, 1): of each row's numbers, of which there are some, what is none left out."""
    in_order, many = np.sort(rows, axis=1), np.isfinite(rows).sum(axis=1, keepdims=True)
    return np.asarray(sum(np.take_along_axis(in_order, at // 2, axis=1) for at in (many - 1, many)) / 2)


def _beside_edges(corners: np.ndarray, light: np.ndarray, reach: float) -> np.ndarray:
    """(4, 24): the light so far inside, pixels, of the edges; not a number outside of the picture."""
    bases, inward = along_edges(corners, np.linspace(0.05, 0.95, 24))
    at = np.rint(bases + inward * reach).astype(int)
    seen = (at >= 0).all(axis=-1) & (at < [light.shape[1], light.shape[0]]).all(axis=-1)
    clipped = np.clip(at, 0, [light.shape[1] - 1, light.shape[0] - 1])
    return np.where(seen, light[clipped[..., 1], clipped[..., 0]].astype(float), np.nan)


def along_edges(corners: np.ndarray, shares: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points (4, n, 2) along the four edges, and the directions (4, 1, 2) into the outline."""
    following = np.roll(corners, -1, axis=0)
    along = (following - corners) / np.linalg.norm(following - corners, axis=1, keepdims=True)
    inward = np.column_stack([-along[:, 1], along[:, 0]])
    inward *= np.sign((inward * (corners.mean(axis=0) - corners)).sum(axis=1, keepdims=True))
    return corners[:, None, :] + (following - corners)[:, None, :] * shares[None, :, None], inward[:, None, :]
