"""Making room: while one thing is carried, what it comes too near to moves out of its way, the least way, and stands again where it stood
once that has left.

Positions are projected onto one broken distance after the other until none is left (position based dynamics: Mueller et al., J. Visual
Communication and Image Representation 18, 2007, from memory), then each is drawn back as far as it may. Everything follows from where
things stood and where the carried one is: nothing is remembered between two places of the hand.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..evaluate import Picture
from ..table.carrying import moving_with
from ..tolerances import STANDS_ALIKE_MM
from .looks import DOWN, LEFT, OPPOSITE, RIGHT, UP
from .problem import ANGLES, DIRECTIONS, WAYS, Problem, Unit, problem_of, unit_of

#: Rounds over all pairs, and how far short of its distance a pair may stay, mm.
_ROUNDS, _SHORT_MM = 120, 0.05
#: So many steps of the directions to one side goes what is caught between two.
_ASIDE = 2
#: What is not large keeps this much clear, mm [practice].
_LEAST_GAP_MM = 1.0
#: How far back a thing is drawn toward where it stood, halved so often.
_HALVINGS = 7
Place = tuple[float, float]


@dataclass(frozen=True, eq=False)
class _Table:
    """reach (n, WAYS) from each place; need (n, n) mm between two; free (n,): may move; low, high (n, 2): where it may stand."""

    reach: np.ndarray
    need: np.ndarray
    free: np.ndarray
    low: np.ndarray
    high: np.ndarray

    def gap(self, places: np.ndarray, i: int, j: int) -> tuple[float, int]:
        """(the widest gap that parts two, mm, below 0 where they overlap; the way from the first to the second that it is in)."""
        ways = (places[i] - places[j]) @ DIRECTIONS.T + self.reach[i] + self.reach[j][OPPOSITE]
        k = int(ways.argmin())
        return -float(ways[k]), k

    def gaps(self, places: np.ndarray) -> np.ndarray:
        """(n, n) the same of all."""
        there = places @ DIRECTIONS.T + self.reach
        return np.asarray(-((there[:, None] + there[None, :, OPPOSITE]).min(axis=2)))


def make_room(picture: Picture, held: str, x: float, y: float, apart: Iterable[str] = ()) -> dict[str, Place]:
    """Where the others would stand, mm, by id, were ``held`` carried to x, y: those only that would stand elsewhere than now. Nothing
    locked moves, nothing leaves the table, what lies on a thing goes with it. ``apart``: what is not to give way, such as the dish that
    it is laid on. Raises FieldError for what is not there."""
    carried = picture.scene.placement(held)
    problem = problem_of(picture)
    apart = set(apart)
    with_it = set(moving_with(picture.scene, held)) | {held}
    hand = _hand(picture, held, with_it)
    others = [u for u in problem.units if u.reach is not None and not (with_it | apart) & set(u.ids)]
    if hand is None or not others:
        return {}
    units = [hand, *others]
    stood = np.array([[u.x, u.y] for u in units])
    table = _table(problem, picture, units, stood)
    places = stood.copy()
    places[0] += [x - carried.x, y - carried.y]
    places = _parted(table, places, stood)
    _drawn_back(table, places, stood)
    found: dict[str, Place] = {}
    for unit, (dx, dy) in zip(others, places[1:] - stood[1:], strict=True):
        if np.hypot(dx, dy) > STANDS_ALIKE_MM:
            found.update({i: _shifted(picture, i, dx, dy) for i in _leads(picture, unit)})
    return found


def _shifted(picture: Picture, i: str, dx: float, dy: float) -> Place:
    p = picture.scene.placement(i)
    return round(float(p.x + dx), 1), round(float(p.y + dy), 1)


def _leads(picture: Picture, unit: Unit) -> list[str]:
    """Of what moves as one, those that nothing else of it carries."""
    carried = {j for i in unit.ids for j in picture.scene.carried_by(i)}
    return [i for i in unit.ids if i not in carried]


def _hand(picture: Picture, held: str, with_it: set[str]) -> Unit | None:
    """What is carried, with all that goes along, wherever it lies; None where it gives way itself, as cloth does, or hangs over all."""
    placed = {i: picture.scene.placement(i) for i in picture.bodies}
    ids = (held, *(i for i in picture.bodies if i in with_it and i != held))
    if held not in placed or placed[held].held_by in ("arm", "thread", "hand"):
        return None
    unit = unit_of(picture, placed, placed[held], ids, is_fixed=True)
    return unit if unit.reach is not None else None


def _table(problem: Problem, picture: Picture, units: list[Unit], stood: np.ndarray) -> _Table:
    at = np.degrees(ANGLES).round().astype(int)
    reach = np.array([u.reach[at] for u in units if u.reach is not None])
    large = np.array([u.is_hero or u.role in ("support", "accent") for u in units])
    wanted = np.where(large[:, None] & large[None], max(problem.gap_mm, _LEAST_GAP_MM), _LEAST_GAP_MM)
    x0, y0, x1, y1 = problem.table
    low = np.column_stack([x0 + reach[:, LEFT], y0 + reach[:, UP]])
    high = np.column_stack([x1 - reach[:, RIGHT], y1 - reach[:, DOWN]])
    low, high = np.minimum(low, stood), np.maximum(high, stood)  # what reaches past an edge already may stay so
    table = _Table(reach, wanted, ~np.array([u.is_fixed for u in units]), low, high)
    need = np.minimum(wanted, table.gaps(stood))  # two that stand nearer already need not part: only what comes makes room
    need[0], need[:, 0] = wanted[0], wanted[:, 0]
    for k, unit in enumerate(units[1:], 1):
        if not _may_meet(picture, units[0], unit):
            need[0, k] = need[k, 0] = -np.inf
    return _Table(reach, need, table.free, low, high)


def _may_meet(picture: Picture, one: Unit, other: Unit) -> bool:
    """Whether they have some height in common."""
    spans = []
    for unit in (one, other):
        solid = [picture.bodies[i] for i in unit.ids if not picture.bodies[i].is_soft]
        spans.append((min(b.z_min for b in solid), max(b.z_max for b in solid)))
    (a, b), (c, d) = spans
    return a < d and c < b


def _parted(table: _Table, begun: np.ndarray, stood: np.ndarray) -> np.ndarray:
    """Places at which all distances hold. Straight away from what comes, or, for what is caught between two, past it to one side or the
    other: of these what lacks least, and then moves least."""
    best: tuple[float, float, np.ndarray] | None = None
    for aside in (0, _ASIDE, -_ASIDE):
        places = begun.copy()
        short = _part(table, places, aside)
        way = float(np.hypot(*(places - stood).T)[1:].sum())
        if best is None or (short, way) < best[:2]:
            best = short, way, places
        if aside == 0 and short == 0:
            break
    assert best is not None
    return best[2]


def _part(table: _Table, places: np.ndarray, aside: int) -> float:
    """Every broken distance mended by moving what may move, the carried one never, until all hold or the rounds are over; what is then
    still lacking, mm. ``aside``: steps of the directions to the left of straight away."""
    for _ in range(_ROUNDS):
        short = np.triu(table.need - table.gaps(places), 1)
        broken = [(i, j) for i, j in zip(*np.nonzero(short > _SHORT_MM), strict=True) if table.free[i] or table.free[j]]
        if not broken:
            return 0.0
        for i, j in sorted(broken, key=lambda ij: (min(ij), -short[ij])):
            gap, way = table.gap(places, i, j)
            lacks = table.need[i, j] - gap
            if lacks <= 0:
                continue
            both = table.free[i] and table.free[j]
            for k, sign in ((i, -1.0), (j, 1.0)):
                if table.free[k]:
                    moved = places[k] + sign * DIRECTIONS[(way + aside) % WAYS] * lacks * (0.5 if both else 1.0)
                    places[k] = np.minimum(np.maximum(moved, table.low[k]), table.high[k])
    return float(sum(short[ij] for ij in broken))


def _drawn_back(table: _Table, places: np.ndarray, stood: np.ndarray) -> None:
    """Each that moved as far back toward where it stood as it may, those that moved furthest first."""
    moved = np.hypot(*(places - stood).T) * table.free
    for k in np.argsort(-moved).tolist():
        if moved[k] <= STANDS_ALIKE_MM:
            continue
        now, far = places[k].copy(), places[k].copy()
        before = _lacking(table, places, k)
        low, high = 0.0, 1.0
        for halving in range(_HALVINGS):
            share = 1.0 if halving == 0 else (low + high) / 2
            places[k] = far + share * (stood[k] - far)
            if _lacking(table, places, k) <= before + _SHORT_MM:
                now, low = places[k].copy(), share
                if share == 1.0:
                    break
            else:
                high = share
        places[k] = now


def _lacking(table: _Table, places: np.ndarray, k: int) -> float:
    """How much it lacks of its distances to all others, mm."""
    there = places @ DIRECTIONS.T + table.reach
    gaps = -((there[k] + there[:, OPPOSITE]).min(axis=1))
    short = np.maximum(0.0, table.need[k] - gaps)
    short[k] = 0.0
    return float(short.sum())
