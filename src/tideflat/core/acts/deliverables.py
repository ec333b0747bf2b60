"""Acts on what a set-up is to deliver: shapes, pixels, room for words, and where each crop lies."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..bounds import LEAST_PART
from ..camera.crops import fitted
from ..errors import FieldError
from ..formats.reading import Node, pair, whole
from ..formats.scene_writer import copy_space_value
from ..formats.setup_reader import MOST_RIM, copy_space_of
from ..model import CopySpace, Deliverable, Scene, Setup
from .act import Done
from .arguments import NAME, PAIR, POINT, REACH, Kind, arg, listed, maybe, numbered, valued
from .camera import with_camera
from .set_ups import SetupAct


def _pixels(node: Node, key: str) -> tuple[int, int]:
    value = node.get(key)
    if not isinstance(value, list | tuple) or len(value) != 2:
        raise node.fail(key, "must be a list of 2 whole numbers")
    return whole(value[0], f"{node.where(key)}[0]", 1, 100_000), whole(value[1], f"{node.where(key)}[1]", 1, 100_000)


PIXELS = Kind(_pixels, {"type": "array", "items": {"type": "integer", "minimum": 1, "maximum": 100_000}, "minItems": 2, "maxItems": 2})
COPY_SPACE = valued(copy_space_of, copy_space_value, {"$ref": "#/$defs/deliverable/properties/copy_space"})


CENTRES = listed(lambda value, path: pair(value, path, 0, 1), PAIR.schema, 24)


def deliverable_of(setup: Setup, name: str, key: str = "name") -> Deliverable:
    """The set-up's deliverable of this name; raises FieldError, with the argument ``key``, when it has none."""
    for d in setup.deliverables:
        if d.name == name:
            return d
    raise FieldError(key, "must be one of this set-up's deliverables", name)


@dataclass(frozen=True, kw_only=True)
class SetDeliverable(SetupAct):
    """Asked for anew, or, with ``was``, the one called so is changed and stays where its crop lies."""

    act = "deliverable"
    name: str = arg(NAME)
    ratio: str | None = arg(maybe(NAME), None)
    pixels: tuple[int, int] | None = arg(maybe(PIXELS), None)
    scale: float = arg(numbered(LEAST_PART, 1), 1.0)
    copy_space: CopySpace | None = arg(maybe(COPY_SPACE), None)
    bleed: float = arg(numbered(0, MOST_RIM), 0.0)
    safe: float = arg(numbered(0, MOST_RIM), 0.0)
    moves: float | None = arg(maybe(numbered(1, 1000)), None)
    was: str | None = arg(maybe(NAME), None)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        old = None if self.was is None else deliverable_of(setup, self.was, "was")
        if any(d.name == self.name and d is not old for d in setup.deliverables):
            raise FieldError("name", "must be one that no other deliverable has", self.name)
        centre = old.centre if old else (0.5, 0.5)
        made = Deliverable(self.name, self.ratio, self.pixels, centre, self.scale, self.copy_space, self.bleed, self.safe, self.moves)
        (made,) = fitted((made,), setup.camera)
        others = tuple(made if d is old else d for d in setup.deliverables) if old else (*setup.deliverables, made)
        after = scene.with_setup(setup.name, replace(setup, deliverables=others))
        return Done(after, self.act, (("name", self.name), ("changed", old is not None)))


@dataclass(frozen=True, kw_only=True)
class MoveCrop(SetupAct):
    """A crop's middle moved to a place in the frame (fractions); it stays inside."""

    act = "crop"
    name: str = arg(NAME)
    centre: tuple[float, float] = arg(PAIR)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        (made,) = fitted((replace(deliverable_of(setup, self.name), centre=self.centre),), setup.camera)
        others = tuple(made if d.name == self.name else d for d in setup.deliverables)
        return Done(scene.with_setup(setup.name, replace(setup, deliverables=others)), self.act, (("name", self.name),))


@dataclass(frozen=True, kw_only=True)
class RemoveDeliverable(SetupAct):
    """No longer asked for."""

    act = "remove_deliverable"
    name: str = arg(NAME)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        gone = deliverable_of(setup, self.name)
        left = tuple(d for d in setup.deliverables if d is not gone)
        return Done(scene.with_setup(setup.name, replace(setup, deliverables=left)), self.act, (("name", self.name),))


@dataclass(frozen=True, kw_only=True)
class FrameAll(SetupAct):
    """The camera and every crop at once: ``aim`` and ``distance``, and the middles of the crops in the order of the deliverables."""

    act = "frame_all"
    aim: tuple[float, float, float] = arg(POINT)
    distance: float = arg(REACH)
    centres: tuple[tuple[float, float], ...] = arg(CENTRES)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        if len(self.centres) != len(setup.deliverables):
            raise FieldError("centres", f"must be one for each of the set-up's {len(setup.deliverables)} deliverables", len(self.centres))
        placed = tuple(replace(d, centre=c) for d, c in zip(setup.deliverables, self.centres, strict=True))
        after = scene.with_setup(setup.name, replace(setup, deliverables=placed))
        return Done(with_camera(after, after.setup(setup.name), aim=self.aim, distance=self.distance), self.act, (("count", len(placed)),))
