"""Acts on set-ups: begin, rename and drop one; give back to the shared table what one has of its own, or let all take it over."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..model import DIFFERING, LEFT_OUT, OWN, Placement, Scene, Setup
from ..table.carrying import carried_along
from ..tolerances import STIFF_MM_DEG
from .act import Act, Done
from .arguments import ID, NAME, arg, listed, maybe
from .putting_in import exchanged
from .set_ups_apart import in_one_setup, on_the_shared_table

#: What of a thing may be otherwise in a set-up: keys of its placement, its prop by a swap, and whether it is in the picture.
OF_A_THING: tuple[str, ...] = (*DIFFERING, "prop", "hidden")


@dataclass(frozen=True, kw_only=True)
class SetupAct(Act):
    """An act on one set-up."""

    setup: str = arg(NAME)


@dataclass(frozen=True, kw_only=True)
class AddSetup(SetupAct):
    """Another set-up on the same table, begun as a copy of ``setup``."""

    act = "add_setup"
    name: str | None = arg(NAME, None)

    def done(self, scene: Scene) -> Done:
        name = self.name or _next_name(scene)
        _refuse_taken(scene, name)
        made = replace(scene.setup(self.setup), name=name)
        return Done(replace(scene, setups=(*scene.setups, made)), self.act, (("name", name),))


def _next_name(scene: Scene) -> str:
    taken = {s.name for s in scene.setups}
    return next(f"set-up {n}" for n in range(2, len(taken) + 3) if f"set-up {n}" not in taken)


def _refuse_taken(scene: Scene, name: str) -> None:
    if any(s.name == name for s in scene.setups):
        raise FieldError("name", "must be one that no other set-up has", name)


@dataclass(frozen=True, kw_only=True)
class RenameSetup(SetupAct):
    """Another name; what is meant in it stays meant."""

    act = "rename_setup"
    name: str = arg(NAME)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        if self.name != setup.name:
            _refuse_taken(scene, self.name)
        meant = tuple(replace(m, setup=self.name) if m.setup == setup.name else m for m in scene.meant)
        after = replace(scene.with_setup(setup.name, replace(setup, name=self.name)), meant=meant)
        return Done(after, self.act, (("setup", setup.name), ("name", self.name)))


@dataclass(frozen=True, kw_only=True)
class RemoveSetup(SetupAct):
    """Dropped; the last one stays."""

    act = "remove_setup"

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        if len(scene.setups) == 1:
            raise FieldError("setup", "must stay, as it is the only one", show_got=False)
        return Done(replace(scene, setups=tuple(s for s in scene.setups if s.name != setup.name)), self.act, (("setup", setup.name),))


def _key(value: Any, path: str) -> str:
    if value not in OF_A_THING and value not in OWN:
        raise FieldError(path, "must be one of " + ", ".join((*OF_A_THING, *OWN)), value)
    return str(value)


@dataclass(frozen=True, kw_only=True)
class OwnAct(SetupAct):
    """An act on what a set-up has of its own: of one thing, its keys, ``prop`` and ``hidden``; without ``placement`` the set-up's own
    ``surface``, ``backdrop``, ``scheme``. ``keys``: which of them; null: all there is, but not whether the thing is in the picture."""

    placement: str | None = arg(ID, None)
    keys: tuple[str, ...] | None = arg(maybe(listed(_key, {"enum": [*OF_A_THING, *OWN]}, len(OF_A_THING))), None)

    def own_keys(self, scene: Scene, setup: Setup) -> tuple[str, ...]:
        """The keys meant, each of which the set-up has of its own. Raises FieldError."""
        if self.placement is None:
            there = [key for key in OWN if getattr(setup, key) is not LEFT_OUT]
        else:
            scene.placement(self.placement)
            there = [key for key in DIFFERING if key in setup.differing(self.placement)]
            there += ["prop"] if self.placement in dict(setup.swap) else []
            there += ["hidden"] if self.placement in setup.hidden and self.keys is not None else []
        wanted = tuple(there) if self.keys is None else self.keys
        for k, key in enumerate(wanted):
            if key not in there:
                raise FieldError(f"keys[{k}]", f"must be one that {setup.name} has of its own: {', '.join(there) or 'there is none'}", key)
        if not wanted:
            raise FieldError("setup", "must have something of its own here", setup.name)
        return wanted

    def told(self, scene: Scene, keys: tuple[str, ...], after: Scene) -> Done:
        """Done, with the thing's name, if it is one, and what was meant."""
        name = None if self.placement is None else scene.prop(scene.placement(self.placement).prop).name
        return Done(after, self.act, (("name", name), ("keys", list(keys)), ("setup", self.setup)), self.placement)


def _sharing(setup: Setup, keys: tuple[str, ...]) -> Setup:
    """The set-up with the scene's own for these keys of OWN."""
    shared: dict[str, Any] = dict.fromkeys(keys, LEFT_OUT)
    return replace(setup, **shared)


@dataclass(frozen=True, kw_only=True)
class GiveBack(OwnAct):
    """It is in this set-up as on the shared table again; what it carries here comes with it, and a hero that had to make way here leads again."""

    act = "give_back"

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        keys = self.own_keys(scene, setup)
        if self.placement is None:
            return self.told(scene, keys, scene.with_setup(setup.name, _sharing(setup, keys)))
        placement_id = self.placement
        shared = scene.placement(placement_id)
        after = scene
        if "hidden" in keys:
            after = after.with_setup(setup.name, replace(setup, hidden=tuple(i for i in setup.hidden if i != placement_id)))
        if "prop" in keys:
            after = exchanged(after, placement_id, None, after.setup(setup.name))
        plain = tuple(key for key in keys if key in DIFFERING)
        if plain:
            values = {key: getattr(shared, key) for key in plain}

            def change(seen: Scene, own: frozenset[str], here: Setup | None) -> Scene:
                lead = seen.placement(placement_id)
                return carried_along(seen, lead, replace(lead, **values))

            after = in_one_setup(after, after.setup(setup.name), placement_id, (), change)
            after = _shared_again(after, setup.name, placement_id, plain)
            after = _loads_shared_again(after, setup.name, scene.seen_in(setup).carried_by(placement_id))
            if "role" in plain and setup.differing(placement_id)["role"] == "hero":
                for p in scene.placements:
                    if p.role == "hero":
                        after = _shared_again(after, setup.name, p.id, ("role",))
        return self.told(scene, keys, after)


def _shared_again(scene: Scene, setup_name: str, placement_id: str, keys: tuple[str, ...]) -> Scene:
    """The scene without those keys of the placement among what differs in the set-up."""
    setup = scene.setup(setup_name)
    left = {key: value for key, value in setup.differing(placement_id).items() if key not in keys}
    return scene.with_setup(setup_name, setup.with_differing(placement_id, left))


def _loads_shared_again(scene: Scene, setup_name: str, loads: tuple[str, ...]) -> Scene:
    """The scene without what differs of these in the set-up by no more than the rounding of what follows a carrier."""
    for load in loads:
        shared = scene.placement(load)
        own = scene.setup(setup_name).differing(load)
        scene = _shared_again(scene, setup_name, load, tuple(key for key, value in own.items() if _alike(value, getattr(shared, key))))
    return scene


def _alike(one: Any, other: Any) -> bool:
    if isinstance(one, float) and isinstance(other, float):
        return abs(one - other) <= STIFF_MM_DEG
    return bool(one == other)


@dataclass(frozen=True, kw_only=True)
class TakeOver(OwnAct):
    """All take over what this set-up has of its own: it becomes the shared table's, but for set-ups that have their own."""

    act = "take_over"

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        keys = self.own_keys(scene, setup)
        if self.placement is None:
            own = {key: getattr(setup, key) for key in keys}
            shared = replace(scene, **own)
            return self.told(scene, keys, shared.with_setup(setup.name, _sharing(setup, keys)))
        placement_id = self.placement
        after = scene
        if "hidden" in keys:
            setups = tuple(s if placement_id in s.hidden else replace(s, hidden=(*s.hidden, placement_id)) for s in after.setups)
            after = replace(after, setups=setups)
        if "prop" in keys:
            after = exchanged(after, placement_id, dict(setup.swap)[placement_id], None)
            after = exchanged(after, placement_id, None, after.setup(setup.name))
        plain = tuple(key for key in keys if key in DIFFERING)
        if plain:
            values = {key: value for key, value in setup.differing(placement_id).items() if key in plain}

            def change(seen: Scene, own: frozenset[str], here: Setup | None) -> Scene:
                lead = seen.placement(placement_id)
                taken = {key: value for key, value in values.items() if key not in own}
                if taken.get("role") == "hero":
                    others = tuple(_no_hero(p) if p.id != placement_id else p for p in seen.placements)
                    seen = replace(seen, placements=others)
                return carried_along(seen, lead, replace(lead, **taken))

            after = on_the_shared_table(after, placement_id, plain, change)
            after = _shared_again(after, setup.name, placement_id, plain)
            after = _loads_shared_again(after, setup.name, scene.seen_in(setup).carried_by(placement_id))
        return self.told(scene, keys, after)


def _no_hero(p: Placement) -> Placement:
    return replace(p, role="support") if p.role == "hero" else p
