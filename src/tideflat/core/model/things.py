"""Props, what they wear and show, and where they stand."""

from __future__ import annotations

from dataclasses import dataclass

from ..shapes.shape import Shape
from .colour import Colour

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
#: Where a skin lies: the level top, the upright face turned to the lens, or repeated over the top every width by depth mm.
FACES: tuple[str, ...] = ("top", "front", "tile")


@dataclass(frozen=True, slots=True)
class Skin:
    """A photograph of the thing itself, by the id of its pixels. width, depth: mm that one tile covers; only for the face ``tile``."""

    picture: str
    face: str
    width: float | None = None
    depth: float | None = None


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
class Motion:
    """What moves while the picture is taken: mm/s along ``toward`` (dx, dy, dz), of whatever length."""

    speed: float
    toward: tuple[float, float, float]


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
    motion: Motion | None = None


@dataclass(frozen=True, slots=True)
class Group:
    """Things that move together."""

    id: str
    name: str
    placements: tuple[str, ...]
