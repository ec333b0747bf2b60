"""The web's words for findings of the light."""

from __future__ import annotations

from tideflat.core.findings.finding import Finding

from .arrangement_words import Say
from .light_words import light_name


def _light(f: Finding) -> str:
    return light_name(str(dict(f.figures).get("light", "key")))


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
    "light.harsh": lambda f, N, n, mm: (
        f"The {_light(f)} is hard",
        f"It looks {f.measure:.1f}° wide from the hero, so shadows have edges; larger or nearer is softer.",
    ),
}
