"""Find props: by words, tag, kind, size, nearness of colour, and by what goes with a scene; each answer with its reason."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tideflat.core.colour.words import colour_words
from tideflat.core.model import Scene
from tideflat.core.palette.choosing import goes_with, nearest_first

from .catalogue import Catalogue

#: So many of those found, the best, have their reason put in words: ten pages of them.
REASONED = 600


@dataclass(frozen=True)
class Wish:
    """What is looked for; empty fields ask for nothing. least_mm, most_mm bound the longer side."""

    text: str = ""
    tag: str = ""
    kind: str = ""
    finish: str = ""
    least_mm: float | None = None
    most_mm: float | None = None
    colour: str = ""


@dataclass(frozen=True)
class Found:
    """Rows of the catalogue, the best first; reason by row where one is given."""

    rows: np.ndarray
    reasons: dict[int, str]


def search(catalogue: Catalogue, wish: Wish, scene: Scene | None = None) -> Found:
    """The props that answer ``wish``; with a scene, ordered by how well they go with it."""
    kept = np.ones(len(catalogue), dtype=bool)
    if wish.kind:
        kept &= catalogue.kind == wish.kind
    if wish.finish:
        kept &= catalogue.finish == wish.finish
    if wish.least_mm is not None:
        kept &= catalogue.size[:, 0] >= wish.least_mm
    if wish.most_mm is not None:
        kept &= catalogue.size[:, 0] <= wish.most_mm
    words = wish.text.lower().split()[:6]
    if words or wish.tag:
        tag = wish.tag.lower()
        for i in np.flatnonzero(kept):
            text = catalogue.text[i]
            if (tag and tag not in catalogue.tags[i]) or not all(w in text for w in words):
                kept[i] = False
    rows = np.flatnonzero(kept)
    if wish.colour:
        order, distance = nearest_first(catalogue.lab[rows], catalogue.share[rows], wish.colour)
        rows = rows[order]
        if scene is None:
            near = zip(rows[:REASONED], distance[:REASONED], strict=True)
            return Found(rows, {int(i): _nearness(float(d)) for i, d in near})
    if scene is not None and len(rows):
        return _with_reasons(catalogue, rows, scene)
    return Found(rows, {})


def _nearness(distance: float) -> str:
    words = "the same to the eye" if distance < 2 else "very near" if distance < 6 else "near" if distance < 12 else "of that family"
    return f"{words} ({distance:.1f})"


def _with_reasons(catalogue: Catalogue, rows: np.ndarray, scene: Scene) -> Found:
    """The rows by how well they go with the scene, each with the reason in words."""
    fits = goes_with(
        catalogue.lab[rows, 0], [catalogue.tags[i] for i in rows], [catalogue.name[i] for i in rows], catalogue.finish[rows], scene
    )
    colours = scene.palette.colours if scene.palette else ()
    reasons = {}
    for k in fits.order[:REASONED]:
        said = []
        if fits.palette_colour[k] >= 0:
            said.append(f"keeps to the palette's {colour_words(colours[int(fits.palette_colour[k])].hex)}")
        if fits.tags[k]:
            said.append("tells of " + ", ".join(sorted(fits.tags[k])))
        said.append(f"stands clear of the {scene.surface.name}" if fits.is_clear[k] else f"would melt into the {scene.surface.name}")
        if fits.is_rare[k]:
            said.append(f"the only {catalogue.finish[rows[k]]} thing")
        if fits.is_there[k]:
            said.append("on the table already")
        reasons[int(rows[k])] = "; ".join(said)
    return Found(rows[fits.order], reasons)
