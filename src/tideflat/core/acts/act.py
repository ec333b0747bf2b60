"""What an act is: a frozen value of typed arguments that makes of one scene another.

Arguments are named like the document's keys. ``act`` is an act's name; `registry` reads, performs and lists them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from ..errors import FieldError
from ..model import Scene, Setup
from .arguments import FLAG, NAME, arg

Figures = tuple[tuple[str, Any], ...]


@dataclass(frozen=True)
class Done:
    """What came of an act. ``code`` and ``figures`` (plain values by name) let whoever tells of it word a sentence in their own units;
    ``held``: the placement that is in hand afterwards, None to leave that as it is."""

    scene: Scene
    code: str
    figures: Figures = ()
    held: str | None = None


@dataclass(frozen=True, kw_only=True)
class Act:
    """One change of a scene."""

    act: ClassVar[str] = ""

    def done(self, scene: Scene) -> Done:
        """The scene after it. Raises FieldError whose path is the argument at fault. The result is not yet proven to be a valid document."""
        raise NotImplementedError


@dataclass(frozen=True, kw_only=True)
class TableAct(Act):
    """An act on the table: in ``setup`` alone when ``only``, else on the table that set-ups share.

    ``setup`` without ``only`` says from which set-up the shared table is changed: where that one has its own value, the change would not be
    seen in it, and is an error.
    """

    setup: str | None = arg(NAME, None)
    only: bool = arg(FLAG, False)

    def own_setup(self, scene: Scene) -> Setup | None:
        """The set-up that alone it changes; None for the shared table. Raises FieldError."""
        if self.only and self.setup is None:
            raise FieldError("setup", "must be given with only: it says which set-up alone is meant", show_got=False)
        setup = None if self.setup is None else scene.setup(self.setup)
        return setup if self.only else None

    def refuse_unseen(self, scene: Scene, placement_id: str, keys: tuple[str, ...]) -> None:
        """Raises FieldError when the set-up that is looked at has one of ``keys`` of the placement of its own."""
        if self.setup is None or self.only:
            return
        own = scene.setup(self.setup).differing(placement_id)
        for key in keys:
            if key in own:
                raise FieldError(
                    key,
                    f"must be changed with only, as {self.setup} has its own here, or be given back to the shared table first",
                    own[key],
                )
