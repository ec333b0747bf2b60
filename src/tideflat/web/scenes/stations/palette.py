"""The palette: the colours wanted against what is seen, and how everything in the picture lies to each other."""

from __future__ import annotations

from typing import Any

import numpy as np

from tideflat.core.camera.crops import FULL_FRAME, Crop
from tideflat.core.colour.harmony import harmony
from tideflat.core.colour.spaces import oklch_of
from tideflat.core.colour.words import colour_words
from tideflat.core.evaluate import Picture
from tideflat.core.findings.standing_out import merging_limit
from tideflat.core.model import Scene
from tideflat.core.palette.seen import against, seen_colours
from tideflat.core.palette.wanted import met
from tideflat.web.bridge.crops_drawn import chosen_crop
from tideflat.web.bridge.palette_drawing import Spot, hue_circle, lightness_plot

from .station import Look, Reading, Station

#: A colour seen on less than this is left out of the plots.
_LEAST_SHARE = 0.0015


def _readings(picture: Picture, crop: Crop | None) -> dict[str, Any]:
    """The readings of the set-up, in the crop that is chosen or in the whole frame."""
    seen = seen_colours(picture, crop.box if crop else FULL_FRAME)
    heroes = set(picture.hero_ids())
    spots = [Spot(_named(picture, s.owner), s.hex, s.share, s.owner in heroes, owner=s.owner) for s in seen if s.share > _LEAST_SHARE]
    lch = np.array([oklch_of(s.hex) for s in spots]).reshape(-1, 3)
    fits = harmony(lch[:, 2], lch[:, 1], np.array([s.share for s in spots]))
    palette = picture.scene.palette
    wanted = [Spot("wanted", c.hex, 0.0, is_wanted=True) for c in palette.colours] if palette else []
    found: dict[str, Any] = {
        "where": crop.name if crop else "the frame",
        "circle": hue_circle([*spots, *wanted], fits),
        "plot": lightness_plot([*spots, *wanted]),
        "harmony": fits,
        "hero": _hero_words(picture),
        "rows": [],
        "rest": None,
    }
    if palette:
        rows, rest = met(palette, seen)
        found["rest"] = round(rest * 100)
        for at, row in enumerate(rows):
            owners = [_named(picture, o) for o in row.owners]
            found["rows"].append(
                {
                    "at": at,
                    "colour": row.wanted,
                    "words": colour_words(row.wanted.hex),
                    "wanted": round(row.wanted.share * 100),
                    "seen": round(row.share * 100),
                    "carriers": " ".join(row.owners),
                    "owners": ", ".join(list(dict.fromkeys(owners))[:4]) or "nothing",
                }
            )
    return found


def _named(picture: Picture, owner: str) -> str:
    """What a colour's owner is called: a thing, or one of the grounds."""
    grounds = {"surface": picture.scene.surface.name, "backdrop": "backdrop", "room": "wall"}
    return grounds.get(owner) or picture.props[owner].name


def _hero_words(picture: Picture) -> str:
    """How the hero stands out from what lies behind it."""
    heroes = picture.hero_ids()
    if not heroes:
        return ""
    rim = against(picture).get(heroes[0])
    if rim is None:
        return ""
    behind = _named(picture, rim.behind)
    limit = merging_limit(picture.scene)
    stands = "stands clear of" if rim.delta_e >= limit else "melts into"
    return f"The {picture.props[heroes[0]].name} {stands} the {behind}: their colours are {rim.delta_e:.0f} apart (CIEDE2000), clear from {limit:g}."


def _context(look: Look) -> dict[str, Any]:
    shown = _readings(look.picture, chosen_crop(look.picture, look.glance.crop))
    return {"palette": shown, "has_references": look.row.references.exists()}


def palette_words(scene: Scene) -> str:
    """The palette in words: its base and its accents."""
    if scene.palette is None:
        return "which colours?"
    parts = [colour_words(c.hex) for part in ("base", "accent") for c in scene.palette.of_part(part)[:1]]
    return " with ".join(parts) or f"{len(scene.palette.colours)} colours"


def _reading(picture: Picture) -> Reading:
    return Reading(picture.scene.palette is not None, palette_words(picture.scene))


STATION = Station(
    tray="palette",
    template="scenes/fragments/tray_palette.html",
    context=_context,
    rank=30,
    name="Palette",
    reading=_reading,
    verbs=("palette-colour", "palette-drop", "palette-read", "palette-references", "palette-subject"),
)
