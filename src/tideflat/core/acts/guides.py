"""The guides of a set-up: lines across its frame, all of them at once."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..formats.reading import Node
from ..formats.scene_writer import guide_value
from ..formats.setup_reader import MOST_GUIDES, guide_of
from ..model import Guide, Scene
from .act import Done
from .arguments import Kind, arg, listed
from .set_ups import SetupAct


def _guide(value: object, path: str) -> Guide:
    return guide_of(Node(value, path))


_LISTED = listed(_guide, {"$ref": "#/$defs/setup/properties/guides/items"}, MOST_GUIDES)
GUIDES = Kind(_LISTED.read, _LISTED.schema, lambda guides: [guide_value(g) for g in guides])


@dataclass(frozen=True, kw_only=True)
class SetGuides(SetupAct):
    """The set-up's guides are these: ``axis`` u for an upright line, v for a level one, ``at`` a fraction of the frame; or ``from`` and ``to``."""

    act = "guides"
    guides: tuple[Guide, ...] = arg(GUIDES)

    def done(self, scene: Scene) -> Done:
        setup = scene.setup(self.setup)
        more = len(self.guides) - len(setup.guides)
        if self.guides == setup.guides:
            raise FieldError("guides", "must be others than there are", show_got=False)
        return Done(scene.with_setup(setup.name, replace(setup, guides=self.guides)), self.act, (("more", more),))
