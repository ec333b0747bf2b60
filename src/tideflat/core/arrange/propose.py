"""Arrangements worth starting from: searched, put on the table, judged, and told in words."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from multiprocessing import get_context

import numpy as np

from ..composition.schemes import LOW, Curve, curves
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.registry import findings
from ..model import LEFT_OUT, SCHEMES, Scene, Scheme
from .checked import harmed_elsewhere, is_wrong, laid, picture_of
from .choose import DISTINCT, in_turn, middles_of, unlike
from .energy import Judge
from .impossible import why_not
from .polish import POLISHED_AWAY, polished
from .problem import Problem, problem_of
from .proposal import Proposal, told_of
from .reading import clarity, distances
from .search import Found, search

#: Chains side by side for each proposal that is asked for, and at the least.
_CHAINS_EACH, _CHAINS_LEAST = 4, 36
#: So many of what was found are looked at for each proposal wanted.
_LOOKED_AT = 5
#: What is wrong by no more than this may hold by the rules, which see true outlines; of what is more wrong so many are looked at for each
#: proposal wanted, where there is too little else.
_RIGHT, _SPARE = 0.05, 4
#: No more is asked for at once.
MOST = 24


@dataclass(frozen=True, eq=False)
class Proposals:
    """reason: why there are none, and what is nearest to what was wished; None where there are."""

    proposals: tuple[Proposal, ...]
    reason: str | None = None


#: Chains are searched in so many parts, each with a seed of its own.
_PARTS = 2
_FIRST_EFFORT = 0.2
GoesOn = Callable[[float], bool]
#: Told the share that is done and what there is by then; False stops.
Watch = Callable[[float, tuple[Proposal, ...]], bool]


def propose(
    picture: Picture,
    *,
    scheme: Scheme | str | None = None,
    count: int = 8,
    seed: int = 1,
    keep: Iterable[str] = (),
    effort: float = 1.0,
    helpers: int = 1,
    is_first_look: bool = False,
    is_polished: bool = True,
    together: bool = False,
    watch: Watch = lambda share, there: True,
) -> Proposals:
    """``count`` arrangements that differ, the strongest first. ``scheme``: one to follow; "any"; None for the set-up's own, if it has one.
    ``keep``: placements that stay where they are. ``helpers``: processes to search with; what is found is the same with any.
    ``is_first_look``: one chain a scheme and hardly any moves, for something to see at once. ``is_polished``: what the rules find in them
    is mended by small moves. ``together``: for all set-ups that share the table; none of them is harmed.
    Raises FieldError for a count or a scheme that there is not."""
    if not 1 <= count <= MOST:
        raise FieldError("count", f"must be at least 1 and at most {MOST}", count)
    if scheme is None:
        own = picture.scene.scheme
        scheme = None if own is LEFT_OUT else own
    wanted = None if isinstance(scheme, str) else scheme
    problem = problem_of(picture, keep, together=together)
    every = curves(problem.layout, wanted)
    reason = why_not(problem, every, wanted)
    if reason is not None:
        return Proposals((), reason)
    chains = every * max(1, -(-max(_CHAINS_LEAST, _CHAINS_EACH * count) // len(every)))
    parts_wanted = _PARTS
    if is_first_look:
        chains, parts_wanted, effort = tuple({c.kind: c for c in every}.values()), 1, _FIRST_EFFORT
    before = findings(picture)
    readings = every if wanted is None else (*every, *(c for c in curves(problem.layout) if c.kind != wanted.kind))
    chosen = _Chosen(problem, count, frozenset(f.code for f in before), readings, is_any=wanted is None)

    def goes_on(share: float) -> bool:
        return watch(0.9 * share, ())

    name, kept = picture.setup.name, frozenset(keep)
    parts = [_Part(picture.whole, name, kept, chains[k::parts_wanted], (seed, k), effort, together) for k in range(parts_wanted)]
    found = _searched_beside(parts, goes_on) if min(helpers, len(parts)) > 1 else _one_by_one(parts, problem, goes_on)
    for proposal in chosen.of(found):
        if not watch(0.9 + 0.1 * len(chosen.taken) / count, (*chosen.taken, proposal)):
            break
    if not chosen.taken:
        return Proposals((), f"nothing was found that holds: {chosen.nearest or 'the things have no room there'}")
    taken = chosen.taken if is_first_look or not is_polished else polished(chosen.taken, chosen.before, helpers)
    return Proposals(tuple(sorted(taken, key=lambda p: p.energy)))


@dataclass(frozen=True, eq=False)
class _Part:
    """Some of the chains, for whichever process: everything that a search follows from."""

    scene: Scene
    setup: str
    keep: frozenset[str]
    chains: tuple[Curve, ...]
    seed: tuple[int, int]
    effort: float
    together: bool


def _searched(part: _Part, problem: Problem | None = None, goes_on: GoesOn = lambda share: True) -> list[Found]:
    if problem is None:
        problem = problem_of(Picture(part.scene, part.scene.setup(part.setup)), part.keep, together=part.together)
    return search(problem, part.chains, part.seed, effort=part.effort, goes_on=goes_on)


def _one_by_one(parts: list[_Part], problem: Problem, goes_on: GoesOn) -> list[Found]:
    found: list[Found] = []
    for k, part in enumerate(parts):
        goes = [True]

        def within(share: float, k: int = k, goes: list[bool] = goes) -> bool:
            goes[0] = goes_on((k + share) / len(parts))
            return goes[0]

        found += _searched(part, problem, within)
        if not goes[0]:
            break
    return found


def _searched_beside(parts: list[_Part], goes_on: GoesOn) -> list[Found]:
    """The first here, the others each in a process beside this one, which must have no threads."""
    with ProcessPoolExecutor(len(parts) - 1, mp_context=get_context("fork")) as pool:
        beside = [pool.submit(_searched, part) for part in parts[1:]]
        found = _searched(parts[0], None, goes_on)
        return [*found, *(f for one in beside for f in one.result())]


class _Chosen:
    """Those that hold by every rule and differ from each other."""

    def __init__(self, problem: Problem, count: int, before: frozenset[str], readings: tuple[Curve, ...], *, is_any: bool) -> None:
        self.problem, self.count, self.before = problem, count, before
        self.readings, self.is_any = readings, is_any
        self.taken: list[Proposal] = []
        self.nearest = ""
        self._middles: list[np.ndarray] = []

    def of(self, found: list[Found]) -> Iterator[Proposal]:
        problem = self.problem
        able = sorted(found, key=lambda f: (f.wrong > _RIGHT, f.energy))[: max(self.count * _LOOKED_AT, 24)]
        right = sum(f.wrong <= _RIGHT for f in able)
        able = able[: max(right, self.count * _SPARE)]
        middles = list(middles_of(Judge(problem, ()), able))
        able, clear = self._read(able, middles)
        for k in in_turn(problem, middles, [f.energy for f in able], [f.curve.kind for f in able], clear):
            if len(self.taken) == self.count:
                return
            if any(unlike(problem, middles[k], m) < DISTINCT + 2 * POLISHED_AWAY for m in self._middles):
                continue
            proposal = self._checked(able[k])
            if proposal is not None:
                self.taken.append(proposal)
                self._middles.append(middles[k])
                yield proposal

    def _read(self, able: list[Found], middles: list[np.ndarray]) -> tuple[list[Found], list[float]]:
        """As they are, or, where any scheme would do, as what they read as; and how clearly each reads as that."""
        if self.problem.slant < LOW:
            return able, [0.0] * len(able)  # at eye level all lies in one line, whatever its scheme
        kinds = [c.kind for c in self.readings]
        found, clear = [], []
        for f, m in zip(able, middles, strict=True):
            far = distances(self.problem, m, self.readings)
            nearest = self.readings[int(far.argmin())]
            read = replace(f, curve=nearest) if self.is_any and nearest.kind != f.curve.kind else f
            found.append(read)
            clear.append(clarity(far, kinds, read.curve.kind))
        return found, clear

    def _checked(self, found: Found) -> Proposal | None:
        seen = laid(self.problem, found)
        if self.nearest and is_wrong(picture_of(self.problem, seen), self.before):
            return None  # why it cannot be was told of the first, the nearest
        proposal, told = told_of(self.problem, found.curve, found.energy, seen, self.before)
        told += [] if told else harmed_elsewhere(self.problem.picture, self.problem.beside, proposal.leads)
        if told:
            self.nearest = self.nearest or f"in the nearest that was found, {told[0]}"
        return None if told else proposal


def scheme_named(text: str) -> Scheme | str:
    """A scheme by its name, or ``any``. Raises FieldError."""
    if text != "any" and text not in SCHEMES:
        raise FieldError("scheme", "must be any, or one of " + ", ".join(SCHEMES), text)
    return text if text == "any" else Scheme(text)
