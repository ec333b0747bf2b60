"""Find props: by words, tag, kind, size, nearness of colour, and by what goes with a scene; each answer with its reason."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tideflat.core.colour.delta_e_2000 import delta_e_2000
from tideflat.core.colour.spaces import lab_of
from tideflat.core.colour.words import colour_words
from tideflat.core.facts.practice import MERGE, OFF_PALETTE
from tideflat.core.model import Scene

from .catalogue import Catalogue

#: Colours further than this (CIEDE2000) are not near.
NEAR = 22.0
#: Of a prop's colours, those with less share are no ground to find it by.
_TELLING_SHARE = 0.12


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


def find(catalogue: Catalogue, wish: Wish, scene: Scene | None = None) -> Found:
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
        rows, distance = _by_colour(catalogue, rows, wish.colour)
        if scene is None:
            return Found(rows, {int(i): _nearness(float(d)) for i, d in zip(rows[:200], distance[:200], strict=True)})
    if scene is not None:
        return _goes_with(catalogue, rows, scene)
    return Found(rows, {})


def _by_colour(catalogue: Catalogue, rows: np.ndarray, colour: str) -> tuple[np.ndarray, np.ndarray]:
    """Those with a telling colour within NEAR, the nearest first. A plain distance in CIELAB throws out what cannot be near."""
    target = np.array(lab_of(colour))
    lab, telling = catalogue.lab[rows], catalogue.share[rows] >= _TELLING_SHARE
    telling[:, 0] = True
    hopeful = telling & may_be_within(lab, target, NEAR)
    distance = np.full(telling.shape, np.inf)
    distance[hopeful] = delta_e_2000(lab[hopeful], target)
    nearest = distance.min(axis=1) if len(rows) else np.empty(0)
    order = np.argsort(nearest, kind="stable")
    order = order[nearest[order] <= NEAR]
    return rows[order], nearest[order]


def may_be_within(lab: np.ndarray, target: np.ndarray, delta_e: float) -> np.ndarray:
    """False only where CIEDE2000 is surely more: its lightness term divides by at most 1.75 (S_L at L* 0 or 100), and over five million
    pairs of sRGB colours no difference of Lab was more than 7.3 times their CIEDE2000 (tests/web/test_finding.py draws more)."""
    light = np.abs(lab[..., 0] - target[0])
    return np.asarray((light <= 1.75 * delta_e) & (((lab - target) ** 2).sum(axis=-1) < (8 * delta_e) ** 2))


def _nearness(distance: float) -> str:
    words = "the same to the eye" if distance < 2 else "very near" if distance < 6 else "near" if distance < 12 else "of that family"
    return f"{words} ({distance:.1f})"


def _goes_with(catalogue: Catalogue, rows: np.ndarray, scene: Scene) -> Found:
    """Points for keeping to the palette, for the story's tags, for standing clear of the surface, for what the table lacks."""
    if not len(rows):
        return Found(rows, {})
    main = catalogue.lab[rows, 0]
    target = tuple(c.hex for c in scene.palette.colours) if scene.palette else ()
    points = np.zeros(len(rows))
    near = np.full(len(rows), np.inf)
    which = np.zeros(len(rows), dtype=int)
    for k, h in enumerate(target):
        hopeful = may_be_within(main, np.array(lab_of(h)), OFF_PALETTE.value)
        distance = np.full(len(rows), np.inf)
        distance[hopeful] = delta_e_2000(main[hopeful], np.array(lab_of(h)))
        which = np.where(distance < near, k, which)
        near = np.minimum(near, distance)
    if target:
        points += np.where(near < OFF_PALETTE.value, 3 - 2 * near / OFF_PALETTE.value, -1.5)
    ground = np.array(lab_of(scene.surface.colours[0].hex))
    close = may_be_within(main, ground, MERGE.value)
    clear = np.full(len(rows), np.inf)
    clear[close] = delta_e_2000(main[close], ground)
    points += np.where(clear >= MERGE.value, 1.0, -2.0)
    theme = frozenset(t.lower() for t in scene.brief.tags)
    shared = [catalogue.tags[i] & theme for i in rows]
    points += np.array([min(2, len(s)) * 1.5 for s in shared])
    on_table = {p.name for p in scene.props}
    points -= np.array([2.5 if catalogue.name[i] in on_table else 0.0 for i in rows])
    textures = {p.finish for p in scene.props}
    rare = np.array([str(catalogue.finish[i]) not in textures for i in rows])
    points += np.where(rare, 0.4, 0.0)
    order = np.argsort(-points, kind="stable")
    reasons = {}
    for k in order[:200]:
        said = []
        if near[k] < OFF_PALETTE.value:
            said.append(f"keeps to the palette's {colour_words(target[int(which[k])])}")
        if shared[k]:
            said.append("tells of " + ", ".join(sorted(shared[k])))
        said.append(f"stands clear of the {scene.surface.name}" if clear[k] >= MERGE.value else f"would melt into the {scene.surface.name}")
        if rare[k]:
            said.append(f"the only {catalogue.finish[rows[k]]} thing")
        if catalogue.name[rows[k]] in on_table:
            said.append("on the table already")
        reasons[int(rows[k])] = "; ".join(said)
    return Found(rows[order], reasons)
