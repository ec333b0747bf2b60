"""What was worked out before something was moved, taken over row by row where the question is the same and what moved is in the way neither
where it was nor where it is now. What is taken over is what would come out anew.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields

import numpy as np

from .boxes import crossing
from .casters import Casters
from .forms import Caster, box_round
from .rays import Met, first_met
from .sources import Source
from .through import Through

#: So many of what was asked are kept, the newest.
_KEPT = 100
#: Boxes are taken so much larger, mm, as rays begin and solids end a little beside where they are; the sun's disc as wide as this, as a
#: share of its distance.
_BESIDE_MM, _SUN_WIDE = 4.0, 0.01

Arrays = tuple[np.ndarray, ...]
#: Of rows, which of them are known, and what was found for those.
Work = Callable[[np.ndarray, np.ndarray, Arrays], Arrays]
#: Of rows, with what comes through.
Look = Callable[[np.ndarray, Through], np.ndarray]
_NONE: frozenset[int] = frozenset()


@dataclass(frozen=True, eq=False, slots=True)
class Rows:
    """numbers: (n,) ascending, which of some whole each row is; asked: arrays (n, ...) that each was worked out from; found: arrays
    (n, ...)."""

    numbers: np.ndarray
    asked: Arrays
    found: Arrays


def boxes_moved(before: Casters, now: Casters) -> np.ndarray | None:
    """(k, 2, 3) least and most of boxes that hold what is not as it was, before and now; None where not the same owners stand there, in as
    many pieces and patches."""
    same_owners = before.owners == now.owners and before.owner_of == now.owner_of
    if not same_owners or not np.array_equal(before.owner, now.owner):
        return None
    pairs = zip(before.casters, now.casters, now.owner_of, strict=True)
    moved = {owner for was, caster, owner in pairs if not _are_same(was, caster)}
    moved |= {k for k, (was, passes) in enumerate(zip(before.passes, now.passes, strict=True)) if was != passes}
    found: list[np.ndarray] = []
    for owner in sorted(moved):
        was, box = (_box_of(there, owner) for there in (before, now))
        both = np.array([np.minimum(was[0], box[0]), np.maximum(was[1], box[1])])
        found += [both] if np.ptp(both, axis=0).prod() <= sum(np.ptp(one, axis=0).prod() for one in (was, box)) else [was, box]
    return np.array(found).reshape(-1, 2, 3)


def _are_same(a: Caster, b: Caster) -> bool:
    return type(a) is type(b) and all(np.array_equal(getattr(a, f.name), getattr(b, f.name)) for f in fields(a))


def _box_of(casters: Casters, owner: int) -> np.ndarray:
    boxes = np.array([box_round(c) for c, of in zip(casters.casters, casters.owner_of, strict=True) if of == owner])
    return np.array([boxes[:, 0].min(axis=0) - _BESIDE_MM, boxes[:, 1].max(axis=0) + _BESIDE_MM])


class Again:
    """What was asked of one lighting, by a name and the light it is of, and of the one before. What has no name is not asked about again."""

    def __init__(self) -> None:
        self._rows: dict[tuple[str, Source | None], Rows] = {}
        self._before: dict[tuple[str, Source | None], Rows] = {}
        self._moved = np.empty((0, 2, 3))

    def take(self, other: Again, of: tuple[Source | None, ...]) -> None:
        """What was asked of another of the same things, for these lights or none."""
        known = [(key, rows) for key, rows in other._rows.items() if key[1] in of]
        self._rows.update(known[-_KEPT:])

    def follow(self, other: Again, moved: np.ndarray) -> None:
        """What was asked of another, since when what these boxes (k, 2, 3) hold was moved."""
        self._before, self._moved = dict(list(other._rows.items())[-_KEPT:]), moved

    def met(self, name: str, casters: Casters, starts: np.ndarray, ways: np.ndarray, *, but: frozenset[int] = _NONE,
            numbers: np.ndarray | None = None) -> Met:  # fmt: skip
        """What ``first_met`` tells. numbers: (n,) which of some whole each ray is, by which it is known again."""

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            return crossing(self._moved, starts[rows], ways[rows], ways[rows], was[2])

        def work(rows: np.ndarray, known: np.ndarray, was: Arrays) -> Arrays:
            met = first_met(casters, starts[rows], ways[rows], but=but)
            return met.owner, met.patch, met.far, met.normal

        return Met(*self._renewed((name and f"{name} {sorted(but)}", None), numbers, (starts, ways), is_near, work).found)

    def lux(self, name: str, source: Source, casters: Casters, points: np.ndarray, normals: np.ndarray, look: Look,
            *, but: frozenset[int] = _NONE, numbers: np.ndarray | None = None) -> np.ndarray:  # fmt: skip
        """(n,) what ``look`` tells of rows of points (n, 3) facing normals (n, 3): light straight from a source, asked again where
        what moved may stand before it, ray by ray. but: owners that are not there."""

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            if source.to_sun is not None:
                ways = np.broadcast_to(source.to_sun, (len(rows), 3))
                return crossing(self._moved, points[rows], ways - _SUN_WIDE, ways + _SUN_WIDE, np.inf)
            return self._stands_before([face.polygon for face in source.faces], points[rows])

        key = name and f"{name} {sorted(but)}", source
        return self._renewed(key, numbers, (points, normals), is_near, self._looked(casters, but, look)).found[0]

    def seen(self, name: str, polygons: list[np.ndarray], casters: Casters, points: np.ndarray, normals: np.ndarray, look: Look,
             *, but: frozenset[int] = _NONE) -> np.ndarray:  # fmt: skip
        """(n, ...) the same: how much of flat faces (k, 3) is seen from points."""
        corners = np.broadcast_to(np.concatenate(polygons).ravel(), (len(points), 3 * sum(map(len, polygons))))

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            return self._stands_before(polygons, points[rows])

        key = name and f"{name} {sorted(but)}", None
        return self._renewed(key, None, (points, normals, corners), is_near, self._looked(casters, but, look)).found[0]

    def _looked(self, casters: Casters, but: frozenset[int], look: Look) -> Work:
        def work(rows: np.ndarray, known: np.ndarray, was: Arrays) -> Arrays:
            shares = None
            if len(known):
                shares = np.full((len(rows), was[1].shape[1]), np.nan)
                shares[known] = was[1]
            through = Through(casters, but, shares, self._moved)
            found = look(rows, through)
            return found, through.shares

        return work

    def _stands_before(self, polygons: list[np.ndarray], points: np.ndarray) -> np.ndarray:
        """(n,) whether what moved may stand between points and polygons (k, 3)."""
        if not polygons:
            return np.zeros(len(points), dtype=bool)
        corners = np.concatenate(polygons)
        return crossing(self._moved, points, corners.min(axis=0) - points, corners.max(axis=0) - points, 1.0)

    def _renewed(self, key: tuple[str, Source | None], numbers: np.ndarray | None, asked: Arrays,
                 is_near: Callable[[np.ndarray, Arrays], np.ndarray], work: Work) -> Rows:  # fmt: skip
        count, none = len(asked[0]), np.empty(0, dtype=int)
        if not key[0]:
            return Rows(none, (), work(np.arange(count), none, ()))
        own = np.arange(count) if numbers is None else numbers
        rows, there = _again(self._before.get(key), own, asked)
        if not len(rows):
            self._rows[key] = Rows(own, asked, work(np.arange(count), none, ()))
            return self._rows[key]
        was = tuple(found[there] for found in self._before[key].found)
        near = is_near(rows, was)
        stays, anew = rows[~near], np.ones(count, dtype=bool)
        anew[stays] = False
        asked_again = np.nonzero(anew)[0]
        fresh = work(asked_again, np.searchsorted(asked_again, rows[near]), tuple(found[near] for found in was))
        whole = tuple(np.empty((count, *found.shape[1:]), dtype=found.dtype) for found in was)
        for into, old, new in zip(whole, was, fresh, strict=True):
            into[stays] = old[~near]
            if len(asked_again):
                into[asked_again] = new
        self._rows[key] = Rows(own, asked, whole)
        return self._rows[key]


def _again(before: Rows | None, numbers: np.ndarray, asked: Arrays) -> tuple[np.ndarray, np.ndarray]:
    """(rows that were asked before with the same, where they are there)."""
    none = np.empty(0, dtype=int)
    if before is None or not len(before.numbers) or not len(numbers):
        return none, none
    there = np.minimum(np.searchsorted(before.numbers, numbers), len(before.numbers) - 1)
    same = before.numbers[there] == numbers
    for was, now in zip(before.asked, asked, strict=True):
        if was.shape[1:] != now.shape[1:]:
            return none, none
        same &= (was[there] == now).reshape(len(numbers), -1).all(axis=1)
    rows = np.nonzero(same)[0]
    return rows, there[rows]
