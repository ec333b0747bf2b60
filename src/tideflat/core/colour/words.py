"""A colour in plain words: what a person would call it across a table. Bounds are common practice, no source."""

from __future__ import annotations

from collections.abc import Sequence

from ..remember import counted
from .spaces import lab_of, oklch_of

#: Upper bound of the OKLCH hue, degrees, and its word.
_HUES = (
    (8, "pink"),
    (38, "red"),
    (62, "orange"),
    (92, "ochre"),
    (112, "yellow"),
    (158, "green"),
    (200, "sea green"),
    (265, "blue"),
    (308, "violet"),
    (345, "plum"),
    (361, "pink"),
)


@counted(8192)
def colour_words(colour: str) -> str:
    """Such as "deep blue", "pale grey", "orange".

    >>> colour_words("#101010"), colour_words("#e07a1f")
    ('black', 'orange')
    """
    lightness, chroma = lab_of(colour)[0], oklch_of(colour)[1]
    if chroma < 0.022:
        for bound, word in ((14, "black"), (34, "dark grey"), (62, "grey"), (84, "pale grey")):
            if lightness < bound:
                return word
        return "white"
    hue = hue_word(oklch_of(colour)[2])
    if hue in ("orange", "red", "ochre") and lightness < 42 and chroma < 0.12:
        hue = "brown"
    if chroma < 0.05:
        return f"{'dark ' if lightness < 35 else 'pale ' if lightness > 78 else ''}greyed {hue}"
    return f"{'deep ' if lightness < 35 else 'pale ' if lightness > 82 else ''}{hue}"


def told_apart(colours: Sequence[str]) -> list[str]:
    """The words of each of several ``#rrggbb``; those that would be called alike by which is darker, more than two of them by their hex.

    >>> told_apart(["#9f6f36", "#dfb52b", "#5d7d46"])
    ['darker ochre', 'lighter ochre', 'green']
    """
    words = [colour_words(c) for c in colours]

    def own(colour: str, called: str) -> str:
        alike = sorted({c for c, w in zip(colours, words, strict=True) if w == called}, key=lambda c: lab_of(c)[0])
        if len(alike) == 1:
            return called
        return f"{called} {colour}" if len(alike) > 2 else f"{'darker' if colour == alike[0] else 'lighter'} {called}"

    return [own(c, w) for c, w in zip(colours, words, strict=True)]


def hue_word(hue_deg: float) -> str:
    return next(word for bound, word in _HUES if hue_deg % 360 < bound)
