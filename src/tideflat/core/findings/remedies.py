"""Search the change that clears a finding and harms nothing as grave: every candidate is tried and judged in full."""

from __future__ import annotations

from itertools import chain, islice

from ..camera.stance import shortfall_over_surface_mm
from ..errors import FieldError
from ..evaluate import Picture
from ..formats.scene_writer import scene_value
from ..model import Scene
from ..weight import weigh
from .candidates import Candidate, candidates
from .exchanges import NO_STORES, Stores, exchanges
from .finding import SEVERITY_RANK, Finding, Remedy, Severity
from .registry import each_finding, findings, findings_of_family

#: How many candidates are tried before the answer is that there is none; fewer, down to LEAST_CANDIDATES, where each costs much.
MOST_CANDIDATES, LEAST_CANDIDATES = 90, 4
#: Up to these points (core/weight.py) all candidates are tried; beyond, what one costs grows faster than the points do.
_LIGHT_POINTS = 150.0

Judged = dict[str, tuple[Finding, ...]]

#: A measure may drift by this share of its limit or itself without counting as worse: rounding of places to 0.1 mm.
DRIFT = 0.002


def judged(picture: Picture) -> Judged:
    """The findings of every set-up of the picture's scene, by its name."""
    return {setup.name: findings(picture.changed(picture.scene, setup.name)) for setup in picture.scene.setups}


def remedy_for(picture: Picture, finding: Finding, before: Judged | None = None, stores: Stores = NO_STORES) -> Remedy | None:
    """The smallest change found that clears ``finding``; None when no candidate does without harm.

    ``before``: the findings of every set-up now, when already known. A remedy leaves no other finding of equal or higher
    severity new or worse in any set-up, and moves nothing locked. ``stores``: props and surfaces that may take a thing's place.
    """
    before = judged(picture) if before is None else before
    for candidate in islice(chain(candidates(picture, finding), exchanges(picture, finding, stores)), most_candidates(picture.scene)):
        if _clears(candidate, picture, finding) and _harmless(candidate.scene, picture, finding, before):
            return Remedy(candidate.kind, candidate.figures, candidate.sentence, patch(picture.scene, candidate.scene))
    return None


def most_candidates(scene: Scene) -> int:
    """How many candidates are tried in this scene: a count of its own, whatever machine it is worked on."""
    share = _LIGHT_POINTS / max(weigh(scene).judged, _LIGHT_POINTS)
    return max(LEAST_CANDIDATES, int(MOST_CANDIDATES * share**1.5))


def _sinks(after: Picture, before: Picture) -> bool:
    """Whether the change would bring the lens nearer the surface than it may stand, or nearer still."""
    now, was = (shortfall_over_surface_mm(p.setup.camera, p.scene.surface) for p in (after, before))
    return now > was


def _clears(candidate: Candidate, picture: Picture, finding: Finding) -> bool:
    after = picture.changed(candidate.scene)
    try:
        if _sinks(after, picture):
            return False
        return all(f.key != finding.key for f in findings_of_family(after, finding.code))
    except FieldError:  # optics or crop that cannot be
        return False


def _harmless(scene: Scene, picture: Picture, cleared: Finding, before: Judged) -> bool:
    ordered = sorted(scene.setups, key=lambda s: s.name != picture.setup.name)  # its own set-up is the likeliest to be harmed
    try:
        return all(
            _is_no_worse(picture.changed(scene, setup.name), cleared.severity, {f.key: f for f in before[setup.name]}) for setup in ordered
        )
    except FieldError:  # optics or crop that cannot be
        return False


def _is_no_worse(picture: Picture, least: Severity, old: dict[tuple[str, tuple[str, ...], str | None], Finding]) -> bool:
    for f in each_finding(picture, least):
        was = old.get(f.key)
        if was is None or SEVERITY_RANK[f.severity] > SEVERITY_RANK[was.severity]:
            return False
        if f.excess > was.excess * (1 + DRIFT) + 1e-9:
            return False
    return True


def patch(before: Scene, after: Scene) -> tuple[tuple[str, object], ...]:
    """What changed, as (JSON pointer, new value) with whole values at the deepest object that keeps its keys."""
    return tuple(_differences(scene_value(before), scene_value(after), ""))


def _differences(old: object, new: object, path: str) -> list[tuple[str, object]]:
    if old == new:
        return []
    if isinstance(old, dict) and isinstance(new, dict) and old.keys() == new.keys():
        return [d for key in old for d in _differences(old[key], new[key], f"{path}/{key}")]
    if isinstance(old, list) and isinstance(new, list) and len(old) == len(new) and old and isinstance(old[0], dict):
        return [d for i in range(len(old)) for d in _differences(old[i], new[i], f"{path}/{i}")]
    return [(path, new)]


#: Why there may be no remedy: what would have to give, by code.
WOULD_HAVE_TO_GIVE: dict[str, str] = {
    "hero.missing": "add a thing and give it the role of hero",
    "hero.several": "decide which one leads",
    "hero.cut": "a wider crop, a shorter lens, or a smaller hero would have to give",
    "hero.small": "a tighter crop, a longer lens, or a larger hero would have to give",
    "spacing.overlap": "one of the two, or what stands around them, would have to leave",
    "spacing.tight": "what stands around them would have to make room",
    "tangent.pair": "what stands around them would have to make room, or the camera move",
    "tangent.edge": "the crop or what stands around it would have to give",
    "edge.sliver": "the crop or what stands around it would have to give",
    "rig.ceiling": "a shorter lens or a lower table would have to give",
    "lens.min_focus": "a lens that focuses nearer, or extension, would have to give",
    "lens.too_far": "less extension would have to give",
    "surface.edge": "a larger surface, a tighter crop, or a longer lens would have to give",
    "backdrop.narrow": "a wider or higher backdrop, or a longer lens, would have to give",
    "focus.hero": "a smaller sensor area, more distance, or a stack of frames would have to give",
    "copy.occupied": "the room for words, or the things in it, would have to give",
    "support.floating": "hold it with something, or put something under it",
    "copy.illegible": "a darker or lighter surface, or another place for the words, would have to give",
    "colour.merge": "another surface, or another such thing in the stores, would have to give",
    "colour.lighter": "a darker such thing in the stores, or a lighter hero, would have to give",
    "colour.louder": "a quieter such thing in the stores would have to give",
    "colour.lone_dark": "an echo of it elsewhere would settle it",
    "colour.lone_light": "an echo of it elsewhere would settle it",
    "palette.off": "such a thing in the palette's colours, or the palette itself, would have to give",
    "palette.many": "take away what carries the least of the story",
    "palette.accent_missing": "bring in something of the accent's colour",
    "palette.accent_lonely": "bring in a second thing of the accent's colour, a small one will do",
    "sameness.outline": "a straight edge among curves, or a curve among straight edges, would wake it",
    "sameness.texture": "a rough thing among smooth ones, or a smooth one among rough, would wake it",
    "sameness.gloss": "a dull thing among shining ones would calm it",
    "sameness.sizes": "two alike, or two that differ plainly, in the stores would have to give",
    "story.unrelated": "tell in the story what it does there, or take it away",
}
