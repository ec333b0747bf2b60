"""Acts on a thing on the table: where it stands, how it lies, what it is there for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..model import HOLDERS, ROLES, Placement, Scene, Setup
from ..table.carrying import carried_along, lifted, refuse_locked
from ..table.resting import resting_height
from .act import Done, TableAct
from .arguments import FLAG, HEIGHT, ID, PLACE, arg, maybe, numbered, one_of
from .set_ups_apart import Change, in_one_setup, on_the_shared_table

TURN = numbered(-3600, 3600)


@dataclass(frozen=True, kw_only=True)
class ThingAct(TableAct):
    """An act on one placement."""

    placement: str = arg(ID)

    def called(self, scene: Scene) -> tuple[Placement, str]:
        """The placement as it stands where the act is made, and the name of what is seen there."""
        seen = scene if self.setup is None else scene.seen_in(scene.setup(self.setup))
        return (seen if self.only else scene).placement(self.placement), seen.prop(seen.placement(self.placement).prop).name

    def made(self, scene: Scene, keys: tuple[str, ...], change: Change) -> Scene:
        """``change`` made where the act says: in one set-up, or on the shared table."""
        self.refuse_unseen(scene, self.placement, keys)
        own = self.own_setup(scene)
        if own is not None:
            return in_one_setup(scene, own, self.placement, keys, change)
        return on_the_shared_table(scene, self.placement, keys, change)

    def told(self, scene: Scene, name: str, **figures: Any) -> Done:
        """Done, with what its words need: the thing's name, and the set-up that alone was changed."""
        return Done(scene, self.act, (("name", name), *figures.items(), *self.where()), self.placement)

    def where(self) -> tuple[tuple[str, Any], ...]:
        return (("only", self.setup),) if self.only else ()


def _along(placement_id: str, goal: Callable[[Placement, frozenset[str]], Placement], also: bool = False) -> Change:
    """A change of the placement to what ``goal`` makes of it, with what it carries; ``also``: and with its group."""

    def change(seen: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
        lead = seen.placement(placement_id)
        group = seen.group_of(placement_id) if also else None
        return carried_along(seen, lead, goal(lead, own), also=group.placements if group else ())

    return change


def _but(values: dict[str, Any], own: frozenset[str]) -> dict[str, Any]:
    return {key: value for key, value in values.items() if key not in own}


@dataclass(frozen=True, kw_only=True)
class Move(ThingAct):
    """To x, y, z, mm, as far as given; what it carries goes along, and on the table its group, unless ``alone``."""

    act = "move"
    x: float | None = arg(PLACE, None)
    y: float | None = arg(PLACE, None)
    z: float | None = arg(HEIGHT, None)
    alone: bool = arg(FLAG, False)

    def done(self, scene: Scene) -> Done:
        values = {key: value for key in "xyz" if (value := getattr(self, key)) is not None}
        if not values:
            raise FieldError("x", "must be given, or y, or z", show_got=False)
        before, name = self.called(scene)
        after = self.made(scene, tuple(values), _along(self.placement, lambda p, own: replace(p, **_but(values, own)), not self.alone))
        by = {key: value - getattr(before, key) for key, value in values.items()}
        far = sum(way**2 for way in by.values()) ** 0.5
        up = {} if by.get("x") or by.get("y") or not by.get("z") else {"up": round(by["z"], 1)}
        return self.told(after, name, mm=round(far, 1), **up)


@dataclass(frozen=True, kw_only=True)
class Turn(ThingAct):
    """To a turn, degrees counter-clockwise seen from above; what it carries goes round with it, about its middle."""

    act = "turn"
    turn: float = arg(TURN)

    def done(self, scene: Scene) -> Done:
        _, name = self.called(scene)
        after = self.made(scene, ("turn",), _along(self.placement, lambda p, own: replace(p, turn=self.turn)))
        return self.told(after, name, turn=self.turn)


@dataclass(frozen=True, kw_only=True)
class Lean(ThingAct):
    """To a lean from upright, degrees, toward a direction on the table; what it carries leans with it."""

    act = "lean"
    lean: float = arg(numbered(-180, 180))
    lean_toward: float | None = arg(TURN, None)

    def done(self, scene: Scene) -> Done:
        values = {"lean": self.lean} | ({} if self.lean_toward is None else {"lean_toward": self.lean_toward})
        _, name = self.called(scene)
        after = self.made(scene, tuple(values), _along(self.placement, lambda p, own: replace(p, **_but(values, own))))
        return self.told(after, name, lean=self.lean)


@dataclass(frozen=True, kw_only=True)
class Raise(ThingAct):
    """To a height of its foot above the table, mm; what it carries goes up and down with it."""

    act = "raise"
    z: float = arg(HEIGHT)

    def done(self, scene: Scene) -> Done:
        before, name = self.called(scene)
        after = self.made(scene, ("z",), _along(self.placement, lambda p, own: replace(p, z=self.z)))
        return self.told(after, name, z=self.z, mm=round(abs(self.z - before.z), 1))


@dataclass(frozen=True, kw_only=True)
class Rest(ThingAct):
    """Laid on another thing, or on the table (null); a dish takes what fits inside. What it carries comes along."""

    act = "rest"
    on: str | None = arg(maybe(ID))

    def done(self, scene: Scene) -> Done:
        _, name = self.called(scene)

        def change(seen: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
            """The placement as it is afterwards. Raises FieldError."""
            if own:  # where it lies in that set-up is of one piece: its height there belongs to what it lies on there
                return seen
            lead = seen.placement(self.placement)
            if self.on is None:
                return carried_along(seen, lead, replace(lead, on=None, z=0.0))
            below = _placement(seen, "on", self.on)
            if self.on == lead.id or self.on in seen.carried_by(lead.id):
                raise FieldError("on", "must not be the thing itself, nor what it carries", self.on)
            return carried_along(seen, lead, replace(lead, on=self.on, z=resting_height(seen, lead, below)))

        after = self.made(scene, ("on", "z"), change)
        below = None if self.on is None else scene.prop(scene.placement(self.on).prop).name
        return self.told(after, name, below=below)


def _placement(scene: Scene, key: str, placement_id: str) -> Placement:
    """The placement that the argument ``key`` names."""
    if placement_id not in {p.id for p in scene.placements}:
        raise FieldError(key, "must be one of the scene's placements", placement_id)
    return scene.placement(placement_id)


@dataclass(frozen=True, kw_only=True)
class Role(ThingAct):
    """A role; a new hero makes the one before a support wherever it takes the role, and nowhere else: a set-up's own hero stays."""

    act = "role"
    role: str = arg(one_of(ROLES))

    def done(self, scene: Scene) -> Done:
        _, name = self.called(scene)

        def change(seen: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
            if own:
                return seen
            if self.role != "hero":
                return seen.with_placement(replace(seen.placement(self.placement), role=self.role))
            if not self.only and setup is not None and _own_hero(setup, self.placement):
                return seen
            roles = {p.id: "support" for p in seen.placements if p.role == "hero"} | {self.placement: "hero"}
            return replace(seen, placements=tuple(replace(p, role=roles.get(p.id, p.role)) for p in seen.placements))

        return self.told(self.made(scene, ("role",), change), name, role=self.role)


def _own_hero(setup: Setup, but: str) -> bool:
    return any(d.placement != but and ("role", "hero") in d.values for d in setup.differs)


@dataclass(frozen=True, kw_only=True)
class Hold(ThingAct):
    """Held by a riser, an arm, a thread, tape or a hand; null: by nothing."""

    act = "hold"
    held_by: str | None = arg(maybe(one_of(HOLDERS)))

    def done(self, scene: Scene) -> Done:
        _, name = self.called(scene)

        def change(seen: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
            return seen if own else seen.with_placement(replace(seen.placement(self.placement), held_by=self.held_by))

        return self.told(self.made(scene, ("held_by",), change), name, held_by=self.held_by)


@dataclass(frozen=True, kw_only=True)
class Lock(ThingAct):
    """Locked where it is, in every set-up, or free again."""

    act = "lock"
    locked: bool = arg(FLAG, True)

    def done(self, scene: Scene) -> Done:
        if self.only:
            raise FieldError("only", "must be left out: a thing is locked in every set-up or in none", show_got=False)
        _, name = self.called(scene)
        after = scene.with_placement(replace(scene.placement(self.placement), locked=self.locked))
        return self.told(after, name, locked=self.locked)


@dataclass(frozen=True, kw_only=True)
class Remove(ThingAct):
    """Off the table, with every mention of it; what rested on it comes down to where its foot was."""

    act = "remove"

    def done(self, scene: Scene) -> Done:
        if self.only:
            raise FieldError("only", "must be left out: hide leaves a thing out of one set-up", show_got=False)
        gone, name = self.called(scene)
        refuse_locked(scene, (gone.id, *scene.carried_by(gone.id)))

        def change(seen: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
            lead = seen.placement(gone.id)
            for load in [p for p in seen.placements if p.on == gone.id]:
                refuse_locked(seen, (load.id, *seen.carried_by(load.id)))
                seen = lifted(seen, (load.id,), lead.z - load.z)
                seen = seen.with_placement(replace(seen.placement(load.id), on=lead.on))
            return seen

        after = on_the_shared_table(scene, gone.id, (), change)
        left = tuple(p for p in after.placements if p.id != gone.id)
        return Done(replace(after, placements=left), self.act, (("name", name),))


@dataclass(frozen=True, kw_only=True)
class Hide(ThingAct):
    """Left out of the set-up's picture, or, with ``hidden`` false, back in it."""

    act = "hide"
    hidden: bool = arg(FLAG, True)

    def done(self, scene: Scene) -> Done:
        if self.setup is None:
            raise FieldError("setup", "must be given: a thing is left out of one set-up", show_got=False)
        setup = scene.setup(self.setup)
        placement, name = self.called(scene)
        rest = tuple(h for h in setup.hidden if h != placement.id)
        changed = replace(setup, hidden=(*rest, placement.id) if self.hidden else rest)
        return Done(
            scene.with_setup(setup.name, changed), self.act, (("name", name), ("hidden", self.hidden), ("setup", setup.name)), placement.id
        )
