"""The scene as frozen values, field for field what the scene document holds.

Field names are those of the document; lengths are mm, angles degrees, fractions of the frame from its top left.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import Enum
from functools import lru_cache
from typing import Any, Final

from .errors import FieldError
from .shapes.shape import Shape


class LeftOut(Enum):
    """Stands for a key that is not given, where null means something of its own."""

    LEFT_OUT = "left out"


LEFT_OUT: Final = LeftOut.LEFT_OUT

ROLES: tuple[str, ...] = (
    "hero",
    "support",
    "accent",
    "linear",
    "cloth",
    "filler",
    "scatter",
    "riser",
    "foreground",
    "off-frame",
)
FINISHES: tuple[str, ...] = ("matte", "satin", "gloss", "metal", "glass")
HOLDERS: tuple[str, ...] = ("riser", "arm", "thread", "tape", "hand")
LEANINGS: tuple[str, ...] = (
    "hero_place",
    "order",
    "edges",
    "spacing",
    "palette",
    "shadow",
    "focus",
    "likeness",
    "fullness",
)
SCHEMES: tuple[str, ...] = (
    "crescent",
    "diagonal",
    "depth-diagonal",
    "centre",
    "off-centre",
    "s-curve",
    "triangle",
    "arc",
    "border",
    "squared",
    "stagger",
)
SIDES: tuple[str, ...] = ("top", "bottom", "left", "right")
#: Parts of a palette, the largest first.
PARTS: tuple[str, ...] = ("base", "second", "accent")
#: Where a skin lies: the level top, the upright face turned to the lens, or repeated over the top every width by depth mm.
FACES: tuple[str, ...] = ("top", "front", "tile")
GUIDE_KINDS: tuple[str, ...] = ("centre", "third", "golden", "line", "registration")


@dataclass(frozen=True, slots=True)
class Colour:
    """An sRGB colour ``#rrggbb`` and the share of the thing it covers."""

    hex: str
    share: float


@dataclass(frozen=True, slots=True)
class MustShow:
    """A feature of the thing at a placement that has to be seen."""

    placement: str
    feature: str


@dataclass(frozen=True, slots=True)
class Brief:
    """``use``: what the picture is for; ``must_show``: what must be seen of the subject, in words or as a feature of a thing;
    ``finals``: how many pictures are delivered."""

    story: str = ""
    tags: tuple[str, ...] = ()
    leanings: tuple[tuple[str, float], ...] = tuple((name, 0.0) for name in LEANINGS)
    use: str = ""
    must_show: tuple[str | MustShow, ...] = ()
    mood: str = ""
    season: str = ""
    finals: int | None = None

    def leaning(self, name: str) -> float:
        """-1 the first school of the leaning, +1 the second, 0 none."""
        return dict(self.leanings).get(name, 0.0)


@dataclass(frozen=True, slots=True)
class PaletteColour:
    """A colour the picture is to be made of, the part it plays, and the share of the picture wanted of it (0..1)."""

    hex: str
    part: str
    share: float


@dataclass(frozen=True, slots=True)
class Palette:
    colours: tuple[PaletteColour, ...]

    def of_part(self, part: str) -> tuple[PaletteColour, ...]:
        return tuple(c for c in self.colours if c.part == part)


@dataclass(frozen=True, slots=True)
class Skin:
    """A photograph of the thing itself, by the id of its pixels. width, depth: mm that one tile covers; only for the face ``tile``."""

    picture: str
    face: str
    width: float | None = None
    depth: float | None = None


@dataclass(frozen=True, slots=True)
class Lines:
    """A grain, joint or weave on the surface: direction in degrees from +x, pitch in mm."""

    direction: float
    pitch: float


@dataclass(frozen=True, slots=True)
class Surface:
    name: str
    width: float
    depth: float
    height_above_floor: float
    colours: tuple[Colour, ...]
    finish: str
    lines: Lines | None
    skin: Skin | None = None


@dataclass(frozen=True, slots=True)
class Backdrop:
    kind: str
    y: float
    x: float
    width: float
    height: float
    colour: str


@dataclass(frozen=True, slots=True)
class Room:
    ceiling_height: float | None
    walls: str


@dataclass(frozen=True, slots=True)
class Feature:
    """What may have to be seen of a prop: a label, a clasp, a cut face. ``at`` its middle and ``facing`` the way it looks, in the prop's own
    axes at rest, from the middle of its base; ``width`` is level (along x where it faces straight up), mm."""

    id: str
    name: str
    at: tuple[float, float, float]
    facing: tuple[float, float, float]
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class Prop:
    id: str
    name: str
    shape: Shape
    colours: tuple[Colour, ...]
    finish: str = "matte"
    texture: str = "smooth"
    material: str = ""
    tags: tuple[str, ...] = ()
    skins: tuple[Skin, ...] = ()
    features: tuple[Feature, ...] = ()


@dataclass(frozen=True, slots=True)
class Placement:
    id: str
    prop: str
    x: float
    y: float
    z: float = 0.0
    turn: float = 0.0
    lean: float = 0.0
    lean_toward: float = 0.0
    role: str = "support"
    on: str | None = None
    held_by: str | None = None
    locked: bool = False


@dataclass(frozen=True, slots=True)
class Scheme:
    kind: str
    opens: str | None = None


@dataclass(frozen=True, slots=True)
class Sensor:
    """Long side is ``width``: the sensor as it lies in the body, before it is turned upright."""

    width: float
    height: float
    pixels_wide: int
    pixels_high: int


@dataclass(frozen=True, slots=True)
class MeasuredField:
    """What the frame's long side covers at ``sensor_distance``, from the sensor plane."""

    sensor_distance: float
    width: float


@dataclass(frozen=True, slots=True)
class Lens:
    focal_length: float
    max_aperture: float = 1.8
    min_aperture: float = 16.0
    min_focus: float | None = None
    max_magnification: float | None = None
    extension: float = 0.0
    pupil_ratio: float = 1.0
    measured: MeasuredField | None = None


@dataclass(frozen=True, slots=True)
class Camera:
    sensor: Sensor
    orientation: str
    lens: Lens
    aperture: float
    aim: tuple[float, float, float]
    distance: float
    elevation: float
    azimuth: float = 0.0
    roll: float = 0.0
    focus: tuple[float, float, float] | None = None
    circle_of_confusion: float | None = None

    @property
    def frame_width_mm(self) -> float:
        """Width of the sensor as it is turned now."""
        return self.sensor.width if self.orientation == "landscape" else self.sensor.height

    @property
    def frame_height_mm(self) -> float:
        """Height of the sensor as it is turned now."""
        return self.sensor.height if self.orientation == "landscape" else self.sensor.width

    @property
    def frame_pixels(self) -> tuple[int, int]:
        """Pixels across and down, as the sensor is turned now."""
        size = (self.sensor.pixels_wide, self.sensor.pixels_high)
        return size if self.orientation == "landscape" else (size[1], size[0])


@dataclass(frozen=True, slots=True)
class CopySpace:
    """Room for words: a band of ``share`` at ``side`` of the crop, or ``rect`` (l, t, r, b as fractions of the crop)."""

    side: str | None = None
    share: float | None = None
    rect: tuple[float, float, float, float] | None = None


@dataclass(frozen=True, slots=True)
class Deliverable:
    name: str
    ratio: str | None
    pixels: tuple[int, int] | None
    centre: tuple[float, float] = (0.5, 0.5)
    scale: float = 1.0
    copy_space: CopySpace | None = None


@dataclass(frozen=True, slots=True)
class Guide:
    """A line across the frame at the fraction ``at`` of u or v."""

    axis: str
    at: float
    kind: str


#: Keys of a placement that a set-up may have otherwise, in the order they are written.
DIFFERING: tuple[str, ...] = ("x", "y", "z", "turn", "lean", "lean_toward", "role", "on", "held_by")
#: Keys of the scene that a set-up may have otherwise.
OWN: tuple[str, ...] = ("surface", "backdrop", "scheme")


@dataclass(frozen=True, slots=True)
class Difference:
    """What one placement is otherwise in a set-up: keys of DIFFERING, in that order, with their values there."""

    placement: str
    values: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class Setup:
    """One camera's picture of the table. ``surface``, ``backdrop``, ``scheme``: its own, LEFT_OUT where it shares the scene's;
    ``differs``: what things are otherwise in it."""

    name: str
    camera: Camera
    deliverables: tuple[Deliverable, ...] = ()
    guides: tuple[Guide, ...] = ()
    hidden: tuple[str, ...] = ()
    swap: tuple[tuple[str, str], ...] = ()
    differs: tuple[Difference, ...] = ()
    surface: Surface | LeftOut = LEFT_OUT
    backdrop: Backdrop | LeftOut | None = LEFT_OUT
    scheme: Scheme | LeftOut | None = LEFT_OUT

    def differing(self, placement_id: str) -> dict[str, Any]:
        """Keys of the placement that are otherwise in this set-up, with their values."""
        return next((dict(d.values) for d in self.differs if d.placement == placement_id), {})

    def with_differing(self, placement_id: str, values: dict[str, Any]) -> Setup:
        """The set-up with just these keys of the placement otherwise; with none, the placement is as on the shared table."""
        kept = Difference(placement_id, tuple((key, values[key]) for key in DIFFERING if key in values))
        if any(d.placement == placement_id for d in self.differs):
            others = tuple(kept if d.placement == placement_id else d for d in self.differs)
        else:
            others = (*self.differs, kept)
        return replace(self, differs=tuple(d for d in others if d.values))


@dataclass(frozen=True, slots=True)
class Group:
    """Things that move together."""

    id: str
    name: str
    placements: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Meant:
    """A finding that is kept on purpose: in which set-up, its code, whom it concerns, and why."""

    setup: str
    code: str
    placements: tuple[str, ...]
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Scene:
    title: str
    brief: Brief
    surface: Surface
    backdrop: Backdrop | None
    room: Room | None
    props: tuple[Prop, ...]
    placements: tuple[Placement, ...]
    scheme: Scheme | None
    setups: tuple[Setup, ...] = field(default=())
    palette: Palette | None = None
    groups: tuple[Group, ...] = ()
    meant: tuple[Meant, ...] = ()

    def prop(self, prop_id: str) -> Prop:
        """The prop with this id; raises FieldError when the scene has none."""
        for prop in self.props:
            if prop.id == prop_id:
                return prop
        raise FieldError("prop", "must be one of the scene's props", prop_id)

    def placement(self, placement_id: str) -> Placement:
        """The placement with this id; raises FieldError when the scene has none."""
        for placement in self.placements:
            if placement.id == placement_id:
                return placement
        raise FieldError("placement", "must be one of the scene's placements", placement_id)

    def setup(self, name: str) -> Setup:
        """The set-up with this name; raises FieldError when the scene has none."""
        for setup in self.setups:
            if setup.name == name:
                return setup
        raise FieldError("setup", "must be one of the scene's set-ups", name)

    def prop_in(self, placement: Placement, setup: Setup) -> Prop:
        """The prop that stands at ``placement`` in ``setup``: its own, or the one swapped in."""
        return self.prop(dict(setup.swap).get(placement.id, placement.prop))

    def seen_in(self, setup: Setup) -> Scene:
        """The scene as it stands in ``setup``: its own surface, backdrop and scheme, and every thing as it is there, swaps included.

        What is computed of a set-up is computed of this; what is changed is changed in the scene itself.
        """
        return self if shares_all(setup) else _seen_in(self, setup)

    def group_of(self, placement_id: str) -> Group | None:
        """The group that the placement is in."""
        return next((g for g in self.groups if placement_id in g.placements), None)

    def placements_in(self, setup: Setup) -> tuple[Placement, ...]:
        """The placements that are in the picture of ``setup``."""
        return tuple(p for p in self.placements if p.id not in setup.hidden)

    def carried_by(self, placement_id: str) -> tuple[str, ...]:
        """Ids of everything that rests on ``placement_id``, directly or through something between, nearest first."""
        found: list[str] = []
        waiting = [placement_id]
        while waiting:
            below = waiting.pop(0)
            above = [p.id for p in self.placements if p.on == below and p.id not in found]
            found += above
            waiting += above
        return tuple(found)

    def with_placement(self, changed: Placement) -> Scene:
        """The scene with the placement of the same id replaced."""
        return replace(self, placements=tuple(changed if p.id == changed.id else p for p in self.placements))

    def with_setup(self, name: str, changed: Setup) -> Scene:
        """The scene with the set-up called ``name`` replaced."""
        return replace(self, setups=tuple(changed if s.name == name else s for s in self.setups))


def shares_all(setup: Setup) -> bool:
    """Whether the set-up has the shared table as it is."""
    return not setup.differs and not setup.swap and all(getattr(setup, key) is LEFT_OUT for key in OWN)


@lru_cache(maxsize=512)
def _seen_in(scene: Scene, setup: Setup) -> Scene:
    own = {key: getattr(setup, key) for key in OWN if getattr(setup, key) is not LEFT_OUT}
    swapped, differing = dict(setup.swap), {d.placement: dict(d.values) for d in setup.differs}
    placements = tuple(
        replace(p, prop=swapped.get(p.id, p.prop), **differing.get(p.id, {})) if p.id in swapped or p.id in differing else p
        for p in scene.placements
    )
    return replace(scene, placements=placements, **own)
