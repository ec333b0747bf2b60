"""Whether the hero is sharp."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import LARGE_ROLES, label
from ..delivered import FALLS_AWAY, hero_things, needed_depth, sharpness_in, stack_for
from ..evaluate import Picture, share_within
from ..facts.optics import Fact
from ..facts.practice import FROM_ABOVE
from ..tolerances import SHARP_MM
from .finding import Finding, Severity
from .kind import Kind, Rule

SOFT_HERO = Kind(
    code="focus.hero", rank=150, severity="mend", unit="mm",
    measure="mm of the hero's depth outside what is sharp, by defocus and diffraction together, in the crop that asks for most",
    limit=Fact(0, "mm", "optics"), leaning="focus",
    gives="a smaller sensor area, more distance, or a stack of frames would have to give", makers=("sharpen",),
)  # fmt: skip


SOFT_RIM = Kind(
    code="focus.rim", rank=155, severity="mend", severities="taste; mend when focus leans to all sharp", unit="mm",
    measure="mm of a thing's height outside what is sharp, seen from above", limit=Fact(0, "mm", "optics"), leaning="focus",
    gives="a smaller stop, more distance, or a stack of frames would have to give", makers=("sharpen",),
)  # fmt: skip
#: A thing of which less is in the crop is not asked about.
_SEEN = 0.3


def find(picture: Picture) -> Iterator[Finding]:
    """The hero reaches nearer or further than what is sharp in a crop."""
    for hero in picture.hero_ids():
        if hero not in picture.silhouettes:
            continue
        near, far = needed_depth(picture, hero)
        for crop, window in picture.windows:
            zone = sharpness_in(picture, window)
            before, behind = zone.missed(near, far)
            measure = max(before, behind)
            if zone.is_any and measure <= SHARP_MM:
                continue
            at = f"f/{picture.setup.camera.aperture:g}" + ("" if crop is None else f" in {crop}")
            side = "near" if before >= behind else "far"
            if zone.is_any:
                words = f"{measure:.0f} mm of the hero {label(picture, hero)} lie {'before' if side == 'near' else 'behind'} what is sharp at {at}"
            else:
                words = (
                    f"nothing is sharp at {at}: diffraction alone blurs {zone.airy_diameter:.3f} mm, {zone.circle_of_confusion:.3f} passes"
                )
            stack = stack_for(picture, hero, window)
            yield SOFT_HERO.found(
                (hero,),
                round(measure, 1),
                0,
                words,
                crop=crop,
                sides=(side,) if zone.is_any else ("everywhere",),
                figures=() if stack is None else (("stack", {"aperture": stack.aperture, "distances": list(stack.distances)}),),
            )


def find_rim(picture: Picture) -> Iterator[Finding]:
    """From straight above, a rim or a front that reaches out of what is sharp; where the rest may fall away it is no fault."""
    leaning = picture.scene.brief.leaning("focus")
    if picture.setup.camera.elevation < FROM_ABOVE.value or leaning >= FALLS_AWAY:
        return
    heroes = {i for hero in picture.hero_ids() if hero in picture.bodies for i in hero_things(picture, hero)}
    for crop, window in picture.windows:
        zone = sharpness_in(picture, window)
        for i, silhouette in picture.silhouettes.items():
            if i in heroes or picture.bodies[i].placement.role not in LARGE_ROLES or not zone.is_any:
                continue
            before, behind = zone.missed(*silhouette.sharp_depth)
            if max(before, behind) <= SHARP_MM or share_within(silhouette.outline, window) < _SEEN:
                continue
            side = "near" if before >= behind else "far"
            words = f"{max(before, behind):.0f} mm of {label(picture, i)} lie {'before' if side == 'near' else 'behind'} what is sharp"
            severity: Severity = "mend" if leaning <= -FALLS_AWAY else "taste"
            yield SOFT_RIM.found((i,), round(max(before, behind), 1), 0, words, severity=severity, crop=crop, sides=(side,))


RULES = (Rule(find, (SOFT_HERO,)), Rule(find_rim, (SOFT_RIM,)))
