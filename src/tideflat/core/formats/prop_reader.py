"""Read a prop: its shape, colours, skins, and what of it may have to be seen."""

from __future__ import annotations

from typing import Any

from shapely.geometry import Polygon

from ..bounds import LEAST_SIZE_MM, MOST_SIZE_MM
from ..errors import DocumentError
from ..model import FINISHES, Feature, Prop
from ..shapes import SHAPES
from ..shapes.fields import Corners, Field, Whole, default_of, fields_of
from ..shapes.shape import Shape
from .ground_reader import colours_of, skin_of
from .reading import Node, name, numbers, pair, point, unique


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
        features=tuple(feature_of(Node(item, path)) for item, path in node.items("features", (), most=24)),
    )
    node.close()
    unique(f"{node.path}.skins", "face", [s.face for s in prop.skins])
    unique(f"{node.path}.features", "id", [f.id for f in prop.features])
    return prop


def _shape(node: Node) -> Shape:
    cls = SHAPES[node.choice("kind", tuple(SHAPES))]
    shape = cls(**{name: _field(node, cls, name, field) for name, field in fields_of(cls).items()})
    fault = shape.fault()
    if fault is not None:
        raise node.fail(*fault)
    node.close()
    return shape


def _field(node: Node, cls: type[Shape], key: str, field: Field) -> Any:
    if isinstance(field, Corners):
        return _points(node, key)
    default = default_of(cls, key)
    if isinstance(field, Whole):
        return node.whole(key, field.low, field.high) if default is None else node.whole(key, field.low, field.high, default)
    is_nothing = field.or_nothing and node.get(key) == 0 and not isinstance(node.get(key), bool)
    return 0.0 if is_nothing else node.size(key)


def _points(node: Node, key: str) -> tuple[tuple[float, float], ...]:
    points = tuple(pair(item, path, -MOST_SIZE_MM, MOST_SIZE_MM) for item, path in node.items(key))
    if len(points) < 3:
        raise node.fail(key, "must be at least three points")
    ring = Polygon(points)
    if not ring.is_valid or ring.area <= 0:
        raise node.fail(key, "must be a simple polygon that does not cross itself")
    left, front, right, back = ring.bounds
    if not all(LEAST_SIZE_MM <= size <= MOST_SIZE_MM for size in (right - left, back - front)):
        raise DocumentError(node.where(key), f"must be from {LEAST_SIZE_MM:g} to {MOST_SIZE_MM:g} mm wide and deep", show_got=False)
    return points


def feature_of(node: Node) -> Feature:
    """A named place on a prop. Raises DocumentError."""
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
