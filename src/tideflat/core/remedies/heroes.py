"""Candidates for the hero: which it is, and how it is taken whole."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..acts.things import Role
from ..composition.relations import label
from ..evaluate import Picture
from ..findings.finding import Finding
from .camera_moves import aim, shift_crop
from .camera_solved import clear_margin
from .candidate import Candidate, Stores, where
from .moves import is_free, move, table_shift


def name_a_hero(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The largest in the frame of what may lead."""
    for i in _largest_first(picture, tuple(picture.things)):
        if picture.bodies[i].placement.role in ("support", "accent"):
            words = f"make {label(picture, i)} the hero"
            figures = (("placement", i), ("role", "hero"))
            yield Candidate("role", figures, words, (Role(placement=i, role="hero", **where(picture, i, "role")),))


def keep_one_hero(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The largest in the frame stays; the others become supports."""
    for kept in _largest_first(picture, finding.placements):
        others = tuple(Role(placement=i, role="support", **where(picture, i, "role")) for i in finding.placements if i != kept)
        yield Candidate("role", (("placement", kept), ("role", "hero")), f"keep {label(picture, kept)} as the only hero", others)


def _largest_first(picture: Picture, ids: tuple[str, ...]) -> list[str]:
    return sorted(ids, key=lambda i: -picture.things[i].frame_area_share)


def take_whole(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The crop shifted, the camera carried, or the hero moved in."""
    (i,) = finding.placements
    silhouette = picture.silhouettes.get(i)
    if silhouette is None:
        return
    box = silhouette.box
    window = next((c.box for c in picture.crops if c.name == finding.crop), (0.0, 0.0, 1.0, 1.0))
    margin = clear_margin(picture)
    du = max(0.0, window[0] + margin - box[0]) - max(0.0, box[2] + margin - window[2])
    dv = max(0.0, window[1] + margin - box[1]) - max(0.0, box[3] + margin - window[3])
    if finding.crop is not None:
        yield from shift_crop(picture, finding.crop, -du, -dv)
        yield from shift_crop(
            picture, finding.crop, (box[0] + box[2]) / 2 - (window[0] + window[2]) / 2, (box[1] + box[3]) / 2 - (window[1] + window[3]) / 2
        )
    per_u = picture.size_at_aim[0]
    per_v = picture.size_at_aim[1] / max(float(np.hypot(*picture.view.up[:2])), 0.3)
    for stretch in (1.0, 1.4):
        yield from aim(picture, -du * per_u * stretch, dv * per_v * stretch)
    if is_free(picture, i):
        shift = table_shift(picture, i, du, dv)
        if shift is not None:
            yield move(picture, i, *shift)


MAKERS = {"name a hero": name_a_hero, "keep one hero": keep_one_hero, "take the hero whole": take_whole}
