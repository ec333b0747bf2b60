"""The web's words for findings of the frame: how the camera stands, what the lens does, what each crop has of pixels, how long it exposes."""

from __future__ import annotations

from collections.abc import Callable

from tideflat.core.findings.finding import Finding
from tideflat.core.frame.fit import Fitted
from tideflat.core.model import Camera
from tideflat.core.units import format_length

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


def _reach(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    name, far = dict(f.figures).get("support", "support"), mm(f.measure)
    said = {
        "high": ("does not rise so high", f"It stays {far} under where the lens has to be."),
        "low": ("does not come down so low", f"It stays {far} above where the lens has to be."),
        "reach": ("does not reach so far", f"Its column stands beside the table and brings the lens {far} too little over it."),
        "inverts": ("cannot look straight down", "So steeply only an arm or a column that turns the camera down holds it."),
    }.get(f.sides[0] if f.sides else "", ("does not bring it there", f"It falls {far} short."))
    return (
        f"The {name} {said[0]}",
        f"{said[1]} Weigh every overhead rig down, tether it, and keep hands and heads from under it while it moves.",
    )


def _moving(f: Finding, N: list[str], n: list[str], mm: Callable[[float], str]) -> Words:
    figures = dict(f.figures)
    each, rate = time_words(figures["longest_s"]), 1 / figures["longest_s"]
    if "flash" in f.sides:
        return "A flash lights no moving picture", f"{f.crop} has {rate:g} frames a second: it wants light that burns on."
    return f"{f.crop} is exposed for too long", f"At {rate:g} frames a second each lasts {each}, and none can be exposed for longer."


FRAME_WORDS: dict[str, Say] = {
    "camera.plumb": lambda f, N, n, mm: (
        "The camera does not hang plumb",
        f"It looks {f.measure:.1f}° past straight down: one side of the set comes out larger than the other, and straight lines run together.",
    ),
    "camera.level": lambda f, N, n, mm: (
        "The camera is not level",
        f"It is turned {f.measure:.1f}° {f.sides[0]} about its axis. Level, or plainly turned, reads as meant (roll).",
    ),
    "rig.reach": _reach,
    "rig.seen": lambda f, N, n, mm: (
        f"The {dict(f.figures).get('support', 'support')} stands in the picture",
        f"Wherever it can stand, its legs or column reach {f.measure:.0f} % of the shorter side into the frame.",
    ),
    "crop.margin": lambda f, N, n, mm: (
        f"{N[0]} lies in the rim of {f.crop}",
        f"{f.measure:.0f} % of it {'is trimmed off with the bleed' if 'trimmed' in f.sides else 'comes nearer the edge than the margin that is kept clear'}.",
    ),
    "exposure.moving": _moving,
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


#: A camera that goes no further than this has stayed as far off, mm.
_SAME_MM = 0.5


def fit_words(found: Fitted, now: Camera, unit: str) -> str:
    """What the camera that was found does; where it is not what was asked, why, and what the nearest is."""
    away, fills = format_length(found.camera.distance, unit), f"{100 * found.share:.0f} %"
    if found.reason is None:
        if abs(found.camera.distance - now.distance) < _SAME_MM:
            return f"That is from {away} away, as far as now."
        moved = format_length(abs(found.camera.distance - now.distance), unit)
        way = "further off" if found.camera.distance > now.distance else "nearer"
        return f"That is from {away} away, {moved} {way} than now."
    lens = f"{now.lens.focal_length:g} mm"
    can = (
        f" From {away} away, the nearest that can be, it fills {fills}."
        if found.camera != now
        else " Another angle or another lens would have to give."
    )
    if found.code == "rig.ceiling" and found.short_mm is not None:
        shorter = "" if found.shorter is None else f" A lens of {found.shorter:.0f} mm frames it under this ceiling."
        floor = " With the surface on the floor there is room." if found.floor_helps else ""
        return f"With {lens} the camera would be {format_length(found.short_mm, unit)} in the ceiling.{can}{shorter}{floor}"
    if found.code == "lens.too_far":
        return f"Behind its tubes {lens} focuses no further.{can}"
    if found.code == "rig.table":
        return f"With {lens} the camera would be in the table.{can}"
    return f"{lens} focuses no nearer.{can}"
