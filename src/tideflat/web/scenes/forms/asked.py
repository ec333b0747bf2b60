"""What a form is given: what was posted, by whom, on which scene, from which set-up."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.model import LEFT_OUT, Placement, Scene, Setup
from tideflat.web.accounts.models import Studio
from tideflat.web.ui.fields import Fields

from ..models import Scene as SceneRow

#: An act as JSON has it: its name under ``act``, its arguments beside it.
Value = dict[str, Any]


@dataclass(frozen=True)
class Asked:
    """``scene``: all set-ups of it; ``only``: changes are to be made in the set-up alone that is looked at."""

    scene: Scene
    fields: Fields
    row: SceneRow
    studio: Studio
    only: bool = False

    @cached_property
    def setup(self) -> Setup:
        """The set-up that is looked at; raises FieldError for one that is not there."""
        name = self.fields.text("setup", 120)
        return self.scene.setup(name) if name else self.scene.setups[0]

    @cached_property
    def seen(self) -> Scene:
        """The scene as it stands there."""
        return self.scene.seen_in(self.setup)

    @cached_property
    def thing(self) -> Placement:
        """The placement under ``id``, as it stands there."""
        return self.seen.placement(self.fields.text("id", 64))

    @cached_property
    def picture(self) -> Picture:
        """What the lens of the set-up sees."""
        return Picture(self.scene, self.setup)

    def where(self, *keys: str) -> Value:
        """Whether an act on these keys of the thing means this set-up alone: as asked, or because it has one of them of its own."""
        own = self.setup.differing(self.thing.id)
        return self._where(any(key in own for key in keys))

    def where_own(self, key: str) -> Value:
        """The same for the set-up's own surface, backdrop or scheme."""
        return self._where(getattr(self.setup, key) is not LEFT_OUT)

    def _where(self, is_own: bool) -> Value:
        return {"setup": self.setup.name, "only": True} if self.only or is_own else {"setup": self.setup.name}

    def of_thing(self, act: str, *keys: str, **arguments: Any) -> Value:
        """An act on the thing."""
        return {"act": act, "placement": self.thing.id, **arguments, **self.where(*keys)}

    def of_setup(self, act: str, **arguments: Any) -> Value:
        """An act on the set-up."""
        return {"act": act, "setup": self.setup.name, **arguments}


Form = Callable[[Asked], Value]


def whole_share(fields: Fields, name: str) -> float:
    """Per cent as typed, as a share; raises FieldError outside 0 to 100 %."""
    share = fields.number(name) / 100
    if not 0 <= share <= 1:
        raise FieldError(name, "must be from 0 to 100 %", share * 100)
    return share
