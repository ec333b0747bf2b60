"""What is weak in an arrangement mended by moving things as little as may be, without undoing what was decided.

Each finding above the line in turn, the gravest first, is given the smallest move or turn that is proven to clear it and to harm nothing as
grave (core/remedies); nothing locked moves, nothing is exchanged, the camera stays. It goes on until nothing more can be mended so.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

from ..acts.registry import tried
from ..acts.things import Move
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.merging import meant_of
from ..findings.registry import as_causes
from ..model import Placement
from ..remedies.candidate import Candidate
from ..remedies.proof import Judged, judged
from ..remedies.search import Allowed, remedy_for
from ..table.carrying import moving_with
from .checked import IN_FRAME
from .compare import Moved, moves

#: Only these acts move things and do nothing else.
_MOVING = frozenset({"move", "turn"})
#: What shows no more of itself than this may leave the picture.
_PEEK = 0.05
#: So many findings are mended one after the other at the most.
_MOST = 24


@dataclass(frozen=True, eq=False)
class Mended:
    """picture: the set-up as it would be. leads: what is moved for itself, as it would stand. cleared, left: findings above the line."""

    picture: Picture
    leads: tuple[Placement, ...]
    moved: tuple[Moved, ...]
    cleared: tuple[Finding, ...]
    left: tuple[Finding, ...]

    @property
    def total_mm(self) -> float:
        return sum(m.mm for m in self.moved if not m.is_carried)


def mend(picture: Picture, keep: Iterable[str] = (), goes_on: Callable[[float], bool] = lambda share: True) -> Mended:
    """The set-up mended. ``keep``: placements that stay where they are, as if they were locked."""
    kept = frozenset(keep)
    whole = replace(picture.whole, placements=tuple(replace(p, locked=True) if p.id in kept else p for p in picture.whole.placements))
    start = now = picture.changed(whole)
    refused: set[tuple[str, tuple[str, ...]]] = set()
    before = judged(now.whole, now)
    first = left = _above(now, before)
    for k in range(_MOST):
        finding = next((f for f in left if (f.code, f.placements) not in refused), None)
        if finding is None or not goes_on(k / _MOST):
            break
        remedy = remedy_for(now, finding, before, allowed=_allowed(now))
        if remedy is None:
            refused.add((finding.code, finding.placements))
            continue
        now = now.changed(tried(now.whole, remedy.acts))
        before = judged(now.whole, now)
        left = _above(now, before)
    moved = moves(start, now)
    leads = (now.scene.placement(m.id) for m in moved if not m.is_carried)
    gone = tuple(f for f in first if not any(f.code == g.code and set(f.placements) >= set(g.placements) for g in left))
    return Mended(now, tuple(replace(p, locked=picture.scene.placement(p.id).locked) for p in leads), moved, gone, left)


def _above(picture: Picture, before: Judged) -> tuple[Finding, ...]:
    """What is above the line: to be mended, and not kept as meant; the gravest first."""
    return tuple(f for f in as_causes(picture, before[picture.setup.name]) if _counts(picture, f))


def _counts(picture: Picture, finding: Finding) -> bool:
    return finding.severity != "taste" and meant_of(picture, finding.code, finding.placements) is None


def _allowed(picture: Picture) -> Allowed:
    return lambda candidate: _moves(candidate) and _stays_in_frame(picture, candidate)


def _stays_in_frame(picture: Picture, candidate: Candidate) -> bool:
    """Nothing that is seen is taken out of the picture: that would clear a sliver too, but is not what was laid there for."""
    try:
        after = picture.changed(candidate.after(picture))
    except FieldError:
        return False
    shown = {act.placement for act in candidate.acts if isinstance(act, Move)}
    ids = {i for k in shown for i in moving_with(after.scene, k) if i in picture.things}
    return all(after.things[i].inside_frame_share >= IN_FRAME for i in ids if picture.things[i].inside_frame_share > _PEEK)


def _moves(candidate: Candidate) -> bool:
    return all(act.act in _MOVING for act in candidate.acts)
