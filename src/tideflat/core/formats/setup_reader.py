"""Read one set-up of a scene document: its camera, deliverables, guides, what differs in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from ..bounds import LEAST_PART, LEAST_TIME_S, MOST_PLACE_MM
from ..camera.crops import crop_of, ratio_of
from ..errors import DocumentError, FieldError
from ..model import (
    DIFFERING,
    GUIDE_KINDS,
    HOLDERS,
    LEFT_OUT,
    ROLES,
    SIDES,
    Backdrop,
    CopySpace,
    Deliverable,
    Difference,
    Exposure,
    Guide,
    LeftOut,
    Motion,
    Scheme,
    Setup,
)
from .camera_reader import camera_of, support_of
from .ground_reader import backdrop_of, surface_of
from .light_reader import cards_of, lights_of, rig_of
from .reading import Node, ident, numbers, pair, point, whole
from .scheme_reader import scheme_of

#: Guides in one set-up.
MOST_GUIDES = 60
#: What a body is set to, and how long it exposes, s.
ISO = (1.0, 1e6)
TIME_S = (LEAST_TIME_S, 3600.0)
#: Two dense filters, one before the other.
MOST_FILTER_STOPS = 20.0
#: The fastest that anything on a table moves, mm/s.
MOST_SPEED = 1e5
#: A rim that is trimmed or kept clear leaves the middle of the crop, as shares of its shorter side.
MOST_RIM = 0.2


def setup_of(node: Node) -> Setup:
    """One set-up: its camera, what is delivered, guides, what is left out and what takes another's place. Raises DocumentError."""
    setup_name = node.name("name")
    swap = node.get("swap", {})
    if not isinstance(swap, dict):
        raise node.fail("swap", "must be an object of placement and prop ids")
    setup = Setup(
        name=setup_name,
        camera=camera_of(node.child("camera")),
        deliverables=tuple(_deliverable(Node(item, path)) for item, path in node.items("deliverables", (), most=24)),
        guides=tuple(guide_of(Node(item, path)) for item, path in node.items("guides", (), most=MOST_GUIDES)),
        hidden=tuple(ident(item, path) for item, path in node.items("hidden", ())),
        swap=tuple((ident(key, node.where("swap")), ident(prop, f"{node.where('swap')}.{key}")) for key, prop in swap.items()),
        differs=_differs(node),
        surface=surface_of(node.child("surface")) if node.given("surface") else LEFT_OUT,
        backdrop=_own_backdrop(node),
        scheme=_own_scheme(node),
        exposure=_own_exposure(node),
        support=support_of(node.child("support")) if node.has("support") else None,
        lights=lights_of(node) if node.given("lights") else LEFT_OUT,
        cards=cards_of(node) if node.given("cards") else LEFT_OUT,
        rig=rig_of(node) if node.given("rig") else LEFT_OUT,
    )
    node.close()
    for i, deliverable in enumerate(setup.deliverables):
        try:
            crop_of(deliverable, setup.camera)
        except FieldError as error:
            raise DocumentError(f"{node.where('deliverables')}[{i}].{error.path}", error.rule, error.got) from None
    return setup


def _own_backdrop(node: Node) -> Backdrop | LeftOut | None:
    if not node.given("backdrop"):
        return LEFT_OUT
    return backdrop_of(node.child("backdrop")) if node.has("backdrop") else None


def _own_scheme(node: Node) -> Scheme | LeftOut | None:
    if not node.given("scheme"):
        return LEFT_OUT
    return scheme_of(node.child("scheme")) if node.has("scheme") else None


def _own_exposure(node: Node) -> Exposure | LeftOut | None:
    if not node.given("exposure"):
        return LEFT_OUT
    return exposure_of(node.child("exposure")) if node.has("exposure") else None


def exposure_of(node: Node) -> Exposure:
    """How a set-up is exposed. Raises DocumentError."""
    exposure = Exposure(
        node.number("iso", *ISO, 100),
        node.number("time_s", *TIME_S, 0.01),
        node.flag("flash", False),
        node.flag("handheld", False),
        node.number("filter_stops", 0.0, MOST_FILTER_STOPS, 0.0),
    )
    node.close()
    return exposure


def _differs(node: Node) -> tuple[Difference, ...]:
    value = node.get("differs", {})
    if not isinstance(value, dict):
        raise node.fail("differs", "must be an object of placements, each with the keys that differ")
    found = []
    for key, item in value.items():
        placement = ident(key, node.where("differs"))
        entry = Node(item, f"{node.where('differs')}.{placement}")
        values = placement_values(entry, defaults=False)
        entry.close()
        if values:
            found.append(Difference(placement, tuple(values.items())))
    return tuple(found)


_PLACEMENT: dict[str, Callable[[Node], Any]] = {
    "x": lambda node: node.length("x"),
    "y": lambda node: node.length("y"),
    "z": lambda node: node.number("z", 0, MOST_PLACE_MM, 0),
    "turn": lambda node: node.number("turn", -3600, 3600, 0),
    "lean": lambda node: node.number("lean", -180, 180, 0),
    "lean_toward": lambda node: node.number("lean_toward", -3600, 3600, 0),
    "role": lambda node: node.choice("role", ROLES, "support"),
    "on": lambda node: node.ident("on") if node.has("on") else None,
    "held_by": lambda node: node.choice("held_by", HOLDERS) if node.has("held_by") else None,
}


def placement_values(node: Node, *, defaults: bool) -> dict[str, Any]:
    """The keys of DIFFERING as they are given; those that are left out too when ``defaults``."""
    return {key: _PLACEMENT[key](node) for key in DIFFERING if defaults or node.given(key)}


def motion_of(node: Node) -> Motion:
    """How a thing moves. Raises DocumentError."""
    motion = Motion(node.number("speed", 0, MOST_SPEED), point(node.get("toward"), node.where("toward")))
    node.close()
    if not any(motion.toward):
        raise node.fail("toward", "must point somewhere")
    return motion


def _deliverable(node: Node) -> Deliverable:
    pixels = None
    if node.has("pixels"):
        value = node.get("pixels")
        if not isinstance(value, list | tuple) or len(value) != 2:
            raise node.fail("pixels", "must be a list of 2 whole numbers")
        pixels = (whole(value[0], node.where("pixels[0]"), 1, 100_000), whole(value[1], node.where("pixels[1]"), 1, 100_000))
    deliverable = Deliverable(
        name=node.name("name"),
        ratio=node.name("ratio") if node.has("ratio") else None,
        pixels=pixels,
        centre=pair(node.get("centre", (0.5, 0.5)), node.where("centre"), 0, 1),
        scale=node.number("scale", LEAST_PART, 1, 1.0),
        copy_space=copy_space_of(node.child("copy_space")) if node.has("copy_space") else None,
        bleed=node.number("bleed", 0, MOST_RIM, 0.0),
        safe=node.number("safe", 0, MOST_RIM, 0.0),
        moves=node.maybe("moves", 1, 1000),
    )
    node.close()
    try:
        ratio_of(deliverable)
    except FieldError as error:
        raise DocumentError(node.where(error.path), error.rule, error.got) from None
    return deliverable


def copy_space_of(node: Node) -> CopySpace:
    """Room for words in a crop. Raises DocumentError."""
    if node.has("rect"):
        left, top, right, bottom = numbers(node.get("rect"), node.where("rect"), 4, 0, 1)
        if right - left < LEAST_PART or bottom - top < LEAST_PART:
            raise node.fail("rect", "must be left, top, right, bottom with right over left and bottom over top")
        space = CopySpace(rect=(left, top, right, bottom))
    else:
        space = CopySpace(side=node.choice("side", SIDES), share=node.number("share", LEAST_PART, 1))
    space = replace(space, text_share=node.maybe("text_share", LEAST_PART, 1))
    node.close()
    return space


def guide_of(node: Node) -> Guide:
    """A line across the frame. Raises DocumentError."""
    ends = [pair(node.get(key), node.where(key), 0, 1) if node.has(key) else None for key in ("from", "to")]
    if (ends[0] is None) != (ends[1] is None):
        raise node.fail("from" if ends[0] is None else "to", "must be given with the other end, or neither")
    has_ends = ends[0] is not None
    if has_ends and ends[0] == ends[1]:
        raise node.fail("to", "must be another place than from")
    if has_ends and (node.has("axis") or node.has("at")):
        raise node.fail("axis" if node.has("axis") else "at", "must be left out where from and to say where the guide runs")
    guide = Guide(
        None if has_ends else node.choice("axis", ("u", "v")),
        None if has_ends else node.number("at", 0, 1),
        node.choice("kind", GUIDE_KINDS, "line"),
        ends[0],
        ends[1],
        node.ident("of") if node.has("of") else None,
        node.flag("locked", False),
    )
    node.close()
    return guide
