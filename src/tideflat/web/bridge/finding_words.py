"""The web's own words for findings, from the core's codes and figures: plain words first, the trade's figure second. All of them are
here, in arrangement_words.py and in frame_words.py."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding
from tideflat.core.findings.registry import KINDS
from tideflat.core.units import format_length

from .arrangement_words import ARRANGEMENT_WORDS, Say, Words
from .frame_words import FRAME_WORDS
from .light_finding_words import LIGHT_FINDING_WORDS, in_light


def finding_words(picture: Picture, finding: Finding, unit: str) -> Words:
    """(title, one sentence with the figure and what it should be, and where and how often else)."""
    names = [picture.props[i].name for i in finding.placements if i in picture.props]
    alike = len(names) > 1 and len(set(names)) == 1 and len(finding.each[0].placements) == 1
    named = [names[0]] if alike else names
    title, sentence = _WORDS[finding.code](finding, [n[:1].upper() + n[1:] for n in named], named, lambda mm: format_length(mm, unit))
    return title, sentence + _also(finding, len(names) if alike else 1)


def _also(finding: Finding, alike: int) -> str:
    """Where else, and of how many."""
    said = []
    if alike > 1:
        said.append(f"{alike} of them")
    others = [c for c in finding.crops if c != finding.crop]
    if others:
        said.append(f"also in {_listed(others)}")
    return f" ({'; '.join(said)}.)" if said else ""


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _where(finding: Finding) -> str:
    return f"the {finding.crop} crop" if finding.crop else "the frame"


def _sides(finding: Finding) -> str:
    return " and ".join(finding.sides)


def _beside(value: float, limit: float, digits: int = 0) -> str:
    """The figure with so many digits that it is not printed as the limit that it misses."""
    while digits < 4 and value != limit and float(f"{value:.{digits}f}") == round(limit, digits):
        digits += 1
    return f"{value:.{digits}f}"


def _percent(value: float, limit: float = 0.0) -> str:
    return f"{_beside(value, limit, 0 if value >= 10 else 1)} %"


def _length(value: float, limit: float, mm: Callable[[float], str]) -> str:
    """The length, told by the limit where it would be printed alike."""
    if mm(value) != mm(limit):
        return mm(value)
    return f"A shade {'under' if value < limit else 'over'} {mm(limit)}"


def _gap(f: Finding, mm: Callable[[float], str]) -> str:
    """The gap as a length where the things are."""
    return mm(float(dict(f.figures).get("gap_mm", 0.0)))


def _cut(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    where = f"{f.crop[:1].upper() + f.crop[1:]}" if f.crop else "The frame"
    side = f" at the {_sides(f)}" if f.sides else ""
    return f"{where} loses part of the {n[0]}", f"{_percent(f.measure)} of the hero falls outside {_where(f)}{side}."


def _copy(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    who = ", ".join(n[:3]) + (f" and {len(n) - 3} more" if len(n) > 3 else "")
    return (
        f"Words in {f.crop} would run over things",
        f"{_percent(f.measure, f.limit)} of the room for words is taken by {who}; up to {f.limit:g} % they stay easy to read.",
    )


def _tangent_pair(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    how = "between their outlines" if f.sides == ("apart",) else "of one over the other"
    return (
        f"{N[0]} and {n[1]} only just touch",
        f"{_gap(f, mm)} {how} as the lens sees them, {_beside(f.measure, f.limit, 1)} % of {_where(f)}. Plainly apart, or plainly overlapping, reads as meant.",
    )


def _ceiling(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    if f.measure < 0:
        return (
            "The camera is in the ceiling",
            f"It is {mm(-f.measure)} too high for the ceiling, and clamp and arm want {mm(f.limit)} more.",
        )
    return "Little room under the ceiling", f"{mm(f.measure)} are left above the camera; clamp and arm want {mm(f.limit)}."


def _surface(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    far = f"by {mm(f.measure)}" if f.measure < 9999 else "as far as the wall"
    where = f.crop[:1].upper() + f.crop[1:] if f.crop else "The frame"
    return f"{where} shows where the surface ends", f"Its edge comes into the picture at the {_sides(f)}, {far} at most."


def _illegible(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    ink, behind = f.sides
    size = "small" if f.limit > _LARGE_LETTERS else "large"
    return (
        f"Words would be hard to read in {f.crop}",
        f"{ink[:1].upper()}{ink[1:]} letters, the better choice, stand out from the {behind} by {_beside(f.measure, f.limit, 1)} to 1{in_light(f)}; {size} letters want {f.limit:g} to 1 (contrast).",
    )


def _merge(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    behind = f.sides[0]
    where = f"the {behind}" if behind != "room" else "the wall behind"
    return f"{N[0]} melts into {where}", f"Their colours are only {_beside(f.measure, f.limit, 1)} apart (CIEDE2000){in_light(f)}; from {f.limit:g} on it stands clear."


def _missing(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    name = colour_words(f.sides[0])
    return f"Hardly any {name}", f"The accent is seen on {f.measure:.0f} % of what was wanted of it."


def _soft(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    stack = dict(f.figures).get("stack")
    frames = len(stack["distances"]) if isinstance(stack, dict) else 0
    by_stack = f" A stack of {frames} frames at f/{stack['aperture']:g} would hold it." if frames > 1 and isinstance(stack, dict) else ""
    if "everywhere" in f.sides:
        return (
            f"Nothing of the {n[0]} is sharp",
            f"So far stopped down, the small opening itself blurs {_where(f)} (diffraction).{by_stack}",
        )
    side = "nearer" if "near" in f.sides else "further"
    return f"The {n[0]} is not sharp throughout", f"{mm(f.measure)} of it lie {side} than what is sharp in {_where(f)}.{by_stack}"


def _feature_hidden(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    return (
        f"The {f.sides[0]} of the {n[0]} must be seen",
        f"{f'Only {_beside(f.measure, f.limit)} %' if f.measure >= 1 else 'Nothing (0 %)'} of it shows in {_where(f)}; from {f.limit:g} % it counts as seen.",
    )


def _margins(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    figures = dict(f.figures)
    what = "One gap" if "gaps" in f.sides else "One outer margin"
    return (
        "The range stands unevenly",
        f"{what} is {mm(float(figures['mm']))} wider than another, {figures['px']:.0f} pixels in {_where(f)} as delivered.",
    )


def _off_centre(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    figures = dict(f.figures)
    return (
        f"{N[0]} is off the middle",
        f"By {mm(float(figures['mm']))} to the {_sides(f)}, {figures['px']:.0f} pixels in {_where(f)} as delivered.",
    )


_LARGE_LETTERS = 3.0  # the contrast that they need
_WORDS: dict[str, Say] = {
    **ARRANGEMENT_WORDS,
    **FRAME_WORDS,
    **LIGHT_FINDING_WORDS,
    "hero.missing": lambda f, N, n, mm: ("No hero yet", "Nothing in this picture leads. Give one thing the role of hero."),
    "hero.several": lambda f, N, n, mm: (f"{f.measure:g} heroes at once", f"{' and '.join(N)} both lead; one only holds the eye."),
    "hero.cut": _cut,
    "hero.small": lambda f, N, n, mm: (
        f"The {n[0]} is small",
        f"It fills {_beside(f.measure, f.limit, 1)} % of {_where(f)}; from {f.limit:g} % on it is the subject.",
    ),
    "spacing.overlap": lambda f, N, n, mm: (
        f"{N[0]} and {n[1]} stand in each other",
        f"By {mm(f.measure)}. One of them has to move, or rest on the other.",
    ),
    "spacing.tight": lambda f, N, n, mm: (
        f"{N[0]} crowds the {n[1]}",
        f"{_length(f.measure, f.limit, mm)} of table between them; {mm(f.limit)} reads as meant.",
    ),
    "tangent.pair": _tangent_pair,
    "tangent.edge": lambda f, N, n, mm: (
        f"{N[0]} just kisses the edge",
        f"It ends {_gap(f, mm)} from the {_sides(f)} of {_where(f)} as the lens sees it, {_beside(f.measure, f.limit, 1)} % of the picture; from {f.limit:g} % on it is clear of it.",
    ),
    "edge.sliver": lambda f, N, n, mm: (
        f"A sliver of the {n[0]}",
        f"{_percent(f.measure, f.limit)} of it peeks into {_where(f)}; less than {f.limit:g} % looks like a mistake.",
    ),
    "rig.ceiling": _ceiling,
    "lens.min_focus": lambda f, N, n, mm: (
        "Too near for this lens",
        f"It is asked to focus at {_length(f.measure, f.limit, mm).lower()}; {mm(f.limit)} is its nearest.",
    ),
    "lens.too_far": lambda f, N, n, mm: (
        "Too far for the extension",
        f"Focus at {_length(f.measure, f.limit, mm).lower()} is asked for; nothing beyond {mm(f.limit)} comes sharp.",
    ),
    "surface.edge": _surface,
    "backdrop.narrow": lambda f, N, n, mm: (
        "The backdrop ends in the picture",
        f"Short by {mm(f.measure)} at the {_sides(f)} of {_where(f)}.",
    ),
    "focus.hero": _soft,
    "lens.circle": lambda f, N, n, mm: (
        "The corners stay dark",
        f"This lens throws a picture {_beside(f.measure, f.limit, 1)} mm across; the sensor needs {f.limit:.1f} mm (image circle).",
    ),
    "feature.hidden": _feature_hidden,
    "feature.turned": lambda f, N, n, mm: (
        f"The {f.sides[0]} of the {n[0]} looks away",
        "It faces away from the lens."
        if f.measure >= 90
        else f"It is turned {_beside(f.measure, f.limit)}° from the lens; up to {f.limit:g}° it can be seen.",
    ),
    "feature.small": lambda f, N, n, mm: (
        f"The {f.sides[0]} of the {n[0]} is small",
        f"It is {_beside(f.measure, f.limit)} pixels high in {_where(f)} as delivered; from {f.limit:g} on it can be read.",
    ),
    "feature.soft": lambda f, N, n, mm: (
        f"The {f.sides[0]} of the {n[0]} is soft",
        f"It is {f.measure:.1f} times as blurred as passes in {_where(f)}.",
    ),
    "order.crooked": lambda f, N, n, mm: (
        f"{N[0]} is a little crooked",
        f"By {f.measure:.1f}°. Square to the frame, or plainly turned, reads as meant.",
    ),
    "order.off_centre": _off_centre,
    "order.margins": _margins,
    "support.leaning": lambda f, N, n, mm: (
        f"{N[0]} would fall over",
        f"Its weight is {mm(f.measure)} outside what it stands on, and nothing holds it.",
    ),
    "copy.occupied": _copy,
    "copy.illegible": _illegible,
    "colour.merge": _merge,
    "colour.lighter": lambda f, N, n, mm: (
        f"{N[0]} is lighter than the {f.sides[0]}",
        f"The eye goes to the lightest place first; this one is lighter by {f.measure:.0f} on a scale from black 0 to white 100{in_light(f)}.",
    ),
    "colour.louder": lambda f, N, n, mm: (
        f"{N[0]} outshouts the {f.sides[0]}",
        f"It is more colourful than the hero, by {f.measure:.2f} where 0.2 is vivid (chroma).",
    ),
    "colour.lone_dark": lambda f, N, n, mm: (
        f"{N[0]} is the one dark spot",
        f"Its {f.sides[0]} is {f.measure:.0f} darker than anything else, where black is 0 and white 100, so the eye falls into it. Something dark elsewhere settles it.",
    ),
    "colour.lone_light": lambda f, N, n, mm: (
        f"{N[0]} is the one light spot",
        f"Its {f.sides[0]} is {f.measure:.0f} lighter than anything else, where black is 0 and white 100. Something light elsewhere settles it.",
    ),
    "palette.off": lambda f, N, n, mm: (
        f"{N[0]} is off the palette",
        f"Its {f.sides[0]} is plainly none of the palette's colours; the nearest, the {colour_words(f.sides[1])}, is {_beside(f.measure, f.limit)} away, and up to {f.limit:g} belongs (CIEDE2000).",
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
    return f"Nothing here or in the stores clears it: {KINDS[finding.code].gives}."
