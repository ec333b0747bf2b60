"""A scene's own copies of the props that stand in it."""

from __future__ import annotations

from dataclasses import replace

from ..model import Prop, Scene
from .ids import free_id, stem_of


def with_prop(scene: Scene, prop: Prop) -> tuple[Scene, Prop]:
    """The scene with its own copy of ``prop``, and that copy; one that is there already, alike in all but the number of its id, is shared."""
    for own in scene.props:
        if stem_of(own.id) == stem_of(prop.id) and replace(own, id=prop.id) == prop:
            return scene, own
    kept = replace(prop, id=free_id(prop.id, {p.id for p in scene.props}))
    return replace(scene, props=(*scene.props, kept)), kept
