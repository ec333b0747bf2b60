"""Acts on what the brief says: use and story, what must be seen, mood, season, number, tags."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import Any

from tideflat.core.camera.uses import use_of
from tideflat.core.errors import FieldError
from tideflat.core.model import Brief, Scene
from tideflat.web.ui.fields import Fields

from .frame import fitted
from .history import Edit

#: Fields of the brief that are typed one at a time.
TYPED = ("mood", "season", "finals", "tags", "must_show")


def brief_field(scene: Scene, fields: Fields) -> Edit:
    """``field`` gets what is typed as ``value``; lists are parted by commas or semicolons; empty takes it back."""
    which = fields.choice("field", TYPED)
    text = fields.text("value", 600)
    value: Any = text
    if which == "finals":
        value = fields.whole("value") if text else None
        if value is not None and not 1 <= value <= 999:
            raise FieldError("finals", "must be from 1 to 999", value)
    elif which in ("tags", "must_show"):
        value = tuple(dict.fromkeys(part.strip() for part in re.split(r"[,;]", text) if part.strip()))
    label = {"must_show": "what must be seen", "finals": "number of finals"}.get(which, which)
    return Edit(_with(scene, **{which: value}), f"{label}: {text or 'open'}")


def begin(scene: Scene, fields: Fields) -> Edit:
    """What it is for and one sentence; a use that is known brings the shapes it usually means when none are asked for yet."""
    use, story = fields.text("use", 120), fields.text("story", 2000)
    changed = _with(scene, use=use, story=story)
    known = use_of(use)
    if known is not None:
        setups = tuple(s if s.deliverables else replace(s, deliverables=fitted(known.wanted, s.camera)) for s in changed.setups)
        changed = replace(changed, setups=setups)
    return Edit(changed, f"brief: {use or 'story told'}")


def _with(scene: Scene, **changes: Any) -> Scene:
    brief: Brief = replace(scene.brief, **changes)
    return replace(scene, brief=brief)
