"""Forms for what is sharp and how it is exposed."""

from __future__ import annotations

import re
from dataclasses import replace

from tideflat.core.camera.exposing import speed_of_fall
from tideflat.core.errors import FieldError
from tideflat.core.facts.speeds import SPEEDS
from tideflat.core.formats.scene_writer import exposure_value, support_value
from tideflat.core.formats.setup_reader import ISO, MOST_FILTER_STOPS, TIME_S
from tideflat.core.frame.hold_sharp import hold_sharp
from tideflat.core.model import Exposure
from tideflat.core.moving import moving
from tideflat.web.stores.queries import kit_of

from .asked import Asked, Form, Value

#: A streak across a large print.
_LONGEST_STREAK_PX = 20_000
_PART = re.compile(r"1\s*/\s*(\d+(?:\.\d+)?)")


def exposure(asked: Asked) -> Value:
    """Time (``1/125``, ``0.5``), sensitivity, flash, by hand; an empty time leaves it open."""
    fields = asked.fields
    if fields.has("streak"):
        return _streak(asked)
    if not fields.has("time"):
        return asked.of_setup("exposure", exposure=None)
    seconds = _seconds(fields.text("time", 20))
    iso = fields.number("iso") if fields.has("iso") else 100.0
    if not ISO[0] <= iso <= ISO[1]:
        raise FieldError("iso", f"must be from {ISO[0]:g} to {ISO[1]:g}", iso)
    filtered = fields.number("filter") if fields.has("filter") else 0.0
    if not 0 <= filtered <= MOST_FILTER_STOPS:
        raise FieldError("filter", f"must be from 0 to {MOST_FILTER_STOPS:g} stops", filtered)
    made = Exposure(iso, seconds, fields.has("flash"), fields.has("handheld"), filtered)
    return asked.of_setup("exposure", exposure=exposure_value(made))


def _streak(asked: Asked) -> Value:
    """So long that the thing (``id``) smears over so many delivered pixels."""
    wanted = asked.fields.number("streak")
    if not 1 <= wanted <= _LONGEST_STREAK_PX:
        raise FieldError("streak", f"must be from 1 to {_LONGEST_STREAK_PX} pixels", wanted)
    found = moving(asked.picture, asked.thing.id)
    if found is None:
        raise FieldError("streak", "must be of a thing that moves across the picture", show_got=False)
    now = asked.setup.exposed or Exposure()
    time_s = min(max(float(f"{wanted / found.pixels_s:.3g}"), TIME_S[0]), TIME_S[1])
    return asked.of_setup("exposure", exposure=exposure_value(replace(now, time_s=time_s, flash=False)))


def held_by(asked: Asked) -> Value:
    """What of the studio's kit (``name``) holds the camera; none: not decided."""
    name = asked.fields.text("name", 200)
    if not name:
        return asked.of_setup("support", support=None)
    support = next((s for s in kit_of(asked.studio).supports if s.name == name), None)
    if support is None:
        raise FieldError("support", "must be one of your supports", name)
    return asked.of_setup("support", support=support_value(support))


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


FORMS: dict[str, Form] = {"exposure": exposure, "motion": motion, "hold-sharp": held_sharp, "support": held_by}
