"""Whether the hero is sharp."""

from __future__ import annotations

from collections.abc import Iterator

from ..evaluate import Picture
from ..tolerances import SHARP_MM
from .finding import Finding
from .relations import label

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
        yield Finding(
            "focus.hero",
            "mend",
            (hero,),
            round(measure, 1),
            0,
            "mm",
            f"{measure:.0f} mm of the hero {label(picture, hero)} lie {'before' if side == 'near' else 'behind'} what is sharp at f/{picture.setup.camera.aperture:g}",
            leaning="focus",
            sides=(side,),
        )


def needed_depth(picture: Picture, hero: str) -> tuple[float, float]:
    """Axial distances (mm) between which the hero must be sharp: all of it, or its middle when the rest may fall away."""
    silhouette = picture.silhouettes[hero]
    if picture.scene.brief.leaning("focus") >= FALLS_AWAY:
        middle = float((silhouette.body.centroid - picture.view.position) @ picture.view.forward)
        return middle, middle
    return silhouette.depth
