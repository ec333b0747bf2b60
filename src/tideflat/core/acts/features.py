"""Acts on features: named places of a thing, and which of them must be seen."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..errors import FieldError
from ..formats.prop_reader import feature_of
from ..formats.scene_writer import feature_value
from ..model import Feature, MustShow, Prop, Scene
from .act import Act, Done
from .arguments import FLAG, ID, NAME, arg, valued

FEATURE = valued(feature_of, feature_value, {"$ref": "#/$defs/feature"})


@dataclass(frozen=True, kw_only=True)
class FeatureAct(Act):
    """An act on a feature of the prop that stands at a placement, or in ``setup`` when that is given: of what is swapped in there. Every
    placement of that prop has it."""

    placement: str = arg(ID)
    setup: str | None = arg(NAME, None)

    def prop(self, scene: Scene) -> Prop:
        """The prop that stands there. Raises FieldError."""
        if self.placement not in {p.id for p in scene.placements}:
            raise FieldError("placement", "must be one of the scene's placements", self.placement)
        placement = scene.placement(self.placement)
        return scene.prop(placement.prop if self.setup is None else scene.prop_in(placement, scene.setup(self.setup)).id)

    def with_features(self, scene: Scene, features: tuple[Feature, ...]) -> Scene:
        own = self.prop(scene)
        return replace(scene, props=tuple(replace(p, features=features) if p.id == own.id else p for p in scene.props))

    def asked(self, scene: Scene, feature_id: str, *, must: bool) -> Scene:
        item = MustShow(self.placement, feature_id)
        others = tuple(i for i in scene.brief.must_show if i != item)
        return replace(scene, brief=replace(scene.brief, must_show=(*others, item) if must else others))


def named_place(prop: Prop, feature_id: str) -> Feature:
    """The prop's feature of that id. Raises FieldError."""
    found = next((f for f in prop.features if f.id == feature_id), None)
    if found is None:
        raise FieldError("feature", "must be one of the thing's features", feature_id)
    return found


@dataclass(frozen=True, kw_only=True)
class NameFeature(FeatureAct):
    """A place on the thing gets a name, or the one of that id becomes this; it must be seen when ``must_show``."""

    act = "name_feature"
    feature: Feature = arg(FEATURE)
    must_show: bool = arg(FLAG, False)

    def done(self, scene: Scene) -> Done:
        own = self.prop(scene)
        others = tuple(f for f in own.features if f.id != self.feature.id)
        after = self.with_features(scene, (*others, self.feature))
        if self.must_show:
            after = self.asked(after, self.feature.id, must=True)
        return Done(after, self.act, (("name", own.name), ("feature", self.feature.name)), self.placement)


@dataclass(frozen=True, kw_only=True)
class DropFeature(FeatureAct):
    """A named place no longer has its name; it need not be seen either (what mentions it goes with it, as after every act)."""

    act = "drop_feature"
    feature: str = arg(ID)

    def done(self, scene: Scene) -> Done:
        own = self.prop(scene)
        named = named_place(own, self.feature)
        after = self.with_features(scene, tuple(f for f in own.features if f.id != self.feature))
        return Done(after, self.act, (("name", own.name), ("feature", named.name)), self.placement)


@dataclass(frozen=True, kw_only=True)
class AskFeature(FeatureAct):
    """A named place must be seen, or need not be."""

    act = "ask_feature"
    feature: str = arg(ID)
    must_show: bool = arg(FLAG, False)

    def done(self, scene: Scene) -> Done:
        own = self.prop(scene)
        named = named_place(own, self.feature)
        after = self.asked(scene, self.feature, must=self.must_show)
        figures = (("name", own.name), ("feature", named.name), ("must_show", self.must_show))
        return Done(after, self.act, figures, self.placement)
