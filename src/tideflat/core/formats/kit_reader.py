"""Kit as a document: lists of bodies, lenses, supports and converters, with the scene document's keys and a name each (kit.schema.json)."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from importlib.resources import files
from typing import Any

from ..camera.lens import focus_reach_mm
from ..camera.zooms import covering_its_own, set_to
from ..errors import DocumentError, FieldError
from ..model.kit import Body, Kit, KitConverter, KitLens
from .camera_reader import converter_of, lens_of, sensor_of, support_of
from .reading import Node, parse_json, unique

#: Things of a kind in one kit.
MOST = 200


def read_kit(raw: bytes) -> Kit:
    """The kit in a document's bytes. Raises DocumentError with the path of what is wrong."""
    return kit_from_value(parse_json(raw, "kit"))


@cache
def starter_kit() -> Kit:
    """The made-up kit that every studio begins with."""
    return read_kit(files(__package__).joinpath("starter-kit.json").read_bytes())


def kit_from_value(value: Any) -> Kit:
    """The kit in plain JSON values. Raises DocumentError."""
    node = Node(value, "")
    bodies = tuple(_body(Node(item, path)) for item, path in node.items("bodies", (), most=MOST))
    lenses = tuple(_lens(Node(item, path)) for item, path in node.items("lenses", (), most=MOST))
    supports = tuple(support_of(Node(item, path)) for item, path in node.items("supports", (), most=MOST))
    converters = tuple(_converter(Node(item, path)) for item, path in node.items("converters", (), most=MOST))
    node.close()
    names = unique("bodies", "name", [b.name for b in bodies])
    unique("lenses", "name", [kept.name for kept in lenses])
    unique("converters", "name", [c.name for c in converters])
    for i, kept in enumerate(lenses):
        _check_focus(kept, bodies, f"lenses[{i}]")
        if kept.fixed_on is not None and kept.fixed_on not in names:
            raise DocumentError(f"lenses[{i}].fixed_on", "must be the name of one of the bodies", kept.fixed_on)
    sensors = {b.name: b.sensor for b in bodies}
    own = tuple(k if k.fixed_on is None else replace(k, lens=covering_its_own(k.lens, sensors[k.fixed_on])) for k in lenses)
    return Kit(bodies, own, supports, converters)


def _check_focus(kept: KitLens, bodies: tuple[Body, ...], path: str) -> None:
    """Its closest focus and its largest magnification must go together, at both ends of a zoom."""
    sensors = [b.sensor for b in bodies if kept.fixed_on in (None, b.name)][:1]
    for sensor in sensors:
        for length in {kept.lens.focal_length, kept.longest or kept.lens.focal_length}:
            try:
                focus_reach_mm(set_to(kept, length), sensor)
            except FieldError as error:
                raise DocumentError(f"{path}.{error.path}", error.rule, error.got) from None


def _body(node: Node) -> Body:
    name = node.name("name")
    is_phone = node.flag("phone", False)
    if node.has("sensor"):
        sensor = sensor_of(node.child("sensor"))
        node.close()
    else:
        sensor = sensor_of(node.without("name", "phone"))
    return Body(name, sensor, is_phone)


def _lens(node: Node) -> KitLens:
    name = node.name("name")
    longest = node.maybe("longest", 0.5, 3000)
    widest_long = node.maybe("max_aperture_long", 0.5, 256)
    measured_at = node.maybe("measured_at", 0.5, 3000)
    fixed_on = node.name("fixed_on") if node.has("fixed_on") else None
    if node.has("lens"):
        lens = lens_of(node.child("lens"))
        node.close()
    else:
        lens = lens_of(node.without("name", "longest", "max_aperture_long", "measured_at", "fixed_on"))
    if longest is not None and longest <= lens.focal_length:
        raise node.fail("longest", f"must be longer than the focal_length of {lens.focal_length:g}")
    return KitLens(name, lens, longest, widest_long, measured_at, fixed_on)


def _converter(node: Node) -> KitConverter:
    name, shortest = node.name("name"), node.number("shortest", 0, 3000, 0)
    return KitConverter(name, converter_of(node.without("name", "shortest")), shortest)
