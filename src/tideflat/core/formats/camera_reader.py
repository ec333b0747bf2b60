"""Read the camera of a scene document and what it is made of: sensor, lens, teleconverter, support."""

from __future__ import annotations

from dataclasses import MISSING
from typing import Any

from ..bounds import LEAST_PART, LEAST_SIZE_MM, MOST_PLACE_MM
from ..camera.lens import focus_reach_mm
from ..camera.view import view_of
from ..errors import DocumentError, FieldError
from ..model import Camera, Converter, Lens, MeasuredField, Readout, Sensor, Support
from ..model.lens import Number, default_of_a_lens, numbers_of_a_lens
from .reading import Node, numbers, point

#: What a support is: three legs, a rolling column, legs with an arm to the side, what stands on the table.
SUPPORT_KINDS = ("tripod", "column", "arm", "stand")


def camera_of(node: Node) -> Camera:
    """A camera that can stand and focus where it says. Raises DocumentError."""
    sensor = sensor_of(node.child("sensor"))
    focus = None
    if node.has("focus"):
        entry = node.child("focus")
        focus = point(entry.get("point"), entry.where("point"))
        entry.close()
    camera = Camera(
        sensor=sensor,
        orientation=node.choice("orientation", ("landscape", "portrait"), "landscape"),
        lens=lens_of(node.child("lens")),
        aperture=node.number("aperture", 0.5, 256, 5.6),
        aim=point(node.get("aim"), node.where("aim")),
        distance=node.reach("distance"),
        elevation=node.number("elevation", -10, 90),
        azimuth=node.number("azimuth", -360, 360, 0),
        roll=node.number("roll", -360, 360, 0),
        focus=focus,
        circle_of_confusion=node.maybe("circle_of_confusion", LEAST_PART, 10),
    )
    node.close()
    if not camera.lens.max_aperture <= camera.aperture <= camera.lens.min_aperture:
        raise node.fail("aperture", f"must be one this lens has, from {camera.lens.max_aperture:g} to {camera.lens.min_aperture:g}")
    for check, prefix in ((lambda: focus_reach_mm(camera.lens, camera.sensor), f"{node.path}.lens"), (lambda: view_of(camera), node.path)):
        try:
            check()
        except FieldError as error:
            raise DocumentError(f"{prefix}.{error.path}", error.rule, error.got) from None
    return camera


def sensor_of(node: Node) -> Sensor:
    """A sensor as it lies in its body. Raises DocumentError."""
    width, height = node.number("width", LEAST_SIZE_MM, 1000), node.number("height", LEAST_SIZE_MM, 1000)
    wide = node.whole("pixels_wide", 1, 100_000, 6000)
    high = node.whole("pixels_high", 1, 100_000, max(1, round(wide * height / width)))
    moving = _readout(node.child("moving"), width, height) if node.has("moving") else None
    sensor = Sensor(width, height, wide, high, moving)
    node.close()
    if height > width:
        raise node.fail("height", "must be at most the width; orientation turns the sensor upright")
    return sensor


def _readout(node: Node, width: float, height: float) -> Readout:
    """What moving pictures have of a sensor of that size. Raises DocumentError."""
    part_width, part_height = node.number("width", LEAST_SIZE_MM, width, width), node.number("height", LEAST_SIZE_MM, height, height)
    wide = node.whole("pixels_wide", 1, 100_000, 3840)
    readout = Readout(part_width, part_height, wide, node.whole("pixels_high", 1, 100_000, max(1, round(wide * part_height / part_width))))
    node.close()
    return readout


def converter_of(node: Node) -> Converter:
    """A teleconverter. Raises DocumentError."""
    converter = Converter(node.number("factor", 1.05, 4), node.number("length", 0, 500, 0))
    node.close()
    return converter


def support_of(node: Node) -> Support:
    """What holds a camera. Raises DocumentError."""
    support = Support(
        node.name("name"),
        node.choice("kind", SUPPORT_KINDS, "tripod"),
        node.number("lowest", 0, MOST_PLACE_MM, 0),
        node.number("highest", 0, MOST_PLACE_MM),
        node.flag("inverts", False),
        node.maybe("reach", 0, MOST_PLACE_MM),
    )
    node.close()
    if support.highest < support.lowest:
        raise node.fail("highest", "must be at least lowest")
    return support


def lens_of(node: Node) -> Lens:
    """A lens; whether it reaches where it should is asked with a camera. Raises DocumentError."""
    measured = None
    if node.has("measured"):
        entry = node.child("measured")
        measured = MeasuredField(entry.reach("sensor_distance"), entry.reach("width"))
        entry.close()
    numbers_told = {key: _lens_number(node, key, number) for key, number in numbers_of_a_lens().items()}
    converter = converter_of(node.child("converter")) if node.has("converter") else None
    lens = Lens(**numbers_told, measured=measured, converter=converter)
    node.close()
    if converter is not None and lens.min_focus is not None and lens.min_focus <= converter.length:
        raise node.fail("min_focus", f"must be more than the converter's length of {converter.length:g}")
    if lens.max_aperture > lens.min_aperture:
        raise node.fail("max_aperture", f"must be the smaller f-number, at most min_aperture of {lens.min_aperture:g}")
    return lens


def _lens_number(node: Node, key: str, number: Number) -> Any:
    default = default_of_a_lens(key)
    given = () if default is MISSING else (default,)
    value = node.get(key, *given)
    if number.low == number.high == default and value != default:
        raise node.fail(key, f"must be {default:g}; anything else cannot be worked out yet")
    if number.count:
        none_at_all = number.or_none and isinstance(value, list | tuple) and not value
        return () if none_at_all else numbers(value, node.where(key), number.count, number.low, number.high)
    return node.maybe(key, number.low, number.high) if number.or_none else node.number(key, number.low, number.high, *given)


def sensor_from_value(value: Any) -> Sensor:
    """One sensor as the document holds it."""
    return sensor_of(Node(value, "sensor"))


def lens_from_value(value: Any) -> Lens:
    """One lens as the document holds it; whether it reaches where it should is asked with a camera."""
    return lens_of(Node(value, "lens"))
