"""Forms for what is sharp and how it is exposed."""

from __future__ import annotations

import re

from tideflat.core.camera.exposing import speed_of_fall
from tideflat.core.errors import FieldError
from tideflat.core.facts.speeds import SPEEDS
from tideflat.core.formats.scene_writer import exposure_value
from tideflat.core.formats.setup_reader import ISO, TIME_S
from tideflat.core.frame.hold_sharp import hold_sharp
from tideflat.core.model import Exposure

from .asked import Asked, Form, Value

_PART = re.compile(r"1\s*/\s*(\d+(?:\.\d+)?)")


def exposure(asked: Asked) -> Value:
    """Time (``1/125``, ``0.5``), sensitivity, flash, by hand; an empty time leaves it open."""
    fields = asked.fields
    if not fields.has("time"):
        return asked.of_setup("exposure", exposure=None)
    seconds = _seconds(fields.text("time", 20))
    iso = fields.number("iso") if fields.has("iso") else 100.0
    if not ISO[0] <= iso <= ISO[1]:
        raise FieldError("iso", f"must be from {ISO[0]:g} to {ISO[1]:g}", iso)
    made = Exposure(iso, seconds, fields.has("flash"), fields.has("handheld"))
    return asked.of_setup("exposure", exposure=exposure_value(made))


def _seconds(text: str) -> float:
    part = _PART.fullmatch(text.strip().removesuffix("s").strip())
    try:
        seconds = 1 / float(part[1]) if part else float(text.strip().removesuffix("s").replace(",", "."))
    except (ValueError, ZeroDivisionError):
        seconds = -1.0
    if not TIME_S[0] <= seconds <= TIME_S[1]:
        raise FieldError("time", "must be a time such as 1/125 or 0.5 seconds", text)
    return seconds


def motion(asked: Asked) -> Value:
    """How the thing moves: one of the usual ways, poured from a height, or not at all."""
    fields = asked.fields
    kind = fields.choice("kind", ("still", "pour", *SPEEDS))
    if kind == "still":
        return {"act": "motion", "placement": asked.thing.id, "motion": None}
    if kind == "pour":
        height = fields.length("height")
        if not 0 < height <= _HIGHEST_MM:
            raise FieldError("height", f"must be over 0 and at most {_HIGHEST_MM:g} mm", height)
        speed = speed_of_fall(height)
    else:
        speed = SPEEDS[kind].value
    toward = [0, 0, -1] if kind in ("pour", "powder") else [0, 0, 1] if kind == "splash" else [1, 0, 0]
    return {"act": "motion", "placement": asked.thing.id, "motion": {"speed": round(speed), "toward": toward}}


#: Nothing is poured from higher, mm.
_HIGHEST_MM = 5000.0


def held_sharp(asked: Asked) -> Value:
    """Things (``ids``) held sharp in one frame (``once``) or by the tilt of the lens (``tilt``); or the lens straight again."""
    way = asked.fields.choice("way", ("once", "tilt", "straight"))
    if way == "straight":
        return asked.of_setup("tilt", tilt=0)
    held = hold_sharp(asked.picture, tuple(asked.fields.text("ids", 4000).split()))
    if way == "once":
        if held.at_once is None:
            raise FieldError("ids", f"must be held sharp by one frame: {held.reason}", show_got=False)
        once: Value = {"aperture": held.at_once.aperture, "focus": {"point": list(held.at_once.point)}}
        if asked.setup.camera.lens.tilt:  # it is promised of the straight lens
            return asked.of_setup("tilt", tilt=0, **once)
        return asked.of_setup("camera", **once)
    if held.tilted is None:
        raise FieldError("ids", "must lie so that a tilt gives something", show_got=False)
    found = held.tilted
    return asked.of_setup("tilt", tilt=found.tilt, toward=found.toward, aperture=found.aperture, focus={"point": list(found.point)})


FORMS: dict[str, Form] = {"exposure": exposure, "motion": motion, "hold-sharp": held_sharp}
