"""The web's words for findings of an arrangement: how things lie to each other, to the hero, to the scheme and to the lens."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.colour.words import colour_words
from tideflat.core.findings.finding import Finding

from .scheme_words import SCHEME_WORDS

Words = tuple[str, str]
Say = Callable[[Finding, list[str], list[str], Callable[[float], str]], Words]


def _scheme(f: Finding) -> str:
    words = SCHEME_WORDS[f.sides[0]]
    return words[:1].lower() + words[1:]


def _off(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    what = "The hero is off its place" if dict(f.figures).get("hero") else f"{N[0]} strays from the scheme"
    return what, f"It lies {f.measure:.0f} % of the picture's height off ({_scheme(f)}); up to {f.limit:g} % it follows."


def _weighs(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    return (
        f"The picture weighs to the {f.sides[0]}",
        f"What catches the eye has its middle {f.measure:.0f} % of the picture's height off; up to {f.limit:g} % it hangs in balance.",
    )


ARRANGEMENT_WORDS: dict[str, Say] = {
    "hero.hidden": lambda f, N, n, mm: (
        f"{N[1]} stands before the {n[0]}",
        f"{'It hides' if dict(f.figures).get('things', 1) == 1 else 'With others it hides'} {f.measure:.0f} % of the hero; up to {f.limit:g} % passes.",
    ),
    "hero.crowded": lambda f, N, n, mm: (
        f"{N[1]} comes close to the {n[0]}",
        f"{f.measure:.1f} % of the picture's height between them as the lens sees it; {f.limit:g} % of clear air lets the hero lead.",
    ),
    "spacing.island": lambda f, N, n, mm: (
        f"{N[0]} lies by itself",
        f"The nearest thing is {f.measure:.0f} % of the picture's height away; past {f.limit:g} % it is an island.",
    ),
    "spacing.even": lambda f, N, n, mm: (
        "Everything lies evenly spread",
        f"Gaps differ by {f.measure * 100:.0f} % only; from {f.limit * 100:g} % on slight clusters look laid by hand.",
    ),
    "balance.off": _weighs,
    "balance.light": lambda f, N, n, mm: (
        f"Light at the {f.sides[0]}, dark at the {f.sides[1]}",
        f"The two sides are {f.measure:.0f} apart, where black is 0 and white 100; past {f.limit:g} the picture falls in two.",
    ),
    "size.growing": lambda f, N, n, mm: (
        "Sizes grow away from the hero",
        f"The further off, the larger things are (rank correlation {f.measure:.2f}; over {f.limit:g}). The eye is led off the {n[0]}.",
    ),
    "fullness.crowded": lambda f, N, n, mm: (
        f"Crowded with {f.measure:.0f} things",
        f"Past {f.limit:g} a flat lay of this kind reads as crowded; one less lets the others be seen.",
    ),
    "echo.close": lambda f, N, n, mm: (
        f"{N[0]} and {n[1]} are one spot of {colour_words(f.sides[0])}",
        f"They lie {f.measure:.0f} % of the picture's height apart; from {f.limit:g} % on one echoes the other.",
    ),
    "scheme.off": _off,
    "scheme.gap": lambda f, N, n, mm: (
        "A stretch of the scheme is empty",
        f"{f.measure:.1f} times an even share of its line ({_scheme(f)}); up to {f.limit:g} times it reads as one line.",
    ),
    "linear.out": lambda f, N, n, mm: (
        f"{N[0]} leads out of the picture",
        "Its line meets nothing either way. Let it point at the next thing that the eye should visit.",
    ),
    "linear.parallel": lambda f, N, n, mm: (
        f"{N[0]} and {n[1]} run alike",
        f"{f.measure:.1f}° apart; from {f.limit:g}° on lines look laid down loosely.",
    ),
    "height.before": lambda f, N, n, mm: (
        f"{N[0]} stands before the lower {n[1]}",
        f"It hides {f.measure:.0f} % of it; past {f.limit:g} % the tall thing wants to go behind.",
    ),
    "depth.flat": lambda f, N, n, mm: (
        "All in one plane",
        f"From the nearest to the furthest it is {f.measure:.1f} % of the camera's distance; from {f.limit:g} % on planes give depth.",
    ),
}
