"""A whole arrangement taken at once: many things each to a place of its own, in one step."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..formats.reading import Node
from ..model import LEFT_OUT, SCHEMES, Scene, Scheme
from .act import Done
from .arguments import SCHEME, arg, listed, maybe, one_of
from .ground import UseScheme
from .several import SeveralAct

_MOST_TURN = 3600.0


Place = tuple[float, float, float]


def _place(value: Any, path: str) -> Place:
    node = Node(value, path)
    place = node.length("x"), node.length("y"), node.number("turn", -_MOST_TURN, _MOST_TURN)
    node.close()
    return place


_LENGTH, _TURN = {"$ref": "#/$defs/length"}, {"type": "number", "minimum": -_MOST_TURN, "maximum": _MOST_TURN}
_SCHEMA = {
    "type": "object",
    "additionalProperties": False,
    "required": ["x", "y", "turn"],
    "properties": {"x": _LENGTH, "y": _LENGTH, "turn": _TURN},
}


def _written(places: tuple[Place, ...]) -> list[dict[str, float]]:
    return [{"x": x, "y": y, "turn": turn} for x, y, turn in places]


_PLACES = replace(listed(_place, _SCHEMA, 500), write=_written)


@dataclass(frozen=True, kw_only=True)
class Arrange(SeveralAct):
    """Each of ``placements`` to its own of ``places``: x, y, mm, and turn, degrees. What one of them carries goes along; where that is
    named too it then goes to its own place. ``scheme``: what it reads as, for whoever tells of it; ``laid_by``: becomes the scheme they
    are laid by."""

    act = "arrange"
    places: tuple[Place, ...] = arg(_PLACES)
    scheme: str | None = arg(maybe(one_of(SCHEMES)), None)
    laid_by: Scheme | None = arg(maybe(SCHEME), None)

    def done(self, scene: Scene) -> Done:
        if len(self.places) != len(self.placements):
            raise FieldError("places", f"must be {len(self.placements)}, one for each of the placements", len(self.places))
        first = self.leads(scene)
        ids = (*first, *self._then(scene, first))
        goals = dict(zip(self.placements, self.places, strict=True))
        after = self.put(scene, ids, ({i: goals[i][:2] for i in ids}, {i: goals[i][2] for i in ids}))
        return Done(self._laid(after.scene), self.act, (*after.figures, ("scheme", self.scheme)))

    def _laid(self, scene: Scene) -> Scene:
        if self.laid_by is None:
            return scene
        is_own = self.setup is not None and (self.only or self.looked_at(scene).scheme is not LEFT_OUT)
        where = {"setup": self.setup, "only": True} if is_own else {}
        return UseScheme(scheme=self.laid_by, **where).done(scene).scene  # type: ignore[arg-type]

    def _then(self, scene: Scene, first: tuple[str, ...]) -> tuple[str, ...]:
        """The others that are named, what carries before what it carries."""
        seen = scene if self.setup is None else scene.seen_in(scene.setup(self.setup))
        left = [i for i in dict.fromkeys(self.placements) if i not in first]
        return tuple(sorted(left, key=lambda i: -len(seen.carried_by(i))))
