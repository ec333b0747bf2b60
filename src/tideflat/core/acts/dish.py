"""Laying anew what lies in a dish."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..model import Placement, Scene, Setup
from ..table.dish import WAYS, laid_in
from .act import Done
from .arguments import arg, numbered, one_of, whole
from .set_ups_apart import Change
from .things import ThingAct

_KEYS = ("x", "y", "z", "turn", "lean", "lean_toward", "on")


def _to(piece: Placement) -> Change:
    """The change that lays one piece, but for what a set-up has of its own."""
    values = {key: getattr(piece, key) for key in _KEYS}

    def change(there: Scene, own: frozenset[str], setup: Setup | None) -> Scene:
        kept = {key: value for key, value in values.items() if key not in own}
        return replace(there, placements=tuple(replace(p, **kept) if p.id == piece.id else p for p in there.placements))

    return change


@dataclass(frozen=True, kw_only=True)
class LayDish(ThingAct):
    """Everything in the dish, or on the board, laid anew: level, in a heap, or along a crescent. ``toward``: where a heap leans, a crescent
    lies and long things point, degrees, 0 right, 90 away. What is locked or strewn stays."""

    act = "lay_dish"
    way: str = arg(one_of(WAYS), "level")
    toward: float = arg(numbered(-360, 360), 90.0)
    seed: int = arg(whole(0, 2**31 - 1), 1)

    def done(self, scene: Scene) -> Done:
        setup = scene.setups[0] if self.setup is None else scene.setup(self.setup)
        _, name = self.called(scene)
        laid = laid_in(scene.seen_in(setup), setup, self.placement, self.way, self.toward, self.seed)
        for piece in laid:
            scene = replace(self, placement=piece.id).made(scene, _KEYS, _to(piece))
        return self.told(scene, name, count=len(laid), way=self.way)
