"""The search: many chains side by side, each begun along its scheme, one unit moved in all of them at a step, cooled; bounded by moves.

Simulated annealing (Kirkpatrick, Gelatt & Vecchi, Science 220, 1983) with moves of one unit and exchanges of two, over NumPy arrays of
chains. Deterministic for a seed; what is wrong is cooled as what is weak, at FAULT times its weight.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..composition.schemes import Curve
from ..tolerances import PARALLEL
from .energy import FAULT, Judge
from .looks import Looks, between
from .problem import Problem

#: Steps for each unit that moves (half as many from _MANY on, as each costs more), and for all; warmth at the start and the end, in units
#: of the energy.
STEPS_EACH, STEPS_LEAST = 45, 270
_MANY = 24
_WARM, _COLD = 0.7, 0.015
#: Shares of moves: to a place on the scheme, an exchange, a turn; all others are shifts.
_LEAP, _SWAP, _TURN = 0.12, 0.12, 0.16
_TURN_DEG = 35.0
#: For this share of a thorough search the hero keeps the place that it began at.
_HERO_WAITS, _THOROUGH = 0.12, 0.5
#: Lower than this, as the sine of the elevation, a place in the frame is no place on the table: depth is kept instead.
_LEVEL = 0.2


@dataclass(frozen=True, eq=False, slots=True)
class Found:
    """One arrangement: where each unit stands (units, 3) x, y, turn; what it costs; how much of that is wrong; by which curve."""

    places: np.ndarray
    energy: float
    wrong: float
    curve: Curve


class _State:
    """All chains: places (chains, units, 3), and how every unit looks there."""

    def __init__(self, judge: Judge, places: np.ndarray) -> None:
        self.judge, self.places = judge, places
        looks = [judge.looks(u, *places[:, u].T) for u in range(places.shape[1])]
        arrays = (np.stack(a, axis=1) for a in zip(*(k.all for k in looks), strict=True))
        self.arrays: tuple[np.ndarray, ...] = tuple(arrays)
        self.table, self.frame, self.middle, self.depth = self.arrays[:4]
        self.whole = judge.whole(self.middle)

    def looks(self, u: int) -> Looks:
        return Looks(*(a[:, u] for a in self.arrays))

    def change(self, u: int, own: Looks) -> tuple[np.ndarray, np.ndarray]:
        """(chains,) what it would cost more to have unit ``u`` look so, and what the whole would cost then; as it is and as it would be
        are judged in one go."""
        n = len(self.places)
        middle = self.middle.copy()
        middle[:, u] = own.middle
        both = self.looks(u).beside(own)
        weak, wrong = self.judge.cost(u, both, *(np.concatenate([a, a]) for a in (self.table, self.frame, self.depth)))
        cost, whole = weak + FAULT * wrong, self.judge.whole(middle)
        return cost[n:] - cost[:n] + whole - self.whole, whole

    def cost(self, u: int) -> np.ndarray:
        weak, wrong = self.judge.cost(u, self.looks(u), self.table, self.frame, self.depth)
        return weak + FAULT * wrong

    def put(self, u: int, taken: np.ndarray, places: np.ndarray, own: Looks, whole: np.ndarray | None = None) -> None:
        """``whole``: what the whole costs with it; worked out where it is not given."""
        self.places[taken, u] = places[taken]
        for kept, fresh in zip(self.arrays, own.all, strict=True):
            kept[taken, u] = fresh[taken]
        if whole is None:
            self.whole = self.judge.whole(self.middle)
        else:
            self.whole[taken] = whole[taken]

    def totals(self) -> tuple[np.ndarray, np.ndarray]:
        """(energy, wrong) of each chain; pairs are counted from both sides."""
        weak, wrong = self.whole.copy(), np.zeros(len(self.places))
        for u in range(self.places.shape[1]):
            own_weak, own_wrong = self.judge.cost(u, self.looks(u), self.table, self.frame, self.depth)
            weak, wrong = weak + own_weak, wrong + own_wrong
        return weak + FAULT * wrong, wrong


def search(
    problem: Problem,
    chains: tuple[Curve, ...],
    seed: int | tuple[int, ...],
    *,
    effort: float = 1.0,
    goes_on: Callable[[float], bool] = lambda share: True,
) -> list[Found]:
    """An arrangement for each chain. ``goes_on`` is told the share that is done; False stops."""
    judge = Judge(problem, chains)
    rng = np.random.default_rng(seed)
    state = _State(judge, _begun(problem, judge, chains, rng))
    mobile = np.array(problem.mobile, dtype=int)
    others = np.array([u for u in problem.mobile if not problem.units[u].is_hero], dtype=int)
    best = _Best(state)
    if len(mobile) == 0:
        return best.found(chains)
    steps = int(effort * (STEPS_LEAST + STEPS_EACH * min(len(mobile), _MANY) + STEPS_EACH / 2 * max(0, len(mobile) - _MANY)))
    order = np.concatenate([rng.permutation(mobile) for _ in range(steps // len(mobile) + 1)])[:steps]
    waits = _HERO_WAITS if effort >= _THOROUGH else 0.0
    for k, u in enumerate(order.tolist()):
        share = k / steps
        # At first the hero stands where it should, and the others find their places round it.
        able = others if share < waits and len(others) else mobile
        warmth = _WARM * (_COLD / _WARM) ** share
        kind = rng.random()
        if u not in able:
            pass
        elif kind < _SWAP and len(able) > 1:
            _exchange(state, u, int(rng.choice(able[able != u])), warmth, rng)
        else:
            _move(state, u, kind - _SWAP, share, warmth, rng)
        if k % 40 == 39:
            best.see(state)
            if k % 200 == 199 and not goes_on(share):
                break
    best.see(state)
    return best.found(chains)


class _Best:
    """The best that each chain has been."""

    def __init__(self, state: _State) -> None:
        self.energy, self.wrong = state.totals()
        self.places = state.places.copy()

    def see(self, state: _State) -> None:
        energy, wrong = state.totals()
        better = energy < self.energy
        self.energy[better], self.wrong[better], self.places[better] = energy[better], wrong[better], state.places[better]

    def found(self, chains: tuple[Curve, ...]) -> list[Found]:
        return [Found(p.copy(), float(e), float(w), c) for p, e, w, c in zip(self.places, self.energy, self.wrong, chains, strict=True)]


def _accepts(change: np.ndarray, warmth: float, rng: np.random.Generator) -> np.ndarray:
    return change <= -warmth * np.log(np.maximum(rng.random(len(change)), PARALLEL))


def _move(state: _State, u: int, kind: float, share: float, warmth: float, rng: np.random.Generator) -> None:
    judge, unit = state.judge, state.judge.problem.units[u]
    n = len(state.places)
    places = state.places[:, u].copy()
    if unit.turns and kind < _TURN:
        places[:, 2] = between(_turned(judge.problem, places[:, 2], share, rng), -unit.turns, unit.turns)
    elif kind < _TURN + _LEAP and not unit.is_laid:
        places[:, :2] = _on_scheme(judge, u, rng, places[:, :2])
    else:
        x0, y0, x1, y1 = judge.problem.table
        reach = (0.22 * (1 - share) ** 2 + 0.008) * min(_seen_width(judge.problem), x1 - x0)
        places[:, :2] += rng.normal(size=(n, 2)) * reach
    own = judge.looks(u, *places.T)
    change, whole = state.change(u, own)
    state.put(u, _accepts(change, warmth, rng), places, own, whole)


def _exchange(state: _State, u: int, v: int, warmth: float, rng: np.random.Generator) -> None:
    """Two units change places, the turn of each kept."""
    judge = state.judge
    whole = state.whole.copy()
    before = state.cost(u) + state.cost(v) + whole
    old_u, old_v = state.places[:, u].copy(), state.places[:, v].copy()
    kept_u, kept_v = state.looks(u).copied(), state.looks(v).copied()
    new_u, new_v = old_u.copy(), old_v.copy()
    new_u[:, :2], new_v[:, :2] = old_v[:, :2], old_u[:, :2]
    everywhere = np.ones(len(old_u), dtype=bool)
    state.put(u, everywhere, new_u, judge.looks(u, *new_u.T), whole)
    state.put(v, everywhere, new_v, judge.looks(v, *new_v.T))
    after = state.cost(u) + state.cost(v) + state.whole
    refused = ~_accepts(after - before, warmth, rng)
    state.put(u, refused, old_u, kept_u, whole)
    state.put(v, refused, old_v, kept_v, whole)


def _turned(problem: Problem, turn: np.ndarray, share: float, rng: np.random.Generator) -> np.ndarray:
    """A little, or to any side; square to the frame where order leans to squared."""
    if problem.leanings["order"] < -0.3:
        return np.round(turn / 90.0) * 90.0 + 90.0 * rng.integers(-1, 2, len(turn))
    any_way = rng.random(len(turn)) < 0.3 * (1 - share)
    return np.where(any_way, rng.uniform(-180, 180, len(turn)), turn + rng.normal(size=len(turn)) * _TURN_DEG * (1 - 0.8 * share))


def _seen_width(problem: Problem) -> float:
    return float(problem.picture.size_at_aim[0])


def _on_scheme(judge: Judge, u: int, rng: np.random.Generator, there: np.ndarray) -> np.ndarray:
    """A place near each chain's scheme, its target for the hero, as (n, 2) mm on the table."""
    unit = judge.problem.units[u]
    uv = np.array([c.hero if unit.is_hero else c.points[int(rng.integers(len(c.points)))] for c in judge.chains])
    uv = uv + rng.normal(size=uv.shape) * 0.02
    return _seen_at(judge, u, uv, there)


def _seen_at(judge: Judge, u: int, uv: np.ndarray, there: np.ndarray) -> np.ndarray:
    """(n, 2) where unit ``u`` stands when the middle of what counts of it is seen at places of the frame: of a place that is laid, the
    food and not the napkin that leads it."""
    unit = judge.problem.units[u]
    first = on_table(judge.problem, uv, unit.top / 2, there)
    if len(unit.ids) == 1:
        return first
    off = judge.looks(u, first[:, 0], first[:, 1], np.zeros(len(first))).middle / [judge.aspect, 1.0] - uv
    return on_table(judge.problem, uv - off, unit.top / 2, there)


def on_table(problem: Problem, uv: np.ndarray, z: float, there: np.ndarray) -> np.ndarray:
    """(n, 2) where on the table a thing so high, mm, stands that is seen at places of the frame; at eye level its depth is kept."""
    view = problem.view
    rays = view.straight_rays(uv)
    if problem.slant < _LEVEL:
        depth = (np.column_stack([there, np.full(len(there), z)]) - view.position) @ view.forward
        points = view.position + rays * depth[:, None]
        return np.where(np.isfinite(points[:, :2]), points[:, :2], there)
    down = np.where(np.abs(rays[:, 2]) < PARALLEL, -PARALLEL, rays[:, 2])
    along = (z - view.position[2]) / down
    points = view.position + along[:, None] * rays
    x0, y0, x1, y1 = problem.table
    good = along > 0
    found = np.where(good[:, None], points[:, :2], there)
    return np.column_stack([between(found[:, 0], x0, x1), between(found[:, 1], y0, y1)])


def _begun(problem: Problem, judge: Judge, chains: tuple[Curve, ...], rng: np.random.Generator) -> np.ndarray:
    """Each chain's beginning: the hero on its place, the others along the scheme from large to small, far from what stands there."""
    units = problem.units
    places = np.zeros((len(chains), len(units), 3))
    for u, unit in enumerate(units):
        places[:, u, :2] = unit.x, unit.y
    order = sorted(problem.mobile, key=lambda u: (not units[u].is_hero, units[u].is_laid, units[u].is_strewn, -units[u].area))
    for b, curve in enumerate(chains):
        if len(order) == 0:
            break
        taken = [np.array(curve.hero)] if not problem.heroes else []
        fixed = [u for u in range(len(units)) if units[u].is_fixed]
        taken += [(judge.looks(u, *places[b : b + 1, u].T).middle[0]) / [judge.aspect, 1.0] for u in fixed]
        for u in order:
            unit = units[u]
            choices = curve.points[rng.integers(len(curve.points), size=12)] + rng.normal(size=(12, 2)) * 0.025
            if unit.is_outside:
                continue
            if unit.is_hero and len(taken) == 0:
                spot = np.array(curve.hero)
            elif unit.is_laid:
                spot = np.array(curve.hero) + rng.normal(size=2) * 0.12
            else:
                scale = np.array([judge.aspect, 1.0])
                gaps = np.hypot(*((choices[:, None] - np.array(taken).reshape(1, -1, 2)) * scale).transpose(2, 0, 1))
                spot = choices[int(gaps.min(axis=1, initial=10.0).argmax())]
            if not unit.is_laid:
                taken.append(spot)
            places[b, u, :2] = _seen_at(judge, u, spot[None], places[b, u : u + 1, :2])[0]
    return places
