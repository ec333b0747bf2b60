"""What a search found, put on the table and judged by the rules that judge everything else: nothing that they would stop is proposed."""

from __future__ import annotations

from dataclasses import replace

from ..acts.arranging import Arrange
from ..acts.registry import tried
from ..errors import FieldError
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.registry import RULES, findings
from ..model import Placement, Scene
from ..table.carrying import carried_along, wrapped
from .elsewhere import Elsewhere
from .problem import OUTSIDE, Problem
from .search import Found

#: What no proposal may show, by the code of its finding.
NEVER = frozenset({"spacing.overlap", "support.floating", "support.leaning", "hero.cut", "hero.hidden", "copy.occupied"})
#: And not where the scene as it is does not show it either.
NOT_NEW = frozenset({"feature.hidden", "feature.turned"})
#: Of a hero's outline so much may be hidden; of anything else so much is in the frame at the least.
HIDDEN, IN_FRAME = 0.05, OUTSIDE
#: Places are proposed to a tenth of a mm, turns to a tenth of a degree.
_DIGITS = 1


def laid(problem: Problem, found: Found) -> Scene:
    """The scene as it stands in the set-up, with every unit where it was found, what each carries along."""
    seen = problem.picture.scene
    for u in problem.mobile:
        unit = problem.units[u]
        x, y, turn = (round(float(v), _DIGITS) for v in found.places[u])
        lead = seen.placement(unit.lead)
        goal = replace(lead, x=x, y=y, turn=wrapped(lead.turn + turn) if turn else lead.turn)
        if goal != lead:
            group = seen.group_of(unit.lead)
            seen = carried_along(seen, lead, goal, also=group.placements if group else ())
    return seen


def picture_of(problem: Problem, seen: Scene) -> Picture:
    """The arrangement as a picture: of this set-up alone, everything as it stands in it."""
    setup = replace(problem.setup, differs=(), swap=())
    return Picture(replace(seen, setups=(setup,)), setup, problem.picture.skins)


def is_wrong(picture: Picture, before: frozenset[str] = frozenset()) -> bool:
    """Whether the rules find what no proposal may show; asks those alone, and stops at the first."""
    never = NEVER | (NOT_NEW - before)
    return any(f.code in never for rule in RULES if never & {kind.code for kind in rule.kinds} for f in rule.find(picture))


def faults(
    picture: Picture,
    before: frozenset[str] = frozenset(),
    judged: tuple[Finding, ...] | None = None,
    stays: frozenset[str] = frozenset(),
) -> list[str]:
    """What stands in the way of proposing it, in plain words; none where nothing does. ``before``: codes that the scene shows already.
    ``stays``: what is not moved, which need not be in the frame."""
    told = [
        f.message
        for f in (findings(picture) if judged is None else judged)
        if f.code in NEVER or (f.code in NOT_NEW and f.code not in before)
    ]
    for i, thing in picture.things.items():
        placement, name = picture.scene.placement(i), picture.props[i].name
        if placement.role == "off-frame":
            continue
        if placement.role == "hero" and thing.visible_share < 1 - HIDDEN and not picture.scene.carried_by(i):
            told.append(f"{name} is hidden by {100 * (1 - thing.visible_share):.0f} %")
        if i not in stays and thing.inside_frame_share < IN_FRAME:
            told.append(f"{name} is not in the frame")
    return told


def harmed_elsewhere(picture: Picture, beside: tuple[Elsewhere, ...], leads: tuple[Placement, ...]) -> list[str]:
    """What no proposal may show, made new in another set-up by moving these: in plain words; none where nothing is."""
    if not beside or not leads:
        return []
    act = Arrange(placements=tuple(p.id for p in leads), places=tuple((p.x, p.y, p.turn) for p in leads), setup=picture.setup.name)
    try:
        after = tried(picture.whole, [act])
    except FieldError as error:
        return [str(error)]
    return [
        f"in {e.picture.setup.name}, {found.message}"
        for e in beside
        for found in findings(picture.changed(after, e.picture.setup.name))
        if found.code in NEVER | NOT_NEW and any(part.key not in e.had for part in found.each)
    ]
