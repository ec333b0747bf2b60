"""Acts on what surrounds the things: surface, backdrop, room, and the scheme they are laid by."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..bounds import LEAST_SIZE_MM, MOST_PLACE_MM
from ..errors import FieldError
from ..model import LEFT_OUT, Backdrop, Faced, Lamp, Light, Room, Scene, Scheme, Surface
from .act import Act, Done, TableAct
from .arguments import BACKDROP, COLOUR, NAME, PLACE, SCHEME, SURFACE, arg, maybe, numbered, one_of
from .camera import KEEP

WALLS = "#efeeea"


@dataclass(frozen=True, kw_only=True)
class GroundAct(TableAct):
    """An act on one of what a set-up may have of its own."""

    def put(self, scene: Scene, key: str, value: Any) -> Scene:
        """The scene with ``value`` for the set-up alone, or for all that share it. Raises FieldError."""
        own = self.own_setup(scene)
        if own is not None:
            return scene.with_setup(own.name, replace(own, **{key: value}))
        if self.setup is not None and getattr(scene.setup(self.setup), key) is not LEFT_OUT:
            raise FieldError(
                key, f"must be changed with only, as {self.setup} has its own, or be given back to the shared table first", show_got=False
            )
        return replace(scene, **{key: value})

    def seen(self, scene: Scene) -> Scene:
        """The scene as it stands where the act is made."""
        return scene if self.setup is None else scene.seen_in(scene.setup(self.setup))

    def where(self) -> tuple[tuple[str, Any], ...]:
        return (("only", self.setup),) if self.only else ()


@dataclass(frozen=True, kw_only=True)
class UseSurface(GroundAct):
    """Another surface on the same table. One of another size goes under by its middle: things, aims and backdrop keep their places about
    it, so that the pictures show what they showed. With ``keep`` place, or where something is locked or the surface is one set-up's
    alone, all of it keeps its distances from the front left corner."""

    act = "surface"
    surface: Surface = arg(SURFACE)
    keep: str = arg(one_of(KEEP), "picture")

    def done(self, scene: Scene) -> Done:
        old = scene.surface
        dx, dy = (self.surface.width - old.width) / 2, (self.surface.depth - old.depth) / 2
        after = self.put(scene, "surface", self.surface)
        if self.keep == "picture" and self.own_setup(scene) is None and (dx or dy) and not any(p.locked for p in scene.placements):
            after = carried(after, dx, dy)
        return Done(after, self.act, (("name", self.surface.name), *self.where()))


def carried(scene: Scene, dx: float, dy: float) -> Scene:
    """Everything that lies on the shared surface, or is aimed at it, shifted on the table; a set-up with a surface of its own keeps its
    camera."""

    def shifted(place: tuple[float, float, float]) -> tuple[float, float, float]:
        return place[0] + dx, place[1] + dy, place[2]

    setups = []
    for setup in scene.setups:
        values = {"x": dx, "y": dy}
        differs = tuple(
            replace(d, values=tuple((k, v + values.get(k, 0.0) if k in values else v) for k, v in d.values)) for d in setup.differs
        )
        camera = setup.camera
        if setup.surface is LEFT_OUT:
            camera = replace(camera, aim=shifted(camera.aim), focus=None if camera.focus is None else shifted(camera.focus))
        setups.append(replace(setup, camera=camera, differs=differs))
    backdrop = scene.backdrop
    return replace(
        scene,
        placements=tuple(replace(p, x=p.x + dx, y=p.y + dy) for p in scene.placements),
        setups=tuple(setups),
        backdrop=None if backdrop is None else replace(backdrop, x=backdrop.x + dx, y=backdrop.y + dy),
        lights=tuple(_light_carried(light, dx, dy) for light in scene.lights),
        cards=tuple(replace(card, at=shifted(card.at)) for card in scene.cards),
        rig=tuple(replace(piece, at=shifted(piece.at)) for piece in scene.rig),
    )


def _light_carried(light: Light, dx: float, dy: float) -> Light:
    if not isinstance(light, Faced):
        return light
    moved = replace(light, at=(light.at[0] + dx, light.at[1] + dy, light.at[2]))
    if isinstance(moved, Lamp) and moved.through is not None:
        x, y, z = moved.through.at
        moved = replace(moved, through=replace(moved.through, at=(x + dx, y + dy, z)))
    return moved


@dataclass(frozen=True, kw_only=True)
class TableHeight(GroundAct):
    """The table's top so high above the floor, mm."""

    act = "table_height"
    height_above_floor: float = arg(numbered(0, 10_000))

    def done(self, scene: Scene) -> Done:
        surface = replace(self.seen(scene).surface, height_above_floor=self.height_above_floor)
        return Done(self.put(scene, "surface", surface), self.act, (("height", self.height_above_floor), *self.where()))


@dataclass(frozen=True, kw_only=True)
class UseBackdrop(GroundAct):
    """Another backdrop, or none (null)."""

    act = "backdrop"
    backdrop: Backdrop | None = arg(maybe(BACKDROP))
    called: str = arg(NAME, "another")

    def done(self, scene: Scene) -> Done:
        name = None if self.backdrop is None else self.called
        return Done(self.put(scene, "backdrop", self.backdrop), self.act, (("name", name), *self.where()))


@dataclass(frozen=True, kw_only=True)
class PlaceBackdrop(GroundAct):
    """The backdrop's middle at x, or standing at y from the front edge, mm."""

    act = "place_backdrop"
    x: float | None = arg(PLACE, None)
    y: float | None = arg(PLACE, None)

    def done(self, scene: Scene) -> Done:
        backdrop = self.seen(scene).backdrop
        if backdrop is None:
            raise FieldError("backdrop", "must be chosen before it can be moved", show_got=False)
        values = {key: value for key in "xy" if (value := getattr(self, key)) is not None}
        if not values:
            raise FieldError("x", "must be given, or y", show_got=False)
        after = self.put(scene, "backdrop", replace(backdrop, **values))
        return Done(after, self.act, (*values.items(), *self.where()))


@dataclass(frozen=True, kw_only=True)
class UseScheme(GroundAct):
    """The scheme the things are laid by, or none (null)."""

    act = "scheme"
    scheme: Scheme | None = arg(maybe(SCHEME))

    def done(self, scene: Scene) -> Done:
        kind = None if self.scheme is None else self.scheme.kind
        return Done(self.put(scene, "scheme", self.scheme), self.act, (("kind", kind), *self.where()))


@dataclass(frozen=True, kw_only=True)
class SetRoom(Act):
    """The ceiling so high above the floor, mm; null where it is not known."""

    act = "room"
    ceiling_height: float | None = arg(maybe(numbered(LEAST_SIZE_MM, MOST_PLACE_MM)))
    walls: str | None = arg(maybe(COLOUR), None)

    def done(self, scene: Scene) -> Done:
        walls = self.walls or (scene.room.walls if scene.room else WALLS)
        room = scene.room or Room(None, walls)
        after = replace(scene, room=replace(room, ceiling_height=self.ceiling_height, walls=walls))
        return Done(after, self.act, (("ceiling", self.ceiling_height),))
