"""Forms for a set-up's camera."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.stance import PRESETS_DEG
from tideflat.core.camera.view import view_of
from tideflat.core.errors import FieldError
from tideflat.core.formats.scene_writer import lens_value, sensor_value
from tideflat.web.stores.queries import body_in, lens_in
from tideflat.web.ui.fields import Fields

from .asked import Asked, Form, Value, whole_share


def preset(asked: Asked) -> Value:
    return asked.of_setup("preset", preset=asked.fields.choice("preset", tuple(PRESETS_DEG)))


def camera(asked: Asked) -> Value:
    """One typed value of the camera: ``field`` says which."""
    fields = asked.fields
    which = fields.choice(
        "field", ("elevation", "azimuth", "roll", "distance", "height", "aim_x", "aim_y", "aim_z", "aperture", "orientation", "focus")
    )
    value: Any
    if which == "focus":  # empty: through the aim
        return asked.of_setup("focus_on", placement=fields.text("value", 64) or None)
    if which == "height":
        return asked.of_setup("lens_height", height=fields.length("value", float(view_of(asked.setup.camera).position[2])))
    if which in ("elevation", "azimuth", "roll"):
        value = fields.angle("value")
    elif which == "aperture":
        value = fields.number("value")
    elif which == "orientation":
        value = fields.choice("value", ("landscape", "portrait"))
    elif which == "distance":
        value = fields.length("value", asked.setup.camera.distance)
    else:
        aim = list(asked.setup.camera.aim)
        value = fields.length("value", aim["xyz".index(which[-1])])
        aim["xyz".index(which[-1])] = value
        return asked.of_setup("camera", aim=aim)
    return asked.of_setup("camera", **{which: value})


def stand(asked: Asked) -> Value:
    """Elevation, degrees, and distance from the aim, mm, at once, as a hand on the lens gives them; or where the aim goes."""
    fields = asked.fields
    if fields.has("aim_z"):
        return asked.of_setup("camera", aim=[fields.mm("aim_x"), fields.mm("aim_y"), fields.mm("aim_z")])
    return asked.of_setup("camera", elevation=round(fields.number("elevation"), 1), distance=fields.mm("distance"))


def guide(asked: Asked) -> Value:
    """A guide laid (``axis``, ``at``), moved (``index``, ``at``), or taken away (``index`` alone)."""
    fields = asked.fields
    guides = [{"axis": g.axis, "at": g.at, "kind": g.kind} for g in asked.setup.guides]
    at = {"at": round(fields.number("at"), 5)} if fields.has("at") else {}
    if fields.has("percent"):
        at = {"at": round(whole_share(fields, "percent"), 5)}
    if not fields.has("index"):
        guides.append({"axis": fields.choice("axis", ("u", "v")), "kind": "line", **at})
    else:
        index = fields.whole("index")
        if not 0 <= index < len(guides):
            raise FieldError("index", "must be one of the set-up's guides", index)
        if at:
            guides[index] |= at
        else:
            del guides[index]
    return asked.of_setup("guides", guides=guides)


def pan(asked: Asked) -> Value:
    """The camera carried with its aim by dx, dy, mm."""
    return asked.of_setup("pan", dx=asked.fields.mm("dx"), dy=asked.fields.mm("dy"))


def lens(asked: Asked) -> Value:
    """A lens of the stores."""
    item, _, keep = asked.fields.text("item", 60).partition("|")
    found, name = lens_in(asked.studio, item)
    return asked.of_setup("lens", lens=lens_value(found), called=name, keep=_keep(keep))


def body(asked: Asked) -> Value:
    """A body of the stores; a phone brings its own lens."""
    item, _, keep = asked.fields.text("item", 60).partition("|")
    sensor, name, own = body_in(asked.studio, Fields({"item": item}).whole("item"))
    return asked.of_setup("body", sensor=sensor_value(sensor), lens=None if own is None else lens_value(own), called=name, keep=_keep(keep))


def _keep(asked_for: str) -> str:
    """What stays: what the picture shows, unless the camera is asked to stay where it is."""
    return "place" if asked_for == "place" else "picture"


FORMS: dict[str, Form] = {"preset": preset, "camera": camera, "stand": stand, "guide": guide, "pan": pan, "lens": lens, "body": body}
