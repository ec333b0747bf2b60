"""What two rectangles in one place have in common: where a thing has its shadow along two sides, one that was drawn in on either meets the other."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations

import numpy as np

from .solid_edges import SolidSeen

#: Of so many, those most seen, each two are met; turned alike within this, radians; each is larger than what they have in common by so much
#: at the least, mm, and no longer by more than this factor.
_MOST, _TURNED_ALIKE, _LARGER_MM, _LARGER = 24, 0.05, 2.0, 1.35


def met_boxes(seen: Sequence[SolidSeen]) -> Iterator[np.ndarray]:
    """Numbers of the rectangles that each two of the rectangles among ``seen``, nearly alike, have in common, none twice."""
    boxes = sorted((s for s in seen if s.kind == "rectangle"), key=lambda s: -s.seen)[:_MOST]
    found: list[np.ndarray] = [box.values for box in boxes]
    for one, other in combinations(boxes, 2):
        values = _in_common(one.values, other.values)
        if values is not None and all(np.abs(_as_turned(known, values) - values)[:4].max() > _LARGER_MM for known in found):
            found.append(values)
            yield values


def _as_turned(values: np.ndarray, like: np.ndarray) -> np.ndarray:
    """The same rectangle, its sides told in the order of another that is turned nearly alike."""
    quarters = round(float(like[4] - values[4]) / (np.pi / 2))
    size = values[2:4] if quarters % 2 == 0 else values[3:1:-1]
    return np.array([*values[:2], *size, values[4] + quarters * np.pi / 2])


def _in_common(one: np.ndarray, other: np.ndarray) -> np.ndarray | None:
    """None where they are turned otherwise, lie elsewhere, or one lies within the other."""
    other = _as_turned(other, one)
    if abs(one[4] - other[4]) > _TURNED_ALIKE:
        return None
    c, s = np.cos(one[4]), np.sin(one[4])
    axes = np.array([[c, s], [-s, c]])
    away = axes @ (other[:2] - one[:2])  # the other's middle, in the first's own axes
    low = np.maximum(-one[2:4] / 2, away - other[2:4] / 2)
    high = np.minimum(one[2:4] / 2, away + other[2:4] / 2)
    size = high - low
    if (size <= 0).any():
        return None
    more = np.array([one[2:4] - size, other[2:4] - size])
    if more.max(axis=1).min() < _LARGER_MM or (np.array([one[2:4], other[2:4]]) > _LARGER * size).any():
        return None
    return np.array([*(one[:2] + (low + high) / 2 @ axes), *size, one[4]])
