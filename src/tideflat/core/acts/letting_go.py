"""Letting go of a thing that was carried: it lies down on what is under it, or stands on the table."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..formats.reading import Node
from ..model import Scene, Setup
from ..table.carrying import carried_along
from ..table.lying import lying
from .act import Done
from .arguments import FLAG, PLACE, arg, listed
from .arranging import Arrange
from .things import Move, ThingAct

_KEYS = ("z", "on", "lean", "lean_toward")

#: Something that makes room: its id, and where it stands then, mm.
Room = tuple[str, float, float]


def _room(value: Any, path: str) -> Room:
    node = Node(value, path)
    found = node.ident("placement"), node.length("x"), node.length("y")
    node.close()
    return found


_LENGTH = {"$ref": "#/$defs/length"}
_SCHEMA = {
    "type": "object",
    "additionalProperties": False,
    "required": ["placement", "x", "y"],
    "properties": {"placement": {"$ref": "#/$defs/id"}, "x": _LENGTH, "y": _LENGTH},
}


def _written(rooms: tuple[Room, ...]) -> list[dict[str, Any]]:
    return [{"placement": i, "x": x, "y": y} for i, x, y in rooms]


_ROOMS = replace(listed(_room, _SCHEMA, 500), write=_written)


@dataclass(frozen=True, kw_only=True)
class LetGo(ThingAct):
    """Moved to x, y, mm, and let go there: what can carry it does, by the rule of resting; else it stands on the table. ``level``: on the
    table whatever is there. A cloth comes to lie over a riser, or a low board, and falls at its edge. What is held up, hangs, leans of
    itself, or is strewn, is moved and stays as it is. ``making_room``: others that stand elsewhere then, in the same step."""

    act = "let_go"
    x: float = arg(PLACE)
    y: float = arg(PLACE)
    level: bool = arg(FLAG, False)
    making_room: tuple[Room, ...] = arg(_ROOMS, ())

    def done(self, scene: Scene) -> Done:
        if not self.making_room:
            return self._let_go(scene)
        ids = tuple(i for i, _, _ in self.making_room)
        if self.placement in ids:
            raise FieldError("making_room", "must name other things than the one that is let go", self.placement)
        seen = scene if self.setup is None else scene.seen_in(scene.setup(self.setup))
        places = tuple((x, y, seen.placement(i).turn) for i, x, y in self.making_room)
        after = Arrange(placements=ids, places=places, setup=self.setup, only=self.only).done(scene).scene
        done = self._let_go(after)
        return replace(done, figures=(*done.figures, ("room", len(ids))))

    def _let_go(self, scene: Scene) -> Done:
        moved = Move(placement=self.placement, x=self.x, y=self.y, setup=self.setup, only=self.only).done(scene)
        setup = moved.scene.setups[0] if self.setup is None else moved.scene.setup(self.setup)
        seen = moved.scene.seen_in(setup)
        lies = lying(seen, setup, seen.placement(self.placement), self.level)
        if lies is None:
            return moved

        def change(there: Scene, own: frozenset[str], looked_at: Setup | None) -> Scene:
            if own:
                return there
            lead = there.placement(self.placement)
            return carried_along(there, lead, replace(lead, **lies))

        after = self.made(moved.scene, _KEYS, change)
        if lies["on"] is None:
            return replace(moved, scene=after, code="move")
        below = seen.prop(seen.placement(lies["on"]).prop).name
        return self.told(after, dict(moved.figures)["name"], below=below)
