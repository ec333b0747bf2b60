"""Pictures of a surface carried on over its gaps, and made to repeat: pieces of it are laid on, and cut where they differ least from what
is there, so that grain stays as sharp as it was.

After Efros and Freeman, "Image quilting for texture synthesis and transfer", SIGGRAPH 2001 (the cut of least error between two patches).
"""

from __future__ import annotations

import cv2
import numpy as np

#: A piece is as large as there are so many times its own pixels of them to choose from, so that it holds more of a pattern than its ends:
#: no larger than this share of the picture's shorter side, nor of the gap and what is about it; no smaller than so many pixels. It overlaps
#: what is there by this share of itself.
_CHOICE, _LARGEST, _AROUND, _SHRINKS, _SMALLEST_PX, _OVERLAP = 4.0, 0.4, 1.5, 0.85, 24, 0.35
#: More pieces than this are crumbs.
_MOST_PIECES = 120
#: Pieces are looked for in a picture so many times smaller, then so many pixels about.
_COARSER = 6
#: A picture that repeats keeps at least this share of its length; its ends are cut within so much of it; of ways hardly worse than the
#: best, the longest is taken.
_KEPT, _CUT_IN, _HARDLY_WORSE = 0.55, 0.10, 1.05
#: A cut is softened over so many pixels.
_SOFT_PX = 3
#: What no cut may leave out costs this.
_NEVER = 1e9


def filled(picture: np.ndarray, gap: np.ndarray, source: np.ndarray) -> np.ndarray | None:
    """The picture (h, w, 3) float32 with its gap (h, w) bool filled by pieces of what ``source`` (h, w) bool marks as the surface; None
    where the surface is so cut up that they would be crumbs."""
    if not gap.any():
        return picture
    size = min(_LARGEST * min(gap.shape), _AROUND * _widest(gap))
    while size > _SMALLEST_PX and _places(source & ~gap, int(size)) < _CHOICE * size**2:
        size *= _SHRINKS
    size = min(max(int(size), _SMALLEST_PX), *gap.shape)
    overlap = max(4, int(_OVERLAP * size))
    if not _places(source & ~gap, size) or gap.sum() > _MOST_PIECES * (size - overlap) ** 2:
        return None
    done, open_ = picture.copy(), gap.copy()
    finder = _Finder(picture, source & ~gap, size)
    while open_.any():
        top, left = _next_place(open_, size, overlap)
        where = np.s_[top : top + size, left : left + size]
        piece = finder.piece_like(done[where], ~open_[where])
        done[where] = _laid_on(done[where], piece, open_[where], overlap)
        open_[where] = False
    return done


def _widest(gap: np.ndarray) -> float:
    rows, columns = (np.flatnonzero(gap.any(axis=axis)) for axis in (1, 0))
    return float(max(np.ptp(rows), np.ptp(columns)) + 1)


def _whole(source: np.ndarray, size: int) -> np.ndarray:
    """Of every piece of that size how many pixels show the surface."""
    sums = cv2.integral(source.astype(np.uint8))
    return np.asarray(sums[size:, size:] - sums[:-size, size:] - sums[size:, :-size] + sums[:-size, :-size])


def _places(source: np.ndarray, size: int) -> int:
    """How many pieces of that size show nothing but the surface."""
    return int((_whole(source, size) == size * size).sum())


def _next_place(open_: np.ndarray, size: int, overlap: int) -> tuple[int, int]:
    """(top, left) of the next piece: it begins a gap's overlap before the uppermost open pixel, at the leftmost open one of those rows."""
    top = max(0, min(int(np.flatnonzero(open_.any(axis=1))[0]) - overlap, open_.shape[0] - size))
    left = max(0, min(int(np.flatnonzero(open_[top : top + size].any(axis=0))[0]) - overlap, open_.shape[1] - size))
    return top, left


class _Finder:
    """Looks up the piece of a surface that is most like what is seen of a place."""

    def __init__(self, picture: np.ndarray, source: np.ndarray, size: int) -> None:
        self.picture, self.size = picture, size
        whole = _whole(source, size)
        self.may_begin = whole == size * size
        self.begins = np.argwhere(self.may_begin[::_COARSER, ::_COARSER])
        if not len(self.begins):
            self.begins = np.argwhere(self.may_begin) // _COARSER
        self.small = cv2.resize(picture, None, fx=1 / _COARSER, fy=1 / _COARSER, interpolation=cv2.INTER_AREA)

    def piece_like(self, place: np.ndarray, seen: np.ndarray) -> np.ndarray:
        """The piece (size, size, 3) that is most like what is ``seen`` (size, size) bool of a place."""
        side = max(1, self.size // _COARSER)
        looked, weight = (cv2.resize(a, (side, side), interpolation=cv2.INTER_AREA) for a in (place, seen.astype(np.float32)))
        weight = (weight > 0.99).astype(np.float32)
        best = self.begins[len(self.begins) // 2]
        if weight.any():
            off = cv2.matchTemplate(self.small, looked, cv2.TM_SQDIFF, mask=np.dstack([weight] * 3))
            rows, columns = (np.minimum(self.begins[:, k], off.shape[k] - 1) for k in (0, 1))
            best = self.begins[int(off[rows, columns].argmin())]
        top, left = self._nearer(best * _COARSER, place, seen)
        return self.picture[top : top + self.size, left : left + self.size]

    def _nearer(self, begin: np.ndarray, place: np.ndarray, seen: np.ndarray) -> tuple[int, int]:
        """Of the places within a coarse pixel the one that fits best in fine ones."""
        low = np.maximum(begin - _COARSER, 0)
        high = np.minimum(begin + _COARSER + 1, np.array(self.may_begin.shape))
        may_begin = self.may_begin[low[0] : high[0], low[1] : high[1]]
        part = self.picture[low[0] : high[0] + self.size - 1, low[1] : high[1] + self.size - 1]
        off = cv2.matchTemplate(part, place, cv2.TM_SQDIFF, mask=np.dstack([seen.astype(np.float32)] * 3))
        row, column = np.unravel_index(int(np.where(may_begin, off, np.inf).argmin()), off.shape)
        return int(low[0] + row), int(low[1] + column)


def _laid_on(place: np.ndarray, piece: np.ndarray, open_: np.ndarray, overlap: int) -> np.ndarray:
    """The place with the piece on it: all of what is open, and as far into what is there as a cut along the least difference goes."""
    off = ((place - piece) ** 2).sum(axis=2)
    new = np.ones(open_.shape, bool)
    for turns in range(4):  # from each side that has something there
        side, is_open = np.rot90(off, turns)[:, :overlap], np.rot90(open_, turns)[:, :overlap]
        if is_open.all():
            continue
        # what is open is the piece's: the cut lies before it
        cost = np.where(np.maximum.accumulate(is_open, axis=1), _NEVER, side)
        cost[:, 0] = np.minimum(cost[:, 0], side.max())
        cut = least_cut(cost)
        is_new = np.ones(open_.shape, bool)
        is_new[:, :overlap] = np.arange(overlap)[None] >= cut[:, None]
        new &= np.rot90(is_new, -turns)
    share = np.where(open_, 1.0, _softened((new | open_).astype(np.float32)))[..., None]
    return np.asarray(share * piece + (1 - share) * place, dtype=np.float32)


def repeating(picture: np.ndarray) -> np.ndarray:
    """The picture (h, w, 3) float32, cut to a smaller one that repeats both ways without a seam, at a whole number of its pattern's periods
    where it has one."""
    across = _repeating_along(picture, is_closed=False)
    return np.swapaxes(_repeating_along(np.swapaxes(across, 0, 1), is_closed=True), 0, 1)


def _repeating_along(picture: np.ndarray, *, is_closed: bool) -> np.ndarray:
    """Cut to repeat along its columns. is_closed: its rows repeat already, and go on doing so."""
    width = picture.shape[1]
    overlap = max(4, int(_CUT_IN * width))
    length = _best_length(picture, overlap)
    end = picture[:, length : length + overlap]
    off = ((end - picture[:, :overlap]) ** 2).sum(axis=2)
    cut = closed_cut(off) if is_closed else least_cut(off)
    is_own = (np.arange(overlap)[None] >= cut[:, None]).astype(np.float32)
    is_own[:, 0], is_own[:, -1] = 0.0, 1.0
    share = _softened(is_own)[..., None]
    share[:, 0], share[:, -1] = 0.0, 1.0
    kept = picture[:, :length].copy()
    kept[:, :overlap] = share * kept[:, :overlap] + (1 - share) * end
    return kept


def _best_length(picture: np.ndarray, overlap: int) -> int:
    """After how many columns the picture looks as it begins: looked for coarsely, then to the pixel."""
    fine = np.ascontiguousarray(picture)
    small = cv2.resize(fine, None, fx=1 / _COARSER, fy=1 / _COARSER, interpolation=cv2.INTER_AREA)
    first = int(_KEPT * small.shape[1])
    row = cv2.matchTemplate(small[:, first:], np.ascontiguousarray(small[:, : max(1, overlap // _COARSER)]), cv2.TM_SQDIFF)[0]
    good = np.flatnonzero(row <= _HARDLY_WORSE * float(row.min()))
    most = picture.shape[1] - overlap
    near = min(_COARSER * (first + int(good[-1] if len(good) else row.argmin())), most)
    low, high = max(1, near - _COARSER), min(near + _COARSER, most)
    row = cv2.matchTemplate(np.ascontiguousarray(fine[:, low : high + overlap]), np.ascontiguousarray(fine[:, :overlap]), cv2.TM_SQDIFF)[0]
    return low + int(row.argmin())


def least_cut(cost: np.ndarray) -> np.ndarray:
    """(rows,) column by row of the way down through ``cost`` (rows, columns) that costs least and moves a column a row at the most."""
    total = cost.astype(float)
    before = np.full(total.shape[1] + 2, np.inf)
    for row in range(1, len(total)):
        before[1:-1] = total[row - 1]
        total[row] += np.minimum(np.minimum(before[:-2], before[1:-1]), before[2:])
    way = np.empty(len(total), dtype=int)
    way[-1] = int(total[-1].argmin())
    for row in range(len(total) - 2, -1, -1):
        low = max(0, way[row + 1] - 1)
        way[row] = low + int(total[row, low : way[row + 1] + 2].argmin())
    return way


def closed_cut(cost: np.ndarray) -> np.ndarray:
    """The same, ending in the column that it began in: where the best free way round is half-way down."""
    half = len(cost) // 2
    free = least_cut(np.concatenate([cost, cost]))
    at = int(free[len(cost)])
    rolled = cost.astype(float).copy()
    bound = np.abs(np.arange(cost.shape[1]) - at)
    for row in range(half):  # so far it may go, and has to come back
        for there in (row, len(cost) - 1 - row):
            rolled[there, bound > row] = _NEVER
    return least_cut(rolled)


def _softened(mask: np.ndarray) -> np.ndarray:
    return np.asarray(cv2.blur(mask, (_SOFT_PX, _SOFT_PX), borderType=cv2.BORDER_REPLICATE))
