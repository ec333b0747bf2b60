"""To the set: the plan as a transparent picture for a live view, and the page that stands beside the camera."""

from __future__ import annotations

from typing import Any

from tideflat.core.frame.overlay import Colours
from tideflat.core.frame.tiles import PAPERS

from .station import Look, Station

#: What may be drawn of the plan, in words, in the order it is asked.
PARTS = (
    ("veil", "what lies outside the crop, darkened"),
    ("crops", "crops and rooms for words"),
    ("guides", "guides"),
    ("outlines", "outlines of things"),
    ("registration", "registration marks on the hero"),
    ("features", "places that have a name"),
)
_SCREEN_LONG = 1920


def _context(look: Look) -> dict[str, Any]:
    wide, high = look.picture.setup.camera.frame_pixels
    scale = _SCREEN_LONG / max(wide, high)
    screen = (round(wide * scale), round(high * scale))
    papers = [(name, name.upper() if name != "letter" else "Letter") for name in PAPERS]
    return {"papers": papers, "parts": PARTS, "sizes": [("the body's own pixels", wide, high), ("a screen", *screen)], "colours": Colours()}


STATION = Station(tray="overlays", template="scenes/fragments/tray_overlays.html", context=_context)
