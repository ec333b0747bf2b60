"""The web's words for findings of the light."""

from __future__ import annotations

from tideflat.core.findings.finding import Finding

from .arrangement_words import Say
from .light_words import light_name


def _light(f: Finding) -> str:
    return light_name(str(dict(f.figures).get("light", "key")))


def _other(f: Finding, n: list[str]) -> str:
    return n[0] if n else light_name(str(dict(f.figures).get("other", "table")))


def in_light(f: Finding) -> str:
    """What is added where colours were judged in the set-up's own light."""
    return " in this light" if dict(f.figures).get("lit") else ""


LIGHT_FINDING_WORDS: dict[str, Say] = {
    "light.flat": lambda f, N, n, mm: (
        f"The {_light(f)} lights the {n[0]} flat",
        f"It comes from {f.measure:.0f}° beside the lens; from the side or the side-back, texture and shine show.",
    ),
    "light.shaded": lambda f, N, n, mm: (
        f"{N[0]} shades the {n[-1]}",
        f"It hides {f.measure:.0f} % of the {_light(f)} from its top: the shadow falls just there.",
    ),
    "light.camera_shadow": lambda f, N, n, mm: (
        "The camera throws its own shadow",
        f"It stands between the {_light(f)} and the {n[0]}: the light's way passes {mm(f.measure)} beside its axis.",
    ),
    "light.in_picture": lambda f, N, n, mm: (
        f"The {_light(f)} stands in the picture",
        f"It fills {f.measure:.1f} % of the frame.",
    ),
    "light.mixed": lambda f, N, n, mm: (
        "Two lights, two colours",
        f"One is as warm as {dict(f.figures).get('warm', 0)} K, another as cool as {dict(f.figures).get('cool', 0)} K; no one white is right for both.",
    ),
    "light.falloff": lambda f, N, n, mm: (
        "The light falls off over the set",
        f"By {f.measure:.1f} stops from its brightest place to its darkest; from further off it is more even, and a card fills.",
    ),
    "light.no_fill": lambda f, N, n, mm: (
        f"The side of the {n[0]} that the lens sees is dark",
        f"The {_light(f)} comes from behind, and what fills stands {f.measure:.1f} stops{' or more' if f.measure >= 7 else ''} under it; a white card toward the lens opens it.",
    ),
    "light.elsewhere": lambda f, N, n, mm: (
        f"{N[0]} is brighter than the {n[-1]}",
        f"By {f.measure:.1f} stops, in the light of the {_light(f)}: the eye goes there first.",
    ),
    "light.spill": lambda f, N, n, mm: (
        "Light spills on the backdrop",
        f"It gets {f.measure:.1f} stops more than the {n[0]}; from further off, or behind a flag, it stays quiet.",
    ),
    "light.ceiling": lambda f, N, n, mm: (
        "The ceiling takes the direction away",
        f"{f.measure:.0f} % of the light at the hero comes from it; a black card overhead brings depth back.",
    ),
    "light.glare": lambda f, N, n, mm: (
        f"The {_light(f)} shines into the lens",
        f"It stands {f.measure:.0f}° beside the frame: a veil over the picture, and spots."
        if f.measure > 0
        else "It stands in the frame: a veil over the picture, and spots.",
    ),
    "light.dull": lambda f, N, n, mm: (
        f"{N[0]} mirrors nothing bright",
        f"It reads as metal or gloss with one light in it; the {_light(f)} is {f.measure:.0f}° of tilt away.",
    ),
    "light.across": lambda f, N, n, mm: (
        "Shadows cross the diagonal",
        f"They run {f.measure:.0f}° to it; from another side the {_light(f)} sends them along it.",
    ),
    "light.sun_short": lambda f, N, n, mm: (
        "The sun moves on" if f.measure else "No sun there at that hour",
        f"It reaches the {n[0]} for {f.measure:.0f} minutes more." if f.measure else f"At its hour it does not reach the {n[0]}.",
    ),
    "rig.collides": lambda f, N, n, mm: (
        f"The {_light(f)} stands in the {_other(f, n)}",
        f"By {mm(f.measure)}; one of them has to give way.",
    ),
    "light.harsh": lambda f, N, n, mm: (
        f"The {_light(f)} is hard",
        f"It looks {f.measure:.1f}° wide from the hero, so shadows have edges; larger or nearer is softer.",
    ),
}
