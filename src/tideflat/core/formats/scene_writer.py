"""Write a Scene as a scene document: every key, one fixed order, so that written documents round-trip byte for byte."""

from __future__ import annotations

import json
from dataclasses import fields
from typing import Any

from ..model import (
    SCHEME_KEYS,
    Backdrop,
    Camera,
    Card,
    Colour,
    CopySpace,
    Deliverable,
    Exposure,
    Feature,
    Guide,
    Lamp,
    LeftOut,
    Lens,
    Light,
    Meant,
    Motion,
    MustShow,
    Palette,
    Placement,
    Prop,
    Rig,
    Room,
    Scene,
    Scheme,
    Sensor,
    Setup,
    Support,
    Surface,
)
from ..shapes.shape import Shape
from .scene_reader import FORMAT, VERSION


def write_scene(scene: Scene) -> bytes:
    """The document's bytes: UTF-8, two spaces of indent, a line feed at the end."""
    return (json.dumps(scene_value(scene), ensure_ascii=False, indent=2, allow_nan=False) + "\n").encode()


def pack_scene(scene: Scene) -> str:
    """The same document on one line, for keeping."""
    return json.dumps(scene_value(scene), ensure_ascii=False, separators=(",", ":"), allow_nan=False)


def scene_value(scene: Scene) -> dict[str, Any]:
    """The document as plain JSON values."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "title": scene.title,
        "brief": {
            "story": scene.brief.story,
            "tags": list(scene.brief.tags),
            "leanings": {key: _plain(value) for key, value in scene.brief.leanings},
            "use": scene.brief.use,
            "must_show": [must_show_value(item) for item in scene.brief.must_show],
            "mood": scene.brief.mood,
            "season": scene.brief.season,
            "finals": scene.brief.finals,
        },
        "surface": surface_value(scene.surface),
        "backdrop": None if scene.backdrop is None else _fields(scene.backdrop),
        "room": None if scene.room is None else room_value(scene.room),
        "props": [_prop(prop) for prop in scene.props],
        "placements": [placement_value(placement) for placement in scene.placements],
        "scheme": None if scene.scheme is None else scheme_value(scene.scheme),
        "setups": [_setup(setup) for setup in scene.setups],
        "palette": None if scene.palette is None else palette_value(scene.palette),
        "groups": [_fields(group) for group in scene.groups],
        "meant": [_meant(meant) for meant in scene.meant],
        **{key: items for key, items in lighting_value(scene).items() if items},
    }


def lighting_value(of: Scene | Setup) -> dict[str, list[dict[str, Any]]]:
    """Lights, cards and rig, those that are there; a set-up has only what is its own."""
    found: dict[str, list[dict[str, Any]]] = {}
    for key, value in (("lights", light_value), ("cards", _fields), ("rig", _fields)):
        items = getattr(of, key)
        if not isinstance(items, LeftOut):
            found[key] = [value(item) for item in items]
    return found


def light_value(light: Light) -> dict[str, Any]:
    """One light: its id and kind, then what all have, then what its kind has."""
    value = _fields(light)
    if isinstance(light, Lamp) and light.through is not None:
        value["through"] = _fields(light.through)
    return {"id": light.id, "kind": light.kind, **{key: item for key, item in value.items() if key != "id"}}


def card_value(card: Card) -> dict[str, Any]:
    return _fields(card)


def rig_value(rig: Rig) -> dict[str, Any]:
    return _fields(rig)


def room_value(room: Room) -> dict[str, Any]:
    """Where it is and how it lies is told where it is known."""
    return _but(_fields(room), north=None, x=None, y=None, width=None, depth=None, ceiling=None)


def shape_value(shape: Shape) -> dict[str, Any]:
    return {"kind": shape.kind, **_fields(shape)}


def placement_value(placement: Placement) -> dict[str, Any]:
    """What moves says so; of what does not, nothing is written."""
    value = _fields(placement)
    value["motion"] = None if placement.motion is None else motion_value(placement.motion)
    return _but(value, motion=None)


def motion_value(motion: Motion) -> dict[str, Any]:
    return _fields(motion)


def exposure_value(exposure: Exposure) -> dict[str, Any]:
    """A hand is only told of where it holds the camera."""
    return _but(_fields(exposure), handheld=False, filter_stops=0.0)


def guide_value(guide: Guide) -> dict[str, Any]:
    """Its place across the frame, or both ends; a thing and a lock where it has them."""
    value = _fields(guide)
    place = {"axis": value["axis"], "at": value["at"]} if guide.start is None else {"from": value["start"], "to": value["end"]}
    return {**place, **_but({"kind": guide.kind, "of": guide.of, "locked": guide.locked}, of=None, locked=False)}


def _but(value: dict[str, Any], **usual: Any) -> dict[str, Any]:
    """Without the keys that are as usual: they came later, and documents without them stay as they were."""
    return {key: item for key, item in value.items() if key not in usual or item != usual[key]}


def prop_value(prop: Prop) -> dict[str, Any]:
    return _prop(prop)


def must_show_value(item: str | MustShow) -> Any:
    return item if isinstance(item, str) else _fields(item)


def palette_value(palette: Palette) -> dict[str, Any]:
    return {"colours": [_fields(c) for c in palette.colours]}


def backdrop_value(backdrop: Backdrop) -> dict[str, Any]:
    return _fields(backdrop)


def scheme_value(scheme: Scheme) -> dict[str, Any]:
    """Its kind and every key of that kind; null where the program chooses."""
    return {"kind": scheme.kind, **{key: scheme.value(key) for key in SCHEME_KEYS[scheme.kind]}}


def _fields(value: Any) -> dict[str, Any]:
    return {f.name: _plain(getattr(value, f.name)) for f in fields(value)}


def _plain(value: Any) -> Any:
    if isinstance(value, float) and value.is_integer():
        return int(value)
    if isinstance(value, tuple):
        return [_plain(item) for item in value]
    return value


def _colours(colours: tuple[Colour, ...]) -> list[dict[str, Any]]:
    return [_fields(colour) for colour in colours]


def surface_value(surface: Surface) -> dict[str, Any]:
    lines = None if surface.lines is None else _fields(surface.lines)
    skin = None if surface.skin is None else _fields(surface.skin)
    return {**_fields(surface), "colours": _colours(surface.colours), "lines": lines, "skin": skin}


def _prop(prop: Prop) -> dict[str, Any]:
    skins = [_fields(skin) for skin in prop.skins]
    return {
        **_fields(prop),
        "shape": shape_value(prop.shape),
        "colours": _colours(prop.colours),
        "skins": skins,
        "features": [feature_value(f) for f in prop.features],
    }


def _setup(setup: Setup) -> dict[str, Any]:
    """Its own surface, backdrop, scheme and exposure are written only where it has them: left out is not null."""
    own: dict[str, Any] = {}
    if not isinstance(setup.surface, LeftOut):
        own["surface"] = surface_value(setup.surface)
    if not isinstance(setup.backdrop, LeftOut):
        own["backdrop"] = None if setup.backdrop is None else backdrop_value(setup.backdrop)
    if not isinstance(setup.scheme, LeftOut):
        own["scheme"] = None if setup.scheme is None else scheme_value(setup.scheme)
    if not isinstance(setup.exposure, LeftOut):
        own["exposure"] = None if setup.exposure is None else exposure_value(setup.exposure)
    if setup.support is not None:
        own["support"] = support_value(setup.support)
    own.update(lighting_value(setup))
    return {
        "name": setup.name,
        "camera": camera_value(setup.camera),
        "deliverables": [_deliverable(d) for d in setup.deliverables],
        "guides": [guide_value(guide) for guide in setup.guides],
        "hidden": list(setup.hidden),
        "swap": dict(setup.swap),
        "differs": {d.placement: {key: _plain(value) for key, value in d.values} for d in setup.differs},
        **own,
    }


def camera_value(camera: Camera) -> dict[str, Any]:
    focus = None if camera.focus is None else {"point": _plain(camera.focus)}
    return {**_fields(camera), "sensor": sensor_value(camera.sensor), "lens": lens_value(camera.lens), "focus": focus}


def lens_value(lens: Lens) -> dict[str, Any]:
    value = {**_fields(lens), "measured": None if lens.measured is None else _fields(lens.measured)}
    value["converter"] = None if lens.converter is None else _fields(lens.converter)
    return _but(value, converter=None)


def sensor_value(sensor: Sensor) -> dict[str, Any]:
    return _but({**_fields(sensor), "moving": None if sensor.moving is None else _fields(sensor.moving)}, moving=None)


def support_value(support: Support) -> dict[str, Any]:
    return _but(_fields(support), reach=None)


def _deliverable(deliverable: Deliverable) -> dict[str, Any]:
    value = _fields(deliverable)
    value["copy_space"] = copy_space_value(deliverable.copy_space)
    return _but(value, bleed=0, safe=0, moves=None)


def feature_value(feature: Feature) -> dict[str, Any]:
    """One feature of a prop as the document writes it."""
    return _fields(feature)


def _meant(meant: Meant) -> dict[str, Any]:
    value = _fields(meant)
    return value if meant.retouch is not None else {k: v for k, v in value.items() if k != "retouch"}


def copy_space_value(space: CopySpace | None) -> dict[str, Any] | None:
    if space is None:
        return None
    letters = {} if space.text_share is None else {"text_share": _plain(space.text_share)}
    if space.rect is not None:
        return {"rect": _plain(space.rect), **letters}
    return {"side": space.side, "share": _plain(space.share), **letters}
