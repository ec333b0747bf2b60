"""Find props: by words, tag, kind, size, nearness of colour, and by what goes with a scene; each answer with its reason."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from tideflat.core.colour.words import colour_words
from tideflat.core.model import Scene
from tideflat.core.palette.choosing import goes_with, nearest_first

from .catalogue import Catalogue
from .words import ALSO_CALLED

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
    words = re.findall(r"[^\W_]+", wish.text.lower())[:6]
    tag = wish.tag.lower()
    if tag:
        kept &= np.array([tag in tags for tags in catalogue.tags], dtype=bool)
    points = np.zeros(len(catalogue))
    for word in words:
        found = _points(catalogue, word)
        kept &= found > 0
        points += found
    rows = np.flatnonzero(kept)
    if words:
        rows = rows[np.argsort(-points[rows], kind="stable")]
    if wish.colour:
        order, distance = nearest_first(catalogue.lab[rows], catalogue.share[rows], wish.colour)
        rows = rows[order]
        if scene is None:
            near = zip(rows[:REASONED], distance[:REASONED], strict=True)
            return Found(rows, {int(i): _nearness(float(d)) for i, d in near})
    if scene is not None and len(rows):
        found_with = _with_reasons(catalogue, rows, scene)
        # What is asked for by its words comes by them; what goes with the scene decides among equals.
        called = points + np.array([_CALLED * (name.lower() == wish.text.strip().lower()) for name in catalogue.name])
        return Found(found_with.rows[np.argsort(-called[found_with.rows], kind="stable")], found_with.reasons) if words else found_with
    return Found(rows, {int(i): why for i in rows[:REASONED] if (why := _why(catalogue, int(i), words))} if words else {})


#: What a word counts for when it is found whole, as a beginning, or as another word for the same thing.
_WHOLE, _BEGUN, _ALIKE = 1.0, 0.6, 0.4
#: A prop that is called just what was typed comes before every other.
_CALLED = 100.0


def _points(catalogue: Catalogue, word: str) -> np.ndarray:
    """(n,) what the word counts for in each row: 0 where neither it, nor a word that begins so, nor another word for it is found."""
    best = np.zeros(len(catalogue))
    for own, (rows, counts) in catalogue.index.items():
        share = _share(word, own)
        if share:
            best[rows] = np.maximum(best[rows], share * counts)
    return best


def _share(word: str, own: str) -> float:
    """How well the word that is typed finds one that a prop has."""
    if own in (word, _one(word)) or _one(own) == word:
        return _WHOLE
    if own.startswith(word):
        return _BEGUN
    return _ALIKE if own in ALSO_CALLED.get(word, ALSO_CALLED.get(_one(word), ())) else 0.0


def _one(word: str) -> str:
    """A plural's singular, near enough: "tins" is "tin", "knives" is not asked for."""
    return word[:-1] if len(word) > _SHORTEST_PLURAL and word.endswith("s") and not word.endswith("ss") else word


_SHORTEST_PLURAL = 3


def _why(catalogue: Catalogue, row: int, words: list[str]) -> str:
    """Why it was found, where its name does not say so."""
    said = []
    for word in words:
        share, points, own, why = max((_share(word, own), points, own, why) for own, (points, why) in catalogue.words[row].items())
        if share == _ALIKE:
            said.append(f"{own}, for {word}")
        elif why and points:
            said.append(f"{own}: {why}")
    return "; ".join(said)


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
