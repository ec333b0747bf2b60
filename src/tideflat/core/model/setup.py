"""One camera's picture of the table, and what is otherwise in it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum
from typing import Any, Final

from .camera import Camera
from .deliverable import Deliverable, Guide
from .ground import Backdrop, Surface
from .kit import Support
from .light import Card, Light, Rig


class LeftOut(Enum):
    """Stands for a key that is not given, where null means something of its own."""

    LEFT_OUT = "left out"


LEFT_OUT: Final = LeftOut.LEFT_OUT
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


#: What each scheme says of itself beside its kind; places in fractions of the frame.
SCHEME_KEYS: dict[str, tuple[str, ...]] = {
    "crescent": ("opens", "centre", "radius"),
    "diagonal": ("from",),
    "depth-diagonal": ("from",),
    "centre": ("at", "radius"),
    "off-centre": ("at",),
    "s-curve": ("mirrored",),
    "triangle": ("points",),
    "arc": ("v", "bow"),
    "border": ("margin",),
    "squared": ("columns", "rows"),
    "stagger": ("planes",),
}


@dataclass(frozen=True, slots=True)
class Scheme:
    """kind: one of SCHEMES. values: its keys (SCHEME_KEYS) that are given; the program chooses the others."""

    kind: str
    values: tuple[tuple[str, Any], ...] = ()

    def value(self, key: str) -> Any:
        """What is given for a key; None where the program chooses."""
        return dict(self.values).get(key)


#: Keys of a placement that a set-up may have otherwise, in the order they are written.
DIFFERING: tuple[str, ...] = ("x", "y", "z", "turn", "lean", "lean_toward", "role", "on", "held_by")
#: Keys of the scene that a set-up may have otherwise.
OWN: tuple[str, ...] = ("surface", "backdrop", "scheme", "lights", "cards", "rig")


@dataclass(frozen=True, slots=True)
class Difference:
    """What one placement is otherwise in a set-up: keys of DIFFERING, in that order, with their values there."""

    placement: str
    values: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class Exposure:
    """How long and how sensitive; with a flash the burst is the time. handheld: nothing holds the camera but a hand.
    filter_stops: what filters before the lens take, stops."""

    iso: float = 100.0
    time_s: float = 0.01
    flash: bool = False
    handheld: bool = False
    filter_stops: float = 0.0


@dataclass(frozen=True, slots=True)
class Setup:
    """One camera's picture of the table. ``surface``, ``backdrop``, ``scheme``, ``lights``, ``cards``, ``rig``: its own, LEFT_OUT where
    it shares the scene's; ``differs``: what things are otherwise in it; ``exposure``: None or LEFT_OUT where it is not decided;
    ``support``: what
    holds the camera, None where that is not."""

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
    exposure: Exposure | LeftOut | None = LEFT_OUT
    support: Support | None = None
    lights: tuple[Light, ...] | LeftOut = LEFT_OUT
    cards: tuple[Card, ...] | LeftOut = LEFT_OUT
    rig: tuple[Rig, ...] | LeftOut = LEFT_OUT

    @property
    def exposed(self) -> Exposure | None:
        """The exposure that is decided."""
        return None if isinstance(self.exposure, LeftOut) else self.exposure

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


def shares_all(setup: Setup) -> bool:
    """Whether the set-up has the shared table as it is."""
    return not setup.differs and not setup.swap and all(getattr(setup, key) is LEFT_OUT for key in OWN)
