"""Read a prop: its shape, colours, skins, and what of it may have to be seen."""

from __future__ import annotations

from typing import Any

from shapely.geometry import Polygon

from ..errors import DocumentError
from ..model import FINISHES, Feature, Prop
from ..shapes import (
    SHAPES,
    Bottle,
    Bowl,
    Box,
    Cloth,
    Cone,
    Cylinder,
    Ellipse,
    Outline,
    Rod,
    Scatter,
    Shape,
    Sphere,
)
from .ground_reader import colours_of, skin_of
from .reading import LEAST_SIZE_MM, MOST_SIZE_MM, Node, name, numbers, pair, point, unique


def tags_of(node: Node) -> tuple[str, ...]:
    return tuple(name(item, path) for item, path in node.items("tags", (), most=40))


def prop_of(node: Node) -> Prop:
    prop_id = node.ident("id")
    prop = Prop(
        id=prop_id,
        name=node.name("name", prop_id),
        shape=_shape(node.child("shape")),
        colours=colours_of(node),
        finish=node.choice("finish", FINISHES, "matte"),
        texture=node.name("texture", "smooth", empty=True),
        material=node.name("material", "", empty=True),
        tags=tags_of(node),
        skins=tuple(skin_of(Node(item, path)) for item, path in node.items("skins", (), most=3)),
        features=tuple(_feature(Node(item, path)) for item, path in node.items("features", (), most=24)),
    )
    node.close()
    unique(f"{node.path}.skins", "face", [s.face for s in prop.skins])
    unique(f"{node.path}.features", "id", [f.id for f in prop.features])
    return prop


def _shape(node: Node) -> Shape:
    kind = node.choice("kind", tuple(SHAPES))
    shape: Shape
    match kind:
        case "cylinder":
            shape = Cylinder(node.size("diameter"), node.size("height"))
        case "box":
            shape = Box(node.size("width"), node.size("depth"), node.size("height"))
        case "bowl":
            shape = Bowl(node.size("diameter"), node.size("base_diameter"), node.size("height"))
        case "bottle":
            shape = Bottle(node.size("diameter"), node.size("height"), node.size("neck_diameter"), node.size("neck_height"))
            if shape.neck_height >= shape.height:
                raise node.fail("neck_height", f"must be less than the height of {shape.height:g}")
            if shape.neck_diameter > shape.diameter:
                raise node.fail("neck_diameter", f"must be at most the diameter of {shape.diameter:g}")
        case "cone":
            shape = Cone(node.size("base_diameter"), _top_diameter(node), node.size("height"))
        case "sphere":
            shape = Sphere(node.size("diameter"))
        case "ellipse":
            shape = Ellipse(node.size("width"), node.size("depth"), node.size("height"))
        case "rod":
            shape = Rod(node.size("length"), node.size("width"), node.size("height"))
        case "cloth":
            shape = Cloth(node.size("width"), node.size("depth"), node.size("thickness"))
        case "outline":
            shape = Outline(_points(node), node.size("height"))
        case _:
            shape = Scatter(
                node.size("width"),
                node.size("depth"),
                node.size("piece_diameter"),
                node.whole("pieces", 1, 400),
                node.whole("seed", 0, 2**32 - 1, 0),
            )
            if shape.piece_diameter > min(shape.width, shape.depth):
                raise node.fail("piece_diameter", "must be at most width and depth")
    node.close()
    return shape


def _top_diameter(node: Node) -> float:
    """A cone may end in a point."""
    return 0.0 if node.get("top_diameter") == 0 and not isinstance(node.get("top_diameter"), bool) else node.size("top_diameter")


def _points(node: Node) -> tuple[tuple[float, float], ...]:
    points = tuple(pair(item, path, -MOST_SIZE_MM, MOST_SIZE_MM) for item, path in node.items("points"))
    if len(points) < 3:
        raise node.fail("points", "must be at least three points")
    ring = Polygon(points)
    if not ring.is_valid or ring.area <= 0:
        raise node.fail("points", "must be a simple polygon that does not cross itself")
    left, front, right, back = ring.bounds
    if not all(LEAST_SIZE_MM <= size <= MOST_SIZE_MM for size in (right - left, back - front)):
        raise DocumentError(node.where("points"), f"must be from {LEAST_SIZE_MM:g} to {MOST_SIZE_MM:g} mm wide and deep", show_got=False)
    return points


def _feature(node: Node) -> Feature:
    feature_id = node.ident("id")
    x, y, z = numbers(node.get("facing"), node.where("facing"), 3, -1e6, 1e6)
    feature = Feature(
        id=feature_id,
        name=node.name("name", feature_id),
        at=point(node.get("at"), node.where("at")),
        facing=(x, y, z),
        width=node.size("width"),
        height=node.size("height"),
    )
    node.close()
    if not any(feature.facing):
        raise node.fail("facing", "must point somewhere: not all of it may be 0")
    return feature


def shape_from_value(value: Any) -> Shape:
    """A shape from parsed JSON."""
    return _shape(Node(value, "shape"))


def prop_from_value(value: Any) -> Prop:
    """One prop as the document holds it."""
    return prop_of(Node(value, "prop"))
