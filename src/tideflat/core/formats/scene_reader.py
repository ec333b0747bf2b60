"""Read a scene document (format tideflat-scene, version 1) into a Scene."""

from __future__ import annotations

from typing import Any

from shapely.geometry import Polygon

from ..errors import DocumentError
from ..model import (
    FACES,
    FINISHES,
    HOLDERS,
    LEANINGS,
    PARTS,
    ROLES,
    SCHEMES,
    SIDES,
    Backdrop,
    Brief,
    Colour,
    Lines,
    Palette,
    PaletteColour,
    Placement,
    Prop,
    Room,
    Scene,
    Scheme,
    Skin,
    Surface,
)
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
from ..weight import refuse_too_heavy
from .reading import LEAST_SIZE_MM, MOST_PLACE_MM, MOST_SIZE_MM, Node, name, pair, parse_json
from .setup_reader import setup_of

FORMAT = "tideflat-scene"
VERSION = 1
DEFAULT_COLOUR = "#8b8f8c"


def read_scene(raw: bytes) -> Scene:
    """The scene in a document's bytes. Raises DocumentError, on one line with the path, when it cannot be read."""
    return scene_from_value(parse_json(raw))


def scene_from_value(value: Any) -> Scene:
    """The scene in a parsed document."""
    top = Node(value, "")
    if top.get("format") != FORMAT:
        raise top.fail("format", f'must be "{FORMAT}"')
    if top.get("version") != VERSION or isinstance(top.get("version"), bool):
        raise top.fail("version", f"must be {VERSION}, the newest this program reads")
    props = tuple(_prop(Node(item, path)) for item, path in top.items("props", ()))
    placements = tuple(_placement(Node(item, path)) for item, path in top.items("placements", ()))
    scene = Scene(
        title=top.name("title", "Untitled"),
        brief=_brief(top.child("brief", {})),
        surface=_surface(top.child("surface")),
        backdrop=_backdrop(top.child("backdrop")) if top.has("backdrop") else None,
        room=_room(top.child("room")) if top.has("room") else None,
        props=props,
        placements=placements,
        scheme=_scheme(top.child("scheme")) if top.has("scheme") else None,
        setups=tuple(setup_of(Node(item, path)) for item, path in top.items("setups", most=40)),
        palette=_palette(top.child("palette")) if top.has("palette") else None,
    )
    top.close()
    if not scene.setups:
        raise DocumentError("setups", "must hold at least one set-up", [])
    _check_references(scene)
    refuse_too_heavy(scene)
    return scene


def _brief(node: Node) -> Brief:
    leanings = node.child("leanings", {})
    brief = Brief(
        story=node.text("story", ""),
        tags=_tags(node),
        leanings=tuple((leaning, leanings.number(leaning, -1, 1, 0)) for leaning in LEANINGS),
        use=node.text("use", ""),
        must_show=tuple(name(item, path) for item, path in node.items("must_show", (), most=12)),
        mood=node.text("mood", ""),
        season=node.text("season", ""),
        finals=node.whole("finals", 1, 999) if node.has("finals") else None,
    )
    leanings.close()
    node.close()
    return brief


def _tags(node: Node) -> tuple[str, ...]:
    return tuple(name(item, path) for item, path in node.items("tags", (), most=40))


def _colours(node: Node) -> tuple[Colour, ...]:
    found = []
    for item, path in node.items("colours", ({"hex": DEFAULT_COLOUR, "share": 1.0},), most=12):
        entry = Node(item, path)
        found.append(Colour(entry.colour("hex"), entry.number("share", 0, 1, 1.0)))
        entry.close()
    return tuple(found) or (Colour(DEFAULT_COLOUR, 1.0),)


def _palette(node: Node) -> Palette:
    found = []
    for item, path in node.items("colours", most=12):
        entry = Node(item, path)
        found.append(PaletteColour(entry.colour("hex"), entry.choice("part", PARTS), entry.number("share", 0, 1)))
        entry.close()
    node.close()
    return Palette(tuple(found))


def _skin(node: Node) -> Skin:
    face = node.choice("face", FACES)
    is_tile = face == "tile"
    skin = Skin(node.ident("picture"), face, node.size("width") if is_tile else None, node.size("depth") if is_tile else None)
    if not is_tile:
        for key in ("width", "depth"):
            if node.has(key):
                raise node.fail(key, "must be null but for a tile")
    node.close()
    return skin


def _surface(node: Node) -> Surface:
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
        _colours(node),
        node.choice("finish", FINISHES, "matte"),
        lines,
        _skin(node.child("skin")) if node.has("skin") else None,
    )
    node.close()
    if surface.skin is not None and surface.skin.face != "tile":
        raise DocumentError(f"{node.path}.skin.face", "must be tile", surface.skin.face)
    return surface


def _backdrop(node: Node) -> Backdrop:
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


def _room(node: Node) -> Room:
    room = Room(node.maybe("ceiling_height", LEAST_SIZE_MM, MOST_PLACE_MM), node.colour("walls", "#efeeea"))
    node.close()
    return room


def _scheme(node: Node) -> Scheme:
    scheme = Scheme(node.choice("kind", SCHEMES), node.choice("opens", SIDES) if node.has("opens") else None)
    node.close()
    return scheme


def _prop(node: Node) -> Prop:
    prop_id = node.ident("id")
    prop = Prop(
        id=prop_id,
        name=node.name("name", prop_id),
        shape=_shape(node.child("shape")),
        colours=_colours(node),
        finish=node.choice("finish", FINISHES, "matte"),
        texture=node.name("texture", "smooth", empty=True),
        material=node.name("material", "", empty=True),
        tags=_tags(node),
        skins=tuple(_skin(Node(item, path)) for item, path in node.items("skins", (), most=3)),
    )
    node.close()
    _unique(f"{node.path}.skins", "face", [s.face for s in prop.skins])
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


def _placement(node: Node) -> Placement:
    placement = Placement(
        id=node.ident("id"),
        prop=node.ident("prop"),
        x=node.length("x"),
        y=node.length("y"),
        z=node.number("z", 0, MOST_PLACE_MM, 0),
        turn=node.number("turn", -3600, 3600, 0),
        lean=node.number("lean", -180, 180, 0),
        lean_toward=node.number("lean_toward", -3600, 3600, 0),
        role=node.choice("role", ROLES, "support"),
        on=node.ident("on") if node.has("on") else None,
        held_by=node.choice("held_by", HOLDERS) if node.has("held_by") else None,
        locked=node.flag("locked", False),
    )
    node.close()
    return placement


def _check_references(scene: Scene) -> None:
    prop_ids = _unique("props", "id", [p.id for p in scene.props])
    placement_ids = _unique("placements", "id", [p.id for p in scene.placements])
    _unique("setups", "name", [s.name for s in scene.setups])
    for i, placement in enumerate(scene.placements):
        _refer(placement.prop, prop_ids, f"placements[{i}].prop", "props")
        if placement.on is not None:
            _refer(placement.on, placement_ids, f"placements[{i}].on", "placements")
            if placement.id == placement.on or placement.on in scene.carried_by(placement.id):
                raise DocumentError(f"placements[{i}].on", "must not rest on itself, directly or through others", placement.on)
    for i, setup in enumerate(scene.setups):
        _unique(f"setups[{i}].deliverables", "name", [d.name for d in setup.deliverables])
        for k, hidden in enumerate(setup.hidden):
            _refer(hidden, placement_ids, f"setups[{i}].hidden[{k}]", "placements")
        _unique(f"setups[{i}].hidden", "", list(setup.hidden))
        for at, swapped in setup.swap:
            _refer(at, placement_ids, f"setups[{i}].swap", "placements")
            _refer(swapped, prop_ids, f"setups[{i}].swap.{at}", "props")


def _unique(path: str, key: str, values: list[str]) -> frozenset[str]:
    seen: set[str] = set()
    for i, value in enumerate(values):
        if value in seen:
            raise DocumentError(f"{path}[{i}]" + (f".{key}" if key else ""), "must be used once only", value)
        seen.add(value)
    return frozenset(seen)


def _refer(value: str, known: frozenset[str], path: str, what: str) -> None:
    if value not in known:
        raise DocumentError(path, f"must name one of the {what} of this document", value)


def shape_from_value(value: Any) -> Shape:
    """A shape from parsed JSON."""
    return _shape(Node(value, "shape"))


def prop_from_value(value: Any) -> Prop:
    """One prop as the document holds it."""
    return _prop(Node(value, "prop"))


def surface_from_value(value: Any) -> Surface:
    """One surface as the document holds it."""
    return _surface(Node(value, "surface"))


def backdrop_from_value(value: Any) -> Backdrop:
    """One backdrop as the document holds it."""
    return _backdrop(Node(value, "backdrop"))
