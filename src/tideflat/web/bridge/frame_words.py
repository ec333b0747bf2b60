"""The web's words for findings of the frame: how the camera stands, what the lens does, what each crop has of pixels, how long it exposes."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.findings.finding import Finding

from .arrangement_words import Say, Words
from .time_words import time_words


def _smear(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    where = f"in {f.crop}" if f.crop else "in the picture"
    freezes = time_words(dict(f.figures)["longest_s"])
    return f"{N[0]} smears", f"It moves over {f.measure:.0f} pixels {where} while the picture is taken; {freezes} holds it to {f.limit:g}."


def _horizon(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    return (
        f"A line runs through the {n[0]}",
        f"Where the table ends behind it, the line cuts it {f.measure:.0f} % of its height from its end; from a little higher or lower it passes it.",
    )


FRAME_WORDS: dict[str, Say] = {
    "camera.plumb": lambda f, N, n, mm: (
        "The camera does not hang plumb",
        f"It looks {f.measure:.1f}° past straight down: one side of the set comes out larger than the other, and straight lines run together.",
    ),
    "camera.level": lambda f, N, n, mm: (
        "The camera is not level",
        f"It is turned {f.measure:.1f}° {f.sides[0]} about its axis. Level, or plainly turned, reads as meant (roll).",
    ),
    "crop.enlarged": lambda f, N, n, mm: (
        f"{f.crop} has too few pixels",
        f"What is asked for takes {f.measure:.0f} % of what the crop has: it would be blown up, and look soft.",
    ),
    "focus.rim": lambda f, N, n, mm: (
        f"The {'rim' if f.sides[0] == 'near' else 'foot'} of the {n[0]} is soft",
        f"Seen from above, {mm(f.measure)} of it {'stand up before' if f.sides[0] == 'near' else 'lie under'} what is sharp.",
    ),
    "lens.diffraction": lambda f, N, n, mm: (
        "So small a stop softens the picture",
        f"The light bends at the edge of the stop (diffraction) and takes {f.measure:.0f} % of what passes for sharp; up to {f.limit:g} % is not seen.",
    ),
    "frame.converging": lambda f, N, n, mm: (
        f"{N[0]} leans in the picture",
        f"It stands upright, and the lens shows it {f.measure:.1f}° off: the camera looks a little up or down (converging uprights).",
    ),
    "lens.stretch": lambda f, N, n, mm: (
        "The front is stretched",
        f"What stands in front is shown {f.measure:.1f} times as large as the same at the back; from further off, with a longer lens, it flattens.",
    ),
    "frame.horizon": _horizon,
    "exposure.smear": _smear,
    "exposure.handheld": lambda f, N, n, mm: (
        "Too long for a hand",
        f"A hand holds the camera for {time_words(f.measure / 1000)}; here it is still for {time_words(f.limit / 1000)}.",
    ),
}
