"""All families of findings, run over one computed set-up."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from ..evaluate import Picture
from . import camera_reach, copy_space, edges, focus, hero, palette_kept, spacing, standing_out, support, surroundings, variety
from .finding import SEVERITY_RANK, Finding, Severity

Family = Callable[[Picture], Iterable[Finding]]

#: Family before the point of a code, and what judges it.
FAMILIES: dict[str, tuple[Family, ...]] = {
    "spacing": (spacing.find,),
    "tangent": (edges.find_pairs, edges.find_edges),
    "edge": (edges.find_slivers,),
    "rig": (camera_reach.find_ceiling,),
    "lens": (camera_reach.find_focus_reach,),
    "surface": (surroundings.find_surface,),
    "backdrop": (surroundings.find_backdrop,),
    "focus": (focus.find,),
    "support": (support.find,),
    "hero": (hero.find,),  # these two ask what is hidden, which costs most: they come last
    "copy": (copy_space.find, copy_space.find_words),
    "colour": (standing_out.find_merging, standing_out.find_louder, standing_out.find_alone),
    "palette": (palette_kept.find,),
    "sameness": (variety.find_sameness, variety.find_sizes),
    "story": (variety.find_strangers,),
}
#: Families whose findings are all of severity ``taste``: who asks for graver ones need not run them.
TASTE_ONLY: frozenset[str] = frozenset({"palette", "sameness", "story"})

CODES: tuple[str, ...] = (
    "hero.missing",
    "hero.several",
    "hero.cut",
    "hero.small",
    "spacing.overlap",
    "spacing.tight",
    "tangent.pair",
    "tangent.edge",
    "edge.sliver",
    "rig.ceiling",
    "lens.min_focus",
    "lens.too_far",
    "surface.edge",
    "backdrop.narrow",
    "focus.hero",
    "copy.occupied",
    "support.floating",
    "copy.illegible",
    "colour.merge",
    "colour.lighter",
    "colour.louder",
    "colour.lone_dark",
    "colour.lone_light",
    "palette.off",
    "palette.many",
    "palette.accent_missing",
    "palette.accent_lonely",
    "sameness.outline",
    "sameness.texture",
    "sameness.gloss",
    "sameness.sizes",
    "story.unrelated",
)


def findings(picture: Picture) -> tuple[Finding, ...]:
    """Every finding of the set-up, the gravest first, then in the order of CODES."""
    return tuple(sorted(each_finding(picture), key=lambda f: (-SEVERITY_RANK[f.severity], CODES.index(f.code))))


def each_finding(picture: Picture, least: Severity = "taste") -> Iterator[Finding]:
    """Every finding of ``least`` severity or graver, one after the other, the cheap families first: for who may stop at the first."""
    for name, family in FAMILIES.items():
        if least != "taste" and name in TASTE_ONLY:
            continue
        for judge in family:
            yield from (f for f in judge(picture) if SEVERITY_RANK[f.severity] >= SEVERITY_RANK[least])


def findings_of_family(picture: Picture, code: str) -> tuple[Finding, ...]:
    """The findings of the family that ``code`` belongs to; cheaper than all."""
    return tuple(f for judge in FAMILIES[code.split(".")[0]] for f in judge(picture))
