"""Whether the hero is sharp."""

from __future__ import annotations

from collections.abc import Iterator

from ..evaluate import Picture
from ..facts.optics import Fact
from ..tolerances import SHARP_MM
from .finding import Finding
from .kind import Kind, Rule
from .relations import label

SOFT_HERO = Kind(
    code="focus.hero", rank=150, severity="mend", unit="mm", measure="mm of the hero's depth outside what is sharp",
    limit=Fact(0, "mm", "optics"), leaning="focus",
    gives="a smaller sensor area, more distance, or a stack of frames would have to give", makers=("sharpen",),
)  # fmt: skip


#: From this leaning on, only the middle of the hero has to be sharp; the rest may fall away.
FALLS_AWAY = 0.5


def find(picture: Picture) -> Iterator[Finding]:
    """The hero reaches nearer or further than what is sharp."""
    sharp = picture.depth_of_field
    for hero in picture.hero_ids():
        silhouette = picture.silhouettes.get(hero)
        if silhouette is None:
            continue
        near, far = needed_depth(picture, hero)
        before = sharp.near - near
        behind = 0.0 if sharp.far is None else far - sharp.far
        measure = max(before, behind)
        if measure <= SHARP_MM:
            continue
        side = "near" if before >= behind else "far"
        yield SOFT_HERO.found(
            (hero,),
            round(measure, 1),
            0,
            f"{measure:.0f} mm of the hero {label(picture, hero)} lie {'before' if side == 'near' else 'behind'} what is sharp at f/{picture.setup.camera.aperture:g}",
            sides=(side,),
        )


def needed_depth(picture: Picture, hero: str) -> tuple[float, float]:
    """Axial distances (mm) between which the hero must be sharp: all of it, or its middle when the rest may fall away."""
    silhouette = picture.silhouettes[hero]
    if picture.scene.brief.leaning("focus") >= FALLS_AWAY:
        middle = float((silhouette.body.centroid - picture.view.position) @ picture.view.forward)
        return middle, middle
    return silhouette.depth


RULES = (Rule(find, (SOFT_HERO,)),)
