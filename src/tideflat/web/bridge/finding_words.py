"""The web's own words for findings, from the core's codes and figures: plain words first, the trade's figure second. All of them are here."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import KINDS
from tideflat.core.units import format_length

Words = tuple[str, str]
Say = Callable[[Finding, list[str], list[str], Callable[[float], str]], Words]


def finding_words(picture: Picture, finding: Finding, unit: str) -> Words:
    """(title, one sentence with the figure and what it should be)."""
    names = [picture.props[i].name for i in finding.placements if i in picture.props]
    return _WORDS[finding.code](finding, [n[:1].upper() + n[1:] for n in names], names, lambda mm: format_length(mm, unit))


def _where(finding: Finding) -> str:
    return f"the {finding.crop} crop" if finding.crop else "the frame"


def _sides(finding: Finding) -> str:
    return " and ".join(finding.sides)


def _percent(value: float) -> str:
    return f"{value:.0f} %" if value >= 10 else f"{value:.1f} %"


def _cut(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    where = f"{f.crop[:1].upper() + f.crop[1:]}" if f.crop else "The frame"
    side = f" at the {_sides(f)}" if f.sides else ""
    return f"{where} loses part of the {n[0]}", f"{_percent(f.measure)} of the hero falls outside {_where(f)}{side}."


def _copy(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    who = ", ".join(n[:3]) + (f" and {len(n) - 3} more" if len(n) > 3 else "")
    return (
        f"Words in {f.crop} would run over things",
        f"{_percent(f.measure)} of the room for words is taken by {who}; {f.limit:g} % is legible.",
    )


def _tangent_pair(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    how = "apart" if f.sides == ("apart",) else "over each other"
    return (
        f"{N[0]} and {n[1]} only just touch",
        f"Their outlines are {f.measure:.1f} % of the frame {how}; clear by {f.limit:g} %, or plainly overlapping, reads as meant.",
    )


def _ceiling(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    if f.measure < 0:
        return "The camera is in the ceiling", f"It would need {mm(-f.measure)} more height, and {mm(f.limit)} for clamp and arm."
    return "Little room under the ceiling", f"{mm(f.measure)} are left above the camera; clamp and arm want {mm(f.limit)}."


def _surface(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    far = f"by {mm(f.measure)}" if f.measure < 9999 else "as far as the wall"
    where = f.crop[:1].upper() + f.crop[1:] if f.crop else "The frame"
    return f"{where} sees past the surface", f"It ends in the picture at the {_sides(f)}, {far} at most."


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


_WORDS: dict[str, Say] = {
    "hero.missing": lambda f, N, n, mm: ("No hero yet", "Nothing in this picture leads. Give one thing the role of hero."),
    "hero.several": lambda f, N, n, mm: (f"{f.measure:g} heroes at once", f"{' and '.join(N)} both lead; one only holds the eye."),
    "hero.cut": _cut,
    "hero.small": lambda f, N, n, mm: (
        f"The {n[0]} is small",
        f"It fills {f.measure:.1f} % of the frame; from {f.limit:g} % on it is the subject.",
    ),
    "spacing.overlap": lambda f, N, n, mm: (
        f"{N[0]} and {n[1]} stand in each other",
        f"By {mm(f.measure)}. One of them has to move, or rest on the other.",
    ),
    "spacing.tight": lambda f, N, n, mm: (
        f"{N[0]} crowds the {n[1]}",
        f"{mm(f.measure)} of table between them; {mm(f.limit)} reads as meant.",
    ),
    "tangent.pair": _tangent_pair,
    "tangent.edge": lambda f, N, n, mm: (
        f"{N[0]} kisses the edge",
        f"Its outline ends {f.measure:.1f} % of the frame from the {_sides(f)} of {_where(f)}; clear of {f.limit:g} % is safe.",
    ),
    "edge.sliver": lambda f, N, n, mm: (
        f"A sliver of the {n[0]}",
        f"{_percent(f.measure)} of it peeks into {_where(f)}; under {f.limit:g} % looks like a mistake.",
    ),
    "rig.ceiling": _ceiling,
    "lens.min_focus": lambda f, N, n, mm: (
        "Too near for this lens",
        f"It is asked to focus at {mm(f.measure)}; {mm(f.limit)} is its nearest.",
    ),
    "lens.too_far": lambda f, N, n, mm: (
        "Too far for the extension",
        f"Focus at {mm(f.measure)} is asked for; nothing beyond {mm(f.limit)} comes sharp.",
    ),
    "surface.edge": _surface,
    "backdrop.narrow": lambda f, N, n, mm: (
        "The backdrop ends in the picture",
        f"Short by {mm(f.measure)} at the {_sides(f)} of {_where(f)}.",
    ),
    "focus.hero": lambda f, N, n, mm: (
        f"The {n[0]} is not sharp throughout",
        f"{mm(f.measure)} of it lie {'before' if 'near' in f.sides else 'behind'} what is sharp.",
    ),
    "copy.occupied": _copy,
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
    "support.floating": lambda f, N, n, mm: (f"Nothing holds the {n[0]}", f"It hangs {mm(f.measure)} above what is under it."),
}


def no_remedy_words(finding: Finding) -> str:
    """Why there is no remedy: what would have to give."""
    return f"Nothing here or in the stores clears it alone: {KINDS[finding.code].gives}."
