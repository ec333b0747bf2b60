"""Acts on what the picture is for: title, brief, leanings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from ..camera.crops import fitted
from ..camera.uses import use_of
from ..errors import FieldError
from ..formats.scene_reader import must_show_of
from ..formats.scene_writer import must_show_value
from ..model import LEANINGS, LEFT_OUT, LeftOut, MustShow, Scene
from .act import Act, Done
from .arguments import NAME, NAMES, TEXT, Kind, arg, listed, maybe, numbered, one_of, whole


@dataclass(frozen=True, kw_only=True)
class Title(Act):
    """What the scene is called."""

    act = "title"
    title: str = arg(NAME)

    def done(self, scene: Scene) -> Done:
        return Done(replace(scene, title=self.title), self.act, (("title", self.title),))


@dataclass(frozen=True, kw_only=True)
class Leaning(Act):
    """-1 the first school of a leaning, +1 the second, 0 none."""

    act = "leaning"
    leaning: str = arg(one_of(LEANINGS))
    value: float = arg(numbered(-1, 1))

    def done(self, scene: Scene) -> Done:
        leanings = tuple((name, self.value if name == self.leaning else old) for name, old in scene.brief.leanings)
        after = replace(scene, brief=replace(scene.brief, leanings=leanings))
        return Done(after, self.act, (("leaning", self.leaning), ("value", self.value)))


_SHOWN = listed(must_show_of, {"$ref": "#/properties/brief/properties/must_show/items"}, 12)
MUST_SHOW = Kind(_SHOWN.read, _SHOWN.schema, lambda items: [must_show_value(item) for item in items])


@dataclass(frozen=True, kw_only=True)
class SetBrief(Act):
    """What the brief says, as far as given."""

    act = "brief"
    use: str | None = arg(TEXT, None)
    story: str | None = arg(TEXT, None)
    mood: str | None = arg(TEXT, None)
    season: str | None = arg(TEXT, None)
    finals: int | LeftOut | None = arg(maybe(whole(1, 999)), LEFT_OUT)
    tags: tuple[str, ...] | None = arg(NAMES, None)
    must_show: tuple[str | MustShow, ...] | None = arg(MUST_SHOW, None)

    def done(self, scene: Scene) -> Done:
        texts = ("use", "story", "mood", "season", "tags", "must_show")
        changes: dict[str, Any] = {key: value for key in texts if (value := getattr(self, key)) is not None}
        if self.finals is not LEFT_OUT:
            changes["finals"] = self.finals
        if not changes:
            raise FieldError("story", "must be given, or another part of the brief", show_got=False)
        key, value = next(iter(changes.items()))
        words = [item if isinstance(item, str) else item.feature for item in value] if isinstance(value, tuple) else value
        return Done(replace(scene, brief=replace(scene.brief, **changes)), self.act, (("key", key), ("value", words)))


@dataclass(frozen=True, kw_only=True)
class Begin(Act):
    """What it is for and one sentence; a use that is known brings the shapes it usually means where none are asked for yet."""

    act = "begin"
    use: str = arg(TEXT, "")
    story: str = arg(TEXT, "")

    def done(self, scene: Scene) -> Done:
        changed = replace(scene, brief=replace(scene.brief, use=self.use, story=self.story))
        known = use_of(self.use)
        if known is not None:
            setups = tuple(s if s.deliverables else replace(s, deliverables=fitted(known.wanted, s.camera)) for s in changed.setups)
            changed = replace(changed, setups=setups)
        return Done(changed, self.act, (("use", self.use),))
