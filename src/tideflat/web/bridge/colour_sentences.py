"""The web's words for findings of colour, palette and variety: plain words first, the trade's figure second."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.colour.words import colour_words
from tideflat.core.findings.finding import Finding

Words = tuple[str, str]
Say = Callable[[Finding, list[str], list[str], Callable[[float], str]], Words]


def _illegible(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    ink, behind = f.sides
    return (
        f"Words would not read in {f.crop}",
        f"{ink[:1].upper()}{ink[1:]} words, the better choice, keep a contrast of {f.measure:.1f} to 1 on the {behind}; {f.limit:g} is legible.",
    )


def _merge(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    behind = f.sides[0]
    where = f"the {behind}" if behind != "room" else "the wall behind"
    return f"{N[0]} melts into {where}", f"They differ by {f.measure:.1f} of colour (CIEDE2000); from {f.limit:g} on it stands clear."


def _missing(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    name = colour_words(f.sides[0])
    return f"Hardly any {name}", f"The accent is seen on {f.measure:.0f} % of what was wanted of it."


COLOUR_WORDS: dict[str, Say] = {
    "copy.illegible": _illegible,
    "colour.merge": _merge,
    "colour.lighter": lambda f, N, n, mm: (
        f"{N[0]} is lighter than the {f.sides[0]}",
        f"By {f.measure:.0f} of 100 in lightness; the eye goes to the lightest place first.",
    ),
    "colour.louder": lambda f, N, n, mm: (
        f"{N[0]} outshouts the {f.sides[0]}",
        f"It is more colourful than the hero by {f.measure:.2f} (chroma, where 0.2 is vivid).",
    ),
    "colour.lone_dark": lambda f, N, n, mm: (
        f"{N[0]} reads as a hole",
        f"The only {f.sides[0]} thing, {f.measure:.0f} of 100 darker or lighter than any other. An echo elsewhere settles it.",
    ),
    "colour.lone_light": lambda f, N, n, mm: (
        f"{N[0]} shines alone",
        f"The only {f.sides[0]} thing, {f.measure:.0f} of 100 from any other in lightness. An echo elsewhere settles it.",
    ),
    "palette.off": lambda f, N, n, mm: (
        f"{N[0]} is off the palette",
        f"Its {f.sides[0]} is {f.measure:.0f} from the nearest colour of the palette, the {colour_words(f.sides[1])}; within {f.limit:g} belongs.",
    ),
    "palette.many": lambda f, N, n, mm: (
        "Many colours at once",
        f"{f.measure:.0f} families of colour are seen; past {f.limit:g} none leads.",
    ),
    "palette.accent_missing": _missing,
    "palette.accent_lonely": lambda f, N, n, mm: (
        f"Only the {n[0]} is {colour_words(f.sides[0])}",
        "A single accent looks like an accident; a small echo or two makes it meant.",
    ),
    "sameness.outline": lambda f, N, n, mm: (
        f"Nothing but {'discs and rounds' if f.sides[0] == 'round' else f'{f.sides[0]} outlines'}",
        f"All {f.measure:.0f} things are {f.sides[0]} in outline; one of another kind wakes the set.",
    ),
    "sameness.texture": lambda f, N, n, mm: (
        f"All of one surface: {f.sides[0]}",
        f"{f.measure:.0f} things, none rougher or finer than the rest. One of another feel wakes the set.",
    ),
    "sameness.gloss": lambda f, N, n, mm: (
        "Everything shines",
        f"All {f.measure:.0f} things throw light back; a dull one calms the picture and is easier to light.",
    ),
    "sameness.sizes": lambda f, N, n, mm: (
        f"{N[0]} in two sizes",
        f"The {n[-1]} is {f.measure:.2f} times as large: match them, or let them differ plainly.",
    ),
    "story.unrelated": lambda f, N, n, mm: (
        f"What does the {n[0]} tell?",
        f"It shares no tag with the story ({', '.join(f.sides)}).",
    ),
}
