"""Acts on judgement: a finding kept on purpose, or judged again."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..errors import FieldError
from ..formats.reading import Node
from ..formats.scene_reader import CODE, MOST_REASON, MOST_RETOUCH_MINUTES
from ..model import Meant, Scene
from .act import Done
from .arguments import IDS, Kind, arg, maybe, numbered, texted
from .set_ups import SetupAct


def _code(node: Node, key: str) -> Any:
    value = node.get(key)
    if not isinstance(value, str) or not CODE.fullmatch(value):
        raise node.fail(key, "must be a finding's code such as spacing.tight")
    return value


@dataclass(frozen=True, kw_only=True)
class MeantAct(SetupAct):
    """An act on the findings of one code that concern these things in one set-up, whatever the crop."""

    code: str = arg(Kind(_code, {"type": "string", "pattern": f"^{CODE.pattern}$"}))
    placements: tuple[str, ...] = arg(IDS, ())

    def others(self, scene: Scene) -> tuple[Meant, ...]:
        """What else is meant."""
        scene.setup(self.setup)
        return tuple(m for m in scene.meant if (m.setup, m.code, m.placements) != (self.setup, self.code, self.placements))


@dataclass(frozen=True, kw_only=True)
class Mean(MeantAct):
    """Kept on purpose, with the reason; or left for retouching, with the minutes that it is thought to take."""

    act = "mean"
    reason: str = arg(texted(MOST_REASON), "")
    retouch: float | None = arg(maybe(numbered(0, MOST_RETOUCH_MINUTES)), None)

    def done(self, scene: Scene) -> Done:
        for k, i in enumerate(self.placements):
            if i not in {p.id for p in scene.placements}:
                raise FieldError(f"placements[{k}]", "must be one of the scene's placements", i)
        meant = (*self.others(scene), Meant(self.setup, self.code, self.placements, self.reason, self.retouch))
        figures = (("code", self.code),) if self.retouch is None else (("code", self.code), ("retouch", self.retouch))
        return Done(replace(scene, meant=meant), self.act, figures)


@dataclass(frozen=True, kw_only=True)
class Reconsider(MeantAct):
    """What was meant is judged again."""

    act = "reconsider"

    def done(self, scene: Scene) -> Done:
        left = self.others(scene)
        if len(left) == len(scene.meant):
            raise FieldError("code", "must be of a finding that is meant in this set-up", self.code)
        return Done(replace(scene, meant=left), self.act, (("code", self.code),))
