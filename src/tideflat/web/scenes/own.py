"""What a set-up has of its own, and what moves together, as the bench says it."""

from __future__ import annotations

from typing import Any

from django.utils.safestring import SafeString

from tideflat.core.evaluate import Picture
from tideflat.core.model import LEFT_OUT, OWN
from tideflat.web.bridge.act_words import KEY_WORDS
from tideflat.web.ui.options import options

from .forms.set_ups import TOGETHER


def own_keys(picture: Picture, placement_id: str) -> tuple[str, ...]:
    """What of the thing is otherwise in this set-up."""
    swapped = ("prop",) if placement_id in dict(picture.setup.swap) else ()
    return (*picture.setup.differing(placement_id), *swapped)


def own_parts(picture: Picture, placement_id: str) -> list[str]:
    """The same in the words by which it is given back or taken over."""
    keys = own_keys(picture, placement_id)
    return [what for what, together in TOGETHER.items() if any(key in keys for key in together)]


def own_of(picture: Picture) -> dict[str, Any]:
    """What the set-up has of its own: ``ground``, by the word for it; ``things``, how many; ``words``, all of it in a line, empty for nothing."""
    setup = picture.setup
    ground = [KEY_WORDS[key] for key in OWN if getattr(setup, key) is not LEFT_OUT]
    things = {d.placement for d in setup.differs} | {i for i, _ in setup.swap}
    count = f"{len(things)} thing{'' if len(things) == 1 else 's'}" if things else ""
    return {"ground": ground, "things": len(things), "words": ", ".join([*ground, *([count] if count else [])])}


def others_to_move_with(picture: Picture, placement_id: str) -> SafeString:
    """Options: each group, by one of its things, and each thing in none, that this one may move with; its own group is chosen."""
    scene = picture.scene
    grouped = {i for g in scene.groups for i in g.placements}
    groups = [(g.placements[0], g.name) for g in scene.groups if g.placements != (placement_id,)]
    alone = [(p.id, scene.prop(p.prop).name) for p in scene.placements if p.id != placement_id and p.id not in grouped]
    own = scene.group_of(placement_id)
    return options([*groups, *alone], own.placements[0] if own else None)
