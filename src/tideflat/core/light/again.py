"""What was worked out before something was moved, taken over row by row where the question is the same and what moved is in the way neither
where it was nor where it is now. What is taken over is what would come out anew.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields

import numpy as np

from .casters import Casters
from .forms import Caster
from .rays import Met, first_met, near_balls
from .sources import Source
from .straight import ball_of, in_way

#: So many of what was asked are kept, the newest.
_KEPT = 60
#: Where more than so many things moved, all is worked out anew.
_MOST_MOVED = 6

Arrays = tuple[np.ndarray, ...]


@dataclass(frozen=True, eq=False, slots=True)
class Rows:
    """numbers: (n,) ascending, which of some whole each row is; asked: arrays (n, ...) that each was worked out from; found: arrays
    (n, ...)."""

    numbers: np.ndarray
    asked: Arrays
    found: Arrays


def balls_moved(before: Casters, now: Casters) -> np.ndarray | None:
    """(k, 4) a ball round each owner's casters that are not as they were, before and now; None where not the same owners stand there, in as
    many pieces and patches, or too many moved."""
    same_owners = before.owners == now.owners and before.owner_of == now.owner_of
    if not same_owners or not np.array_equal(before.owner, now.owner):
        return None
    pairs = zip(before.casters, now.casters, now.owner_of, strict=True)
    moved = {owner for was, caster, owner in pairs if not _are_same(was, caster)}
    moved |= {k for k, (was, passes) in enumerate(zip(before.passes, now.passes, strict=True)) if was != passes}
    if len(moved) > _MOST_MOVED:
        return None
    of = np.array(now.owner_of, dtype=int)
    return np.array([_ball_round(there.balls[of == owner]) for owner in sorted(moved) for there in (before, now)]).reshape(-1, 4)


def _are_same(a: Caster, b: Caster) -> bool:
    return type(a) is type(b) and all(np.array_equal(getattr(a, f.name), getattr(b, f.name)) for f in fields(a))


def _ball_round(balls: np.ndarray) -> np.ndarray:
    """(4,) a ball round balls (k, 4)."""
    middle = ((balls[:, :3] - balls[:, 3:]).min(axis=0) + (balls[:, :3] + balls[:, 3:]).max(axis=0)) / 2
    return np.append(middle, (np.linalg.norm(balls[:, :3] - middle, axis=1) + balls[:, 3]).max())


class Again:
    """What was asked of one lighting, by a name and the light it is of, and of the one before. What has no name is not asked about again."""

    def __init__(self) -> None:
        self._rows: dict[tuple[str, Source | None], Rows] = {}
        self._before: dict[tuple[str, Source | None], Rows] = {}
        self._moved = np.empty((0, 4))

    def take(self, other: Again, of: tuple[Source | None, ...]) -> None:
        """What was asked of another of the same things, for these lights or none."""
        known = [(key, rows) for key, rows in other._rows.items() if key[1] in of]
        self._rows.update(known[-_KEPT:])

    def follow(self, other: Again, moved: np.ndarray) -> None:
        """What was asked of another, since when what these balls (k, 4) hold was moved."""
        self._before, self._moved = dict(list(other._rows.items())[-_KEPT:]), moved

    def met(self, name: str, casters: Casters, starts: np.ndarray, ways: np.ndarray, *, but: frozenset[int] = frozenset(),
            numbers: np.ndarray | None = None) -> Met:  # fmt: skip
        """What ``first_met`` tells. numbers: (n,) which of some whole each ray is, by which it is known again."""

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            near, along, radius = near_balls(self._moved, starts[rows], ways[rows])
            return (near & (along - radius <= was[2])).any(axis=0)  # type: ignore[no-any-return]

        def work(rows: np.ndarray) -> Arrays:
            met = first_met(casters, starts[rows], ways[rows], but=but)
            return met.owner, met.patch, met.far, met.normal

        return Met(*self._renewed((name and f"{name} {sorted(but)}", None), numbers, (starts, ways), is_near, work).found)

    def lux(self, name: str, source: Source, points: np.ndarray, normals: np.ndarray, work: Callable[[np.ndarray], np.ndarray],
            *, numbers: np.ndarray | None = None) -> np.ndarray:  # fmt: skip
        """(n,) what ``work`` tells of rows of points (n, 3) facing normals (n, 3): light straight from a source, asked again where
        what moved may stand before it."""

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            return in_way(self._moved, points[rows], source.to_sun, ball_of([face.polygon for face in source.faces]))

        return self._renewed((name, source), numbers, (points, normals), is_near, lambda rows: (work(rows),)).found[0]

    def seen(self, name: str, polygons: list[np.ndarray], points: np.ndarray, normals: np.ndarray, work: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:  # fmt: skip
        """(n, ...) what ``work`` tells of rows of points: how much of flat faces (k, 3) each is seen from there."""
        ball, corners = ball_of(polygons), np.broadcast_to(np.concatenate(polygons).ravel(), (len(points), 3 * sum(map(len, polygons))))

        def is_near(rows: np.ndarray, was: Arrays) -> np.ndarray:
            return in_way(self._moved, points[rows], None, ball)

        return self._renewed((name, None), None, (points, normals, corners), is_near, lambda rows: (work(rows),)).found[0]

    def _renewed(self, key: tuple[str, Source | None], numbers: np.ndarray | None, asked: Arrays,
                 is_near: Callable[[np.ndarray, Arrays], np.ndarray], work: Callable[[np.ndarray], Arrays]) -> Rows:  # fmt: skip
        count = len(asked[0])
        if not key[0]:
            return Rows(np.empty(0, dtype=int), (), work(np.arange(count)))
        own = np.arange(count) if numbers is None else numbers
        rows, there = _again(self._before.get(key), own, asked)
        if len(rows):
            was = tuple(found[there] for found in self._before[key].found)
            stays = ~is_near(rows, was)
            rows, was = rows[stays], tuple(found[stays] for found in was)
        anew = np.ones(count, dtype=bool)
        anew[rows] = False
        fresh = work(np.nonzero(anew)[0])
        if len(rows):
            whole = tuple(np.empty((count, *found.shape[1:]), dtype=found.dtype) for found in fresh)
            for into, old, new in zip(whole, was, fresh, strict=True):
                into[rows], into[anew] = old, new
            fresh = whole
        self._rows[key] = Rows(own, asked, fresh)
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
