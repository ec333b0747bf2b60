"""The web's own words for findings, remedies and errors, from the core's codes and figures."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import Finding, Remedy
from tideflat.core.findings.remedies import WOULD_HAVE_TO_GIVE
from tideflat.core.units import format_length

from .colour_sentences import COLOUR_WORDS, Words


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


_WORDS: dict[str, Callable[[Finding, list[str], list[str], Callable[[float], str]], Words]] = {
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
    **COLOUR_WORDS,
    "support.floating": lambda f, N, n, mm: (f"Nothing holds the {n[0]}", f"It hangs {mm(f.measure)} above what is under it."),
}


def remedy_words(picture: Picture, remedy: Remedy, unit: str) -> str:
    """The remedy as the words on its button."""
    figures = dict(remedy.figures)
    name = picture.props[figures["placement"]].name if figures.get("placement") in picture.props else ""
    length = format_length(figures["mm"], unit) if "mm" in figures else ""
    match remedy.kind:
        case "move":
            return f"Move the {name} {length}"
        case "move_several":
            return f"Move {len(figures['placements'])} things, at most {length}"
        case "aim":
            return f"Carry the camera {length}"
        case "step":
            return f"Step {figures['way']} {length}"
        case "aim_and_step":
            return f"Carry the camera {length} and step closer"
        case "crop":
            return f"Shift the {figures['crop']} crop"
        case "slide":
            return f"Slide the backdrop {length} {figures['way']}"
        case "refocus":
            return "Focus through its middle"
        case "aperture":
            return f"Stop down to f/{figures['aperture']:g}"
        case "refocus_and_aperture":
            return f"Focus its middle at f/{figures['aperture']:g}"
        case "lower":
            return f"Set it down {length}"
        case "swap":
            return f"Take the {figures['name']} instead"
        case "bring":
            return f"Bring in the {figures['name']}" + (" twice" if figures["count"] == 2 else "")
        case "surface":
            return f"Lay it on {figures['name']}"
        case "role":
            return f"Make the {name} the {figures['role']}"
    return remedy.sentence[:1].upper() + remedy.sentence[1:]


def no_remedy_words(finding: Finding) -> str:
    """Why there is none: what would have to give."""
    text = WOULD_HAVE_TO_GIVE[finding.code]
    return f"Nothing here or in the stores clears it alone: {text}."


_FIELD_NAMES = {
    "aim_x": "aim",
    "aim_y": "aim",
    "aim_z": "aim height",
    "pixels_wide": "pixels",
    "pixels_high": "pixels",
    "copy_share": "room for words",
    "lean_toward": "lean direction",
    "z": "height",
    "x": "from the left",
    "y": "from the front",
    "value": "value",
}


def error_words(error: FieldError) -> str:
    """A core error as a sentence: what, the rule, what was got."""
    last = error.path.split(".")[-1]
    name = _FIELD_NAMES.get(last, last.replace("_", " "))
    name = name[:1].upper() + name[1:]
    text = str(error)
    got = text[text.rindex("(got ") :] if "(got " in text else ""
    return f"{name} {error.rule}. {got}".strip()
