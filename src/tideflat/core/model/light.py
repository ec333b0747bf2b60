"""What gives light and what turns it: windows, lamps, the sun, room light; cards, and what stands round the table."""

from __future__ import annotations

from dataclasses import dataclass

Point = tuple[float, float, float]

LIGHT_KINDS: tuple[str, ...] = ("window", "lamp", "sun", "room")
#: What hangs before a window, and how much of the light passes it.
COVERS: dict[str, float] = {"none": 1.0, "sheer": 0.6, "paper": 0.3}
CARD_KINDS: tuple[str, ...] = ("white", "silver", "gold", "tint", "black")
CARD_HOLDERS: tuple[str, ...] = ("stand", "clip", "helper")
#: The lists of a scene or set-up that hold all this.
LIGHTING: tuple[str, ...] = ("lights", "cards", "rig")
RIG_KINDS: tuple[str, ...] = ("stand", "arm", "person", "flag")


@dataclass(frozen=True, slots=True)
class Sheet:
    """What a lamp shines through: a flat sheet about ``at`` that faces ``toward``; so much of what reaches it passes, matt."""

    at: Point
    toward: Point
    width: float
    height: float
    transmission: float


@dataclass(frozen=True, slots=True)
class Light:
    """kelvin: its colour temperature; filter: the colour before it, None without one; stops: its strength over what 0 stands for
    (core/light/sources.py). Each kind adds its own."""

    id: str
    on: bool = True
    kelvin: float = 5500.0
    filter: str | None = None
    stops: float = 0.0

    @property
    def kind(self) -> str:
        """One of LIGHT_KINDS."""
        raise NotImplementedError


@dataclass(frozen=True, slots=True, kw_only=True)
class Faced(Light):
    """A lit face: its middle, the way it looks, and its size, mm; width is level, along x where it looks straight up or down."""

    at: Point
    toward: Point
    width: float
    height: float
    round: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Window(Faced):
    cover: str = "none"

    @property
    def kind(self) -> str:
        return "window"


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamp(Faced):
    """beam: the whole angle it shines in, degrees, even inside and nothing outside; None: the half space before it."""

    beam: float | None = None
    through: Sheet | None = None

    @property
    def kind(self) -> str:
        return "lamp"


@dataclass(frozen=True, slots=True, kw_only=True)
class Sun(Light):
    """Degrees, north and east positive; time: ISO 8601 with its offset. through: id of the window that it must pass, or None."""

    latitude: float
    longitude: float
    time: str
    through: str | None = None

    @property
    def kind(self) -> str:
        return "sun"


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomLight(Light):
    """An even half space above."""

    @property
    def kind(self) -> str:
        return "room"


@dataclass(frozen=True, slots=True)
class Card:
    """A board that gives light back or takes it; both sides alike. colour: that of a tint. bend: degrees of arc across its width."""

    id: str
    kind: str
    at: Point
    toward: Point
    width: float
    height: float
    colour: str | None = None
    bend: float = 0.0
    held_by: str = "stand"


@dataclass(frozen=True, slots=True)
class Rig:
    """What stands round the set, as an upright block: ``at`` the middle of its foot; its width is level and square to ``toward``."""

    id: str
    kind: str
    at: Point
    toward: Point
    width: float
    depth: float
    height: float
