"""Whether the hero is sharp."""

from __future__ import annotations

from collections.abc import Iterator

from ..composition.relations import label
from ..delivered import needed_depth, sharpness_in, stack_for
from ..evaluate import Picture
from ..facts.optics import Fact
from ..tolerances import SHARP_MM
from .finding import Finding
from .kind import Kind, Rule

SOFT_HERO = Kind(
    code="focus.hero", rank=150, severity="mend", unit="mm",
    measure="mm of the hero's depth outside what is sharp, by defocus and diffraction together, in the crop that asks for most",
    limit=Fact(0, "mm", "optics"), leaning="focus",
    gives="a smaller sensor area, more distance, or a stack of frames would have to give", makers=("sharpen",),
)  # fmt: skip


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


RULES = (Rule(find, (SOFT_HERO,)),)
