"""Whether a change clears a finding, and what it would harm: the rules asked again of every set-up."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..evaluate import Picture
from ..findings.finding import SEVERITY_RANK, Finding
from ..findings.registry import each_finding, findings_beside
from ..model import Scene
from ..tolerances import ROUNDING

Judged = dict[str, tuple[Finding, ...]]

#: A measure may drift by this share of its limit or itself without counting as worse: rounding of places to 0.1 mm.
DRIFT = 0.002


@dataclass(frozen=True, slots=True)
class Harm:
    """A finding that a change makes, or makes worse, and the set-up it is made in."""

    setup: str
    finding: Finding


def judged(whole: Scene, picture: Picture | None = None) -> Judged:
    """What the rules find of every set-up of the scene, by its name, each for itself; with the skins of ``picture``, if given."""
    skins = {} if picture is None else picture.skins
    return judged_in([Picture(whole, setup, skins) for setup in whole.setups])


def judged_in(pictures: Iterable[Picture]) -> Judged:
    """The same of pictures that are there already, one a set-up."""
    return {picture.setup.name: tuple(each_finding(picture)) for picture in pictures}


def is_there(picture: Picture, finding: Finding) -> bool:
    """Whether the rules still find it in any crop, of these things or of some of them."""
    things = set(finding.placements)
    return any(f.code == finding.code and things.issuperset(f.placements) for f in findings_beside(picture, finding.code))


def harm(after: Scene, picture: Picture, cleared: Finding, before: Judged) -> Harm | None:
    """The first finding as grave as the one that is cleared, or graver, that is new or worse after the change, in any set-up."""
    ordered = sorted(after.setups, key=lambda s: s.name != picture.setup.name)  # its own set-up is the likeliest to be harmed
    for setup in ordered:
        for found in each_finding(picture.changed(after, setup.name), cleared.severity):
            if not any(_is_no_worse(found, was) for was in before[setup.name] if was.code == found.code):
                return Harm(setup.name, found)
    return None


def _is_no_worse(now: Finding, was: Finding) -> bool:
    """Whether it is what was there already, of the same things or fewer of them, and no worse."""
    is_of_it = now.crop == was.crop and (now.placements == was.placements or set(now.placements) < set(was.placements))
    return is_of_it and SEVERITY_RANK[now.severity] <= SEVERITY_RANK[was.severity] and now.excess <= was.excess * (1 + DRIFT) + ROUNDING
