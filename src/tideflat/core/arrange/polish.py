"""What is weak in what was found, mended by small moves: the search knows gaps between outlines, this asks every rule."""

from __future__ import annotations

import math
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from multiprocessing import get_context

from ..evaluate import Picture
from ..model import Placement, Scene
from .checked import harmed_elsewhere
from .mend import mend
from .proposal import Proposal, told_of

#: By so much of the frame's diagonal in the mean a polish moves things at the most: what was far enough apart to be shown stays so.
POLISHED_AWAY = 0.004
Job = tuple[Scene, frozenset[str]]


def polished(proposals: Sequence[Proposal], before: frozenset[str], helpers: int) -> list[Proposal]:
    """Each with what is weak in it mended, where that holds. ``before``: codes that the scene shows as it is; ``helpers``: processes."""
    weak = [k for k, p in enumerate(proposals) if p.weaknesses]
    jobs = [(proposals[k].picture.whole, proposals[k].problem.fixed_ids) for k in weak]
    if helpers > 1 and len(jobs) > 1:
        with ProcessPoolExecutor(helpers, mp_context=get_context("fork")) as pool:
            better = list(pool.map(_better, jobs))
    else:
        better = [_better(job) for job in jobs]
    found = list(proposals)
    for k, b in zip(weak, better, strict=True):
        found[k] = proposals[k] if b is None else _taken(proposals[k], b, before)
    return found


def _better(job: Job) -> tuple[Placement, ...] | None:
    """Where things would stand; None where nothing is to be gained."""
    whole, fixed = job
    mended = mend(Picture(whole, whole.setups[0]), fixed)
    if not mended.leads:
        return None
    locked = {p.id: p.locked for p in whole.placements}
    return tuple(replace(p, locked=locked[p.id]) for p in mended.picture.scene.placements)


def _taken(proposal: Proposal, better: tuple[Placement, ...], before: frozenset[str]) -> Proposal:
    """The better of the two that holds."""
    seen = replace(proposal.picture.scene, placements=better)
    made, wrong = told_of(proposal.problem, proposal.curve, proposal.energy, seen, before)
    wrong += harmed_elsewhere(proposal.problem.picture, proposal.problem.beside, made.leads)
    return proposal if wrong or _away(proposal, made) > POLISHED_AWAY else made


def _away(one: Proposal, other: Proposal) -> float:
    """Mean distance, as a share of the frame's diagonal, by which what moves is seen elsewhere."""
    aspect = one.problem.view.aspect
    leads = [one.problem.units[u].lead for u in one.problem.mobile]
    seen = [(a, b) for i in leads if (a := one.picture.things[i].centre) is not None and (b := other.picture.things[i].centre) is not None]
    far = sum(math.hypot((b[0] - a[0]) * aspect, b[1] - a[1]) for a, b in seen)
    return far / math.hypot(aspect, 1.0) / max(1, len(leads))
