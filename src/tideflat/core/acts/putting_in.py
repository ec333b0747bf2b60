"""Acts that put a thing on the table, or another in its place; and those that bind things together."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..evaluate import Picture
from ..model import ROLES, Group, Placement, Prop, Scene, Setup, shares_all
from ..shapes.shape import Shape
from ..solids.body import pose
from ..table.carrying import lifted, refuse_locked
from ..table.clear_places import clear_places
from ..table.ids import free_id
from ..table.lying import lying
from ..table.props import with_prop
from ..table.resting import resting_height
from ..tolerances import STIFF_DIGITS
from .act import Act, Done, TableAct
from .arguments import FLAG, HEIGHT, ID, IDS, NAME, PLACE, PROP, arg, one_of
from .registering import KEEPS, registered
from .set_ups_apart import put_down
from .things import Move, ThingAct

#: Clear table that is left round a thing whose place nobody chose, mm [practice].
ROOM_MM = 12.0
#: A second one is laid so far beside the first, mm [practice].
_BESIDE_MM = 15.0


@dataclass(frozen=True, kw_only=True)
class Add(TableAct):
    """A prop put on the table at x, y, mm, or where there is room nearest the camera's aim. ``prop``: an object of the document, which the
    scene takes a copy of, or the id of one it has. ``settled``: what can carry it there does. With ``only`` it is left out of every other
    set-up."""

    act = "add"
    prop: Prop | str = arg(PROP)
    x: float | None = arg(PLACE, None)
    y: float | None = arg(PLACE, None)
    z: float = arg(HEIGHT, 0.0)
    role: str = arg(one_of(ROLES), "support")
    placement: str | None = arg(ID, None)
    settled: bool = arg(FLAG, False)

    def done(self, scene: Scene) -> Done:
        own = self.own_setup(scene)
        scene, prop = with_prop(scene, self.prop if isinstance(self.prop, Prop) else scene.prop(self.prop))
        setup = scene.setups[0] if self.setup is None else scene.setup(self.setup)
        taken = {p.id for p in scene.placements}
        if self.placement in taken:
            raise FieldError("placement", "must be an id that is free", self.placement)
        x, y = (self.x, self.y) if self.x is not None and self.y is not None else room_for(scene, setup, prop.shape)
        seen = scene.seen_in(setup)
        has_hero = any(p.role == "hero" for p in (*scene.placements, *seen.placements))
        made = Placement(
            id=self.placement or free_id(prop.id, taken),
            prop=prop.id,
            x=x if self.x is None else self.x,
            y=y if self.y is None else self.y,
            z=self.z,
            role="support" if self.role == "hero" and has_hero else self.role,
        )
        if self.settled:
            among = replace(scene, placements=(*scene.placements, made)).seen_in(setup)
            made = replace(made, **(lying(among, setup, made) or {}))
        setups = tuple(s if own is None or s.name == own.name else replace(s, hidden=(*s.hidden, made.id)) for s in scene.setups)
        after = replace(scene, placements=(*scene.placements, made), setups=setups)
        figures = (("name", prop.name), *((("only", own.name),) if own else ()))
        return Done(after, self.act, figures, made.id)


def room_for(scene: Scene, setup: Setup, shape: Shape) -> tuple[float, float]:
    """Where a new thing may stand: the place nearest the camera's aim with clear table round it; the aim itself where there is none."""
    x0, y0, _ = setup.camera.aim
    places = clear_places(scene.seen_in(setup), setup, shape, gap_mm=ROOM_MM, rank=lambda x, y: (x - x0) ** 2 + (y - y0) ** 2)
    return next(places, (float(x0), float(y0)))


@dataclass(frozen=True, kw_only=True)
class Duplicate(ThingAct):
    """A second one beside it with a second of all it carries, in every set-up as the first stands there; never a second hero."""

    act = "duplicate"

    def done(self, scene: Scene) -> Done:
        if self.only:
            raise FieldError("only", "must be left out: hide leaves a thing out of one set-up", show_got=False)
        first, name = self.called(scene)
        copied = (first.id, *scene.carried_by(first.id))
        taken = {p.id for p in scene.placements}
        twins: dict[str, str] = {}
        for i in copied:
            twins[i] = free_id(i, taken)
            taken.add(twins[i])
        left, _, right, _ = pose(first, scene.prop(first.prop).shape).footprint.bounds
        step = round(right - left + _BESIDE_MM, 1)
        dx = step if first.x + step < scene.surface.width else -step

        def twin(p: Placement) -> Placement:
            role = "support" if p.role == "hero" else p.role
            on = p.on if p.on is None else twins.get(p.on, p.on)
            return replace(p, id=twins[p.id], x=round(p.x + dx, STIFF_DIGITS), role=role, on=on, locked=False)

        setups = tuple(_with_twins(scene, s, twins, dx) for s in scene.setups)
        after = replace(scene, placements=(*scene.placements, *(twin(scene.placement(i)) for i in copied)), setups=setups)
        return Done(after, self.act, (("name", name),), twins[first.id])


def _with_twins(scene: Scene, setup: Setup, twins: dict[str, str], dx: float) -> Setup:
    """The set-up with each twin left out, swapped and differing as the first is in it."""
    hidden = tuple(twins[i] for i in setup.hidden if i in twins)
    swap = tuple((twins[i], prop) for i, prop in setup.swap if i in twins)
    made = replace(setup, hidden=(*setup.hidden, *hidden), swap=(*setup.swap, *swap))
    for i, its in twins.items():
        values = setup.differing(i)
        if "x" in values:
            values["x"] = round(values["x"] + dx, STIFF_DIGITS)
        if values.get("role") == "hero":
            values["role"] = "support"
        if values.get("on") in twins:
            values["on"] = twins[values["on"]]
        if values:
            made = made.with_differing(its, values)
    return made


@dataclass(frozen=True, kw_only=True)
class Swap(ThingAct):
    """Another prop in its place, in one set-up with ``only``, else on the shared table; what it carries comes to lie on the new one.
    keep: what of it stays: the middle of its foot (``base``), or, as ``setup`` sees it, the middle of its outline (``centre``), its upper
    edge (``top_line``) or its lower one (``base_line``)."""

    act = "swap"
    prop: Prop | str = arg(PROP)
    keep: str = arg(one_of(KEEPS), "base")

    def done(self, scene: Scene) -> Done:
        own = self.own_setup(scene)
        if self.setup is not None and own is None and self.placement in dict(scene.setup(self.setup).swap):
            raise FieldError("prop", f"must be changed with only, as {self.setup} has its own here, or be given back first", show_got=False)
        _, name = self.called(scene)
        scene, prop = with_prop(scene, self.prop if isinstance(self.prop, Prop) else scene.prop(self.prop))
        after = exchanged(scene, self.placement, prop.id, own)
        if self.keep != "base":
            after = self._registered(scene, after, prop)
        return self.told(after, name, by=prop.name)

    def _registered(self, scene: Scene, after: Scene, prop: Prop) -> Scene:
        """``after`` with the thing where the frame shows it as it showed the other."""
        if self.setup is None:
            raise FieldError("setup", "must be given: it says in which frame a line is kept", show_got=False)
        picture = Picture(scene, scene.setup(self.setup))
        x, y, z = registered(picture, picture.scene.placement(self.placement), prop, self.keep)
        return Move(placement=self.placement, setup=self.setup, only=self.only, x=x, y=y, z=max(z, 0.0), alone=True).done(after).scene


def exchanged(scene: Scene, placement_id: str, prop_id: str | None, own: Setup | None) -> Scene:
    """The scene with the prop at the placement, in ``own`` alone or on the shared table; None: as the shared table has it again."""
    if own is None:
        assert prop_id is not None
        placement = scene.placement(placement_id)
        after = scene.with_placement(replace(placement, prop=prop_id))
        shared = _laid_anew(scene, after, placement_id)
    else:
        swap = tuple((i, p) for i, p in own.swap if i != placement_id)
        if prop_id is not None:
            swap = (*swap, (placement_id, prop_id))
        after = scene.with_setup(own.name, replace(own, swap=swap))
        shared = scene
    seen = {}
    for setup in after.setups:
        was = scene.setup(setup.name)
        if not shares_all(setup) or not shares_all(was):
            seen[setup.name] = _laid_anew(scene.seen_in(was), after.seen_in(setup), placement_id)
    return put_down(after, shared, seen)


def _laid_anew(before: Scene, after: Scene, carrier_id: str) -> Scene:
    """``after`` with what lies on the carrier as much higher or lower as its new prop asks for."""
    was, now = before.placement(carrier_id), after.placement(carrier_id)
    if was.prop == now.prop:
        return after
    for load in [p for p in after.placements if p.on == carrier_id]:
        rise = resting_height(after, load, now) - resting_height(before, load, was)
        if rise:
            refuse_locked(after, (load.id, *after.carried_by(load.id)))
            after = lifted(after, (load.id,), rise)
    return after


@dataclass(frozen=True, kw_only=True)
class GroupThings(Act):
    """Things that are to move together, under a name; ``group``: one that is there, which gets these things instead, or the id of a new one."""

    act = "group"
    placements: tuple[str, ...] = arg(IDS)
    name: str = arg(NAME, "group")
    group: str | None = arg(ID, None)

    def done(self, scene: Scene) -> Done:
        known = {p.id for p in scene.placements}
        for k, i in enumerate(self.placements):
            if i not in known:
                raise FieldError(f"placements[{k}]", "must be one of the scene's placements", i)
        things = tuple(dict.fromkeys(self.placements))
        if len(things) < 2:
            raise FieldError("placements", "must be two things or more", list(things))
        group = Group(self.group or free_id("group", {g.id for g in scene.groups}), self.name, things)
        others = tuple(replace(g, placements=tuple(i for i in g.placements if i not in things)) for g in scene.groups if g.id != group.id)
        return Done(replace(scene, groups=(*others, group)), self.act, (("name", self.name), ("count", len(things))))


@dataclass(frozen=True, kw_only=True)
class Ungroup(Act):
    """Its things no longer move together; with ``placement`` only that one leaves it."""

    act = "ungroup"
    group: str = arg(ID)
    placement: str | None = arg(ID, None)

    def done(self, scene: Scene) -> Done:
        group = next((g for g in scene.groups if g.id == self.group), None)
        if group is None:
            raise FieldError("group", "must be one of the scene's groups", self.group)
        if self.placement is not None and self.placement not in group.placements:
            raise FieldError("placement", "must be one of the group's", self.placement)
        left = () if self.placement is None else tuple(i for i in group.placements if i != self.placement)
        others = tuple(replace(group, placements=left) if g.id == group.id else g for g in scene.groups)
        gone = None if self.placement is None else scene.prop(scene.placement(self.placement).prop).name
        return Done(replace(scene, groups=others), self.act, (("name", group.name), ("gone", gone)))
