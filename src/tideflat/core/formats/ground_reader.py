"""Read what a scene lies on and stands before: surface, backdrop, room; and colours and skins, which things have too."""

from __future__ import annotations

from typing import Any

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from ..errors import DocumentError
from ..model import FACES, FINISHES, Backdrop, Colour, Lines, Room, Skin, Surface
from .reading import Node

DEFAULT_COLOUR = "#8b8f8c"


def colours_of(node: Node) -> tuple[Colour, ...]:
    found = []
    for item, path in node.items("colours", ({"hex": DEFAULT_COLOUR, "share": 1.0},), most=12):
        entry = Node(item, path)
        found.append(Colour(entry.colour("hex"), entry.number("share", 0, 1, 1.0)))
        entry.close()
    return tuple(found) or (Colour(DEFAULT_COLOUR, 1.0),)


def skin_of(node: Node) -> Skin:
    """A skin of a thing or of the ground. Raises DocumentError."""
    face = node.choice("face", FACES)
    is_tile = face == "tile"
    skin = Skin(node.ident("picture"), face, node.size("width") if is_tile else None, node.size("depth") if is_tile else None)
    if not is_tile:
        for key in ("width", "depth"):
            if node.has(key):
                raise node.fail(key, "must be null but for a tile")
    node.close()
    return skin


def surface_of(node: Node) -> Surface:
    """A surface. Raises DocumentError."""
    lines = None
    if node.has("lines"):
        entry = node.child("lines")
        lines = Lines(entry.number("direction", -360, 360, 0), entry.size("pitch", 120))
        entry.close()
    surface = Surface(
        node.name("name", "surface"),
        node.size("width"),
        node.size("depth"),
        node.number("height_above_floor", 0, 10_000, 740),
        colours_of(node),
        node.choice("finish", FINISHES, "matte"),
        lines,
        skin_of(node.child("skin")) if node.has("skin") else None,
    )
    node.close()
    if surface.skin is not None and surface.skin.face != "tile":
        raise DocumentError(f"{node.path}.skin.face", "must be tile", surface.skin.face)
    return surface


def backdrop_of(node: Node) -> Backdrop:
    backdrop = Backdrop(
        node.choice("kind", ("upright", "sweep"), "upright"),
        node.length("y"),
        node.length("x"),
        node.size("width"),
        node.size("height"),
        node.colour("colour", DEFAULT_COLOUR),
    )
    node.close()
    return backdrop


def room_of(node: Node) -> Room:
    """A room. Raises DocumentError."""
    room = Room(
        node.maybe("ceiling_height", LEAST_SIZE_MM, MOST_PLACE_MM),
        node.colour("walls", "#efeeea"),
        node.maybe("north", -360, 360),
        node.maybe("x", -MOST_PLACE_MM, MOST_PLACE_MM),
        node.maybe("y", -MOST_PLACE_MM, MOST_PLACE_MM),
        node.maybe("width", LEAST_SIZE_MM, MOST_PLACE_MM),
        node.maybe("depth", LEAST_SIZE_MM, MOST_PLACE_MM),
        node.colour("ceiling") if node.has("ceiling") else None,
    )
    node.close()
    return room


def surface_from_value(value: Any) -> Surface:
    """One surface as the document holds it."""
    return surface_of(Node(value, "surface"))


def backdrop_from_value(value: Any) -> Backdrop:
    """One backdrop as the document holds it."""
    return backdrop_of(Node(value, "backdrop"))
