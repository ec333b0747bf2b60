"""What a new scene is called: the words of its own sentence, told from other scenes of the studio."""

from __future__ import annotations

import re

from tideflat.web.accounts.models import Studio

from ..models import Scene

#: A title made from a sentence is cut at the last word within so many characters.
_LONGEST = 48


def title_from(story: str) -> str:
    """The sentence's beginning, up to its first full stop, or the last whole word that fits; "" where nothing is told.

    >>> title_from("Breakfast nobody has sat down to yet. Bright, quiet.")
    'Breakfast nobody has sat down to yet'
    """
    first = re.split(r"[.;:!?\n]", " ".join(story.split()), maxsplit=1)[0].strip(" ,")
    if len(first) > _LONGEST:
        first = first[:_LONGEST].rsplit(" ", 1)[0].rstrip(" ,")
    return first[:1].upper() + first[1:]


def free_title(studio: Studio, wish: str) -> str:
    """``wish``, with the first number that tells it from the studio's other scenes where one is called so."""
    stem = re.sub(r" \d{1,4}$", "", wish)[:112]
    taken = set(Scene.objects.filter(studio=studio, title__startswith=stem).values_list("title", flat=True))
    if wish not in taken:
        return wish
    return next(f"{stem} {n}" for n in range(2, len(taken) + 3) if f"{stem} {n}" not in taken)
