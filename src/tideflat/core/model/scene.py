"""The scene: all that is on the table, and every set-up of it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from ..errors import FieldError
from ..remember import counted
from .brief import Brief
from .colour import Palette
from .ground import Backdrop, Room, Surface
from .light import Card, Light, Rig
from .setup import LEFT_OUT, OWN, Scheme, Setup, shares_all
from .things import Group, Placement, Prop


@dataclass(frozen=True, slots=True)
class Meant:
    """A finding that is kept on purpose: in which set-up, its code, whom it concerns, and why. retouch: minutes, where it is left for
    retouching."""

    setup: str
    code: str
    placements: tuple[str, ...]
    reason: str = ""
    retouch: float | None = None


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
    lights: tuple[Light, ...] = ()
    cards: tuple[Card, ...] = ()
    rig: tuple[Rig, ...] = ()

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


@counted(512)
def _seen_in(scene: Scene, setup: Setup) -> Scene:
    own = {key: getattr(setup, key) for key in OWN if getattr(setup, key) is not LEFT_OUT}
    swapped, differing = dict(setup.swap), {d.placement: dict(d.values) for d in setup.differs}
    placements = tuple(
        replace(p, prop=swapped.get(p.id, p.prop), **differing.get(p.id, {})) if p.id in swapped or p.id in differing else p
        for p in scene.placements
    )
    return replace(scene, placements=placements, **own)
