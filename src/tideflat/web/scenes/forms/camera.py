"""Forms for a set-up's camera."""

from __future__ import annotations

from typing import Any

from tideflat.core.camera.crops import FULL_FRAME
from tideflat.core.camera.stance import PRESETS_DEG
from tideflat.core.camera.straightness import edge_line
from tideflat.core.camera.view import view_of
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import guide_value, lens_value, sensor_value
from tideflat.core.frame.fit import Fitted, fit
from tideflat.core.frame.lens_chart import lens_chart
from tideflat.web.stores.queries import body_in, kit_of, lens_in
from tideflat.web.ui.fields import Fields

from ..one_frame import act_of
from .asked import Asked, Form, Value, whole_share


def preset(asked: Asked) -> Value:
    return asked.of_setup("preset", preset=asked.fields.choice("preset", tuple(PRESETS_DEG)))


def camera(asked: Asked) -> Value:
    """One typed value of the camera: ``field`` says which."""
    fields = asked.fields
    which = fields.choice(
        "field", ("elevation", "azimuth", "roll", "distance", "height", "aim_x", "aim_y", "aim_z", "aperture", "orientation", "focus", "focus_distance")
    )
    value: Any
    if which == "focus":  # empty: through the aim
        return asked.of_setup("focus_on", placement=fields.text("value", 64) or None)
    if which == "focus_distance":  # from the lens, along its axis
        view = view_of(asked.setup.camera)
        point = view.principal_point + fields.mm("value") * view.forward
        return asked.of_setup("camera", focus={"point": [round(float(v), 2) for v in point]})
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
    """A guide laid (``axis``, ``at``), moved (``index``, ``at``), locked or let go (``index``, ``lock``), or taken away (``index`` alone)."""
    fields = asked.fields
    guides = [guide_value(g) for g in asked.setup.guides]
    at = {"at": round(fields.number("at"), 5)} if fields.has("at") else {}
    if fields.has("percent"):
        at = {"at": round(whole_share(fields, "percent"), 5)}
    if not fields.has("index"):
        guides.append({"axis": fields.choice("axis", ("u", "v")), "kind": "line", **at})
    else:
        index = fields.whole("index")
        if not 0 <= index < len(guides):
            raise FieldError("index", "must be one of the set-up's guides", index)
        if fields.has("lock"):
            guides[index]["locked"] = fields.text("lock", 3) == "yes"
        elif at:
            if asked.setup.guides[index].locked:
                raise FieldError("index", "must not be moved while it is locked", index)
            guides[index] |= at
        else:
            del guides[index]
    return asked.of_setup("guides", guides=guides)


def register(asked: Asked) -> Value:
    """Guides on the edges of a thing's outline, so that it, or another in its place, comes back there; taken away where they lie already."""
    thing = asked.picture.things.get(asked.fields.text("id", 64))
    if thing is None or thing.box is None:
        raise FieldError("id", "must be something in the picture, before the lens", asked.fields.text("id", 64))
    own = asked.thing.id
    others = [guide_value(g) for g in asked.setup.guides if g.of != own]
    if len(others) < len(asked.setup.guides):
        return asked.of_setup("guides", guides=others)
    u0, v0, u1, v1 = thing.box
    edges = [("u", u0), ("u", u1), ("v", v0), ("v", v1)]
    laid = [{"axis": a, "at": round(at, 6), "kind": "registration", "of": own, "locked": True} for a, at in edges if 0 <= at <= 1]
    if not laid:
        raise FieldError("id", "must have an edge inside the frame", own)
    return asked.of_setup("guides", guides=[*others, *laid])


def along(asked: Asked) -> Value:
    """A guide along the longest straight edge of a thing's foot."""
    body = asked.picture.bodies.get(asked.thing.id)
    line = None if body is None else edge_line(body, asked.picture.view)
    if line is None:
        raise FieldError("id", "must be a thing with a straight edge, in the picture", asked.thing.id)
    ends = [[round(v, 6) for v in end] for end in line]
    guides = [guide_value(g) for g in asked.setup.guides]
    return asked.of_setup("guides", guides=[*guides, {"from": ends[0], "to": ends[1], "kind": "line", "of": asked.thing.id}])


def divide(asked: Asked) -> Value:
    """Guides that divide the frame, or a crop, into so many parts across and down."""
    fields = asked.fields
    parts = [fields.whole(name) if fields.has(name) else 1 for name in ("across", "down")]
    for name, count in zip(("across", "down"), parts, strict=True):
        if not 1 <= count <= MOST_PARTS:
            raise FieldError(name, f"must be from 1 to {MOST_PARTS}", count)
    box = next((c.box for c in asked.picture.crops if c.name == fields.text("crop", 200)), FULL_FRAME)
    sides = ((box[0], box[2]), (box[1], box[3]))
    laid = [
        {"axis": axis, "at": round(low + (high - low) * k / count, 6), "kind": "line"}
        for axis, count, (low, high) in zip("uv", parts, sides, strict=True)
        for k in range(1, count)
    ]
    if not laid:
        raise FieldError("across", "must be 2 or more, or down must be", show_got=False)
    return asked.of_setup("guides", guides=[*(guide_value(g) for g in asked.setup.guides), *laid])


#: Parts that a frame is divided into along one side.
MOST_PARTS = 12


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


def take_lens(asked: Asked) -> Value:
    """A body and a lens of the chart, by their names there, from where the long side shows as much as today."""
    names = asked.fields.text("body", 200), asked.fields.text("lens", 300)
    row = next((r for r in lens_chart(asked.picture, kit_of(asked.studio)) if (r.body, r.lens) == names), None)
    if row is None or row.camera is None:
        raise FieldError("lens", "must be one that the studio has, and that shows as much from somewhere", names[1])
    called = f"{row.lens} on {row.body}"[:NAMES]
    kit = {"sensor": sensor_value(row.camera.sensor), "lens": lens_value(row.camera.lens)}
    return asked.of_setup("body", **kit, called=called, keep="coverage")


def take_frame(asked: Asked) -> Value:
    """The one frame that was found (``work``) for what stands now."""
    found = act_of(asked.studio, asked.row, asked.picture, asked.fields.whole("work"))
    return {**found, "setup": asked.setup.name}


def fit_to(asked: Asked) -> Value:
    """The camera that frames things (``ids``) at a share (``percent``) of a crop, its angle kept or given; with ``nearest``, where that
    cannot be, the nearest that can."""
    found = fit_asked(asked.picture, asked.fields)
    if found.reason is not None and (not asked.fields.has("nearest") or found.camera == asked.picture.setup.camera):
        raise FieldError("fit", f"must be somewhere that can be: {found.reason}", show_got=False)
    camera = found.camera
    return asked.of_setup("camera", aim=list(camera.aim), distance=camera.distance, elevation=camera.elevation)


def fit_asked(picture: Picture, fields: Fields) -> Fitted:
    """The fit that a form asks for. Raises FieldError."""
    elevation = fields.number("elevation") if fields.has("elevation") else None
    if elevation is not None and not -10 <= elevation <= 90:
        raise FieldError("elevation", "must be from -10 to 90 degrees", elevation)
    share = whole_share(fields, "percent")
    if not LEAST_FIT <= share <= 1:
        raise FieldError("percent", "must be from 1 to 100", share * 100)
    group = tuple(fields.text("ids", 4000).split())
    return fit(picture, group, share, fields.text("crop", 200) or None, elevation)


#: A group fills at least so much of what it is fitted to.
LEAST_FIT = 0.01
#: What a camera is called in the history is no longer.
NAMES = 120
FORMS: dict[str, Form] = {"along": along, "divide": divide, "register": register, "fit": fit_to, "take-frame": take_frame, "take-lens": take_lens, "preset": preset, "camera": camera, "stand": stand, "guide": guide, "pan": pan, "lens": lens, "body": body}
