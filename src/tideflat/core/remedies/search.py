"""Search the change that clears a finding and harms nothing as grave: every candidate is tried and judged in full."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice

from ..errors import FieldError
from ..evaluate import Picture
from ..findings.finding import SEVERITY_RANK, Finding, Severity
from ..findings.registry import KINDS, each_finding, findings, findings_beside
from ..model import Scene
from ..tolerances import ROUNDING
from ..weight import weigh
from . import camera_moves, exchanges, heroes, moves
from .candidate import NO_STORES, Candidate, Maker, Remedy, Stores
from .patch import patch

#: How many candidates are tried before the answer is that there is none; fewer, down to LEAST_CANDIDATES, where each costs much.
MOST_CANDIDATES, LEAST_CANDIDATES = 90, 4
#: Up to these points (core/weight.py) all candidates are tried; beyond, what one costs grows faster than the points do.
_LIGHT_POINTS = 150.0

Judged = dict[str, tuple[Finding, ...]]

#: A measure may drift by this share of its limit or itself without counting as worse: rounding of places to 0.1 mm.
DRIFT = 0.002

#: Every maker of candidates by the name that kinds of findings declare.
MAKERS: dict[str, Maker] = {**moves.MAKERS, **camera_moves.MAKERS, **heroes.MAKERS, **exchanges.MAKERS}


def judged(whole: Scene, picture: Picture | None = None) -> Judged:
    """The findings of every set-up of the scene, by its name; with the skins of ``picture``, if given."""
    skins = {} if picture is None else picture.skins
    return {setup.name: findings(Picture(whole, setup, skins)) for setup in whole.setups}


def candidates(picture: Picture, finding: Finding, stores: Stores = NO_STORES) -> Iterator[Candidate]:
    """What may clear the finding, the likeliest first."""
    for name in KINDS[finding.code].makers:
        yield from MAKERS[name](picture, finding, stores)


def remedy_for(picture: Picture, finding: Finding, before: Judged | None = None, stores: Stores = NO_STORES) -> Remedy | None:
    """The smallest change found that clears ``finding``; None when no candidate does without harm.

    ``before``: the findings of every set-up now, when already known. A remedy leaves no other finding of equal or higher
    severity new or worse in any set-up, and moves nothing locked. ``stores``: props and surfaces that may take a thing's place.
    """
    before = judged(picture.whole, picture) if before is None else before
    for candidate in islice(candidates(picture, finding, stores), most_candidates(picture.whole)):
        try:
            after = candidate.after(picture)
            if _clears(after, picture, finding) and _harmless(after, picture, finding, before):
                return Remedy(candidate.kind, candidate.figures, candidate.sentence, candidate.acts, patch(picture.whole, after))
        except FieldError:  # something locked elsewhere, or optics or a crop that cannot be
            continue
    return None


def most_candidates(scene: Scene) -> int:
    """How many candidates are tried in this scene: a count of its own, whatever machine it is worked on."""
    share = _LIGHT_POINTS / max(weigh(scene).judged, _LIGHT_POINTS)
    return max(LEAST_CANDIDATES, int(MOST_CANDIDATES * share**1.5))


def _clears(after: Scene, picture: Picture, finding: Finding) -> bool:
    return all(f.key != finding.key for f in findings_beside(picture.changed(after), finding.code))


def _harmless(after: Scene, picture: Picture, cleared: Finding, before: Judged) -> bool:
    ordered = sorted(after.setups, key=lambda s: s.name != picture.setup.name)  # its own set-up is the likeliest to be harmed
    return all(
        _is_no_worse(picture.changed(after, setup.name), cleared.severity, {f.key: f for f in before[setup.name]}) for setup in ordered
    )


def _is_no_worse(picture: Picture, least: Severity, old: dict[tuple[str, tuple[str, ...], str | None], Finding]) -> bool:
    for f in each_finding(picture, least):
        was = old.get(f.key)
        if was is None or SEVERITY_RANK[f.severity] > SEVERITY_RANK[was.severity]:
            return False
        if f.excess > was.excess * (1 + DRIFT) + ROUNDING:
            return False
    return True
