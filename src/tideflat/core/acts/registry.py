"""Every act by its name: read from JSON, performed, listed with its JSON Schema. Whoever changes a scene comes through here."""

from __future__ import annotations

import dataclasses
import json
from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import cache
from importlib.resources import files
from typing import Any

from ..errors import DocumentError, FieldError
from ..formats.reading import Node
from ..formats.scene_reader import scene_from_value
from ..formats.scene_writer import scene_value
from ..model import Scene
from . import (
    arranging,
    brief,
    camera,
    deliverables,
    details,
    dish,
    exposing,
    features,
    ground,
    guides,
    judgement,
    letting_go,
    lights,
    palette,
    putting_in,
    rows,
    series,
    set_ups,
    several,
    sun_kept,
    things,
)
from .act import Act, Done
from .tidy import tidied

#: Acts that are read at once.
MOST_ACTS = 1000

_MODULES = (
    things,
    several,
    letting_go,
    putting_in,
    rows,
    arranging,
    dish,
    camera,
    exposing,
    deliverables,
    guides,
    set_ups,
    series,
    details,
    ground,
    lights,
    sun_kept,
    palette,
    brief,
    judgement,
    features,
)


def _acts_of(module: Any) -> Iterable[type[Act]]:
    return (c for c in vars(module).values() if isinstance(c, type) and issubclass(c, Act) and c.act and c.__module__ == module.__name__)


#: Every act by its name, module by module.
ACTS: dict[str, type[Act]] = {c.act: c for module in _MODULES for c in _acts_of(module)}


def act_from_value(value: Any, path: str = "act") -> Act:
    """The act in a JSON object: its name under ``act``, its arguments beside it. Raises DocumentError with the path of what is wrong."""
    node = Node(value, path)
    name = node.get("act")
    kind = ACTS.get(name) if isinstance(name, str) else None
    if kind is None:
        raise node.fail("act", "must be one of " + ", ".join(ACTS))
    arguments = {}
    for field in dataclasses.fields(kind):
        if field.default is dataclasses.MISSING or node.given(field.name):
            arguments[field.name] = field.metadata["kind"].read(node, field.name)
    node.close()
    return kind(**arguments)


def acts_from_value(value: Any, path: str = "acts") -> tuple[Act, ...]:
    """The acts in a JSON list, at most MOST_ACTS. Raises DocumentError."""
    if not isinstance(value, list | tuple):
        raise DocumentError(path, "must be a list of acts", value)
    if len(value) > MOST_ACTS:
        raise DocumentError(path, f"must be at most {MOST_ACTS:,} acts", value)
    return tuple(act_from_value(item, f"{path}[{i}]") for i, item in enumerate(value))


def act_value(act: Act) -> dict[str, Any]:
    """The act as a JSON object, without arguments that have their default."""
    value: dict[str, Any] = {"act": act.act}
    for field in dataclasses.fields(act):
        given = getattr(act, field.name)
        if field.default is dataclasses.MISSING or given != field.default:
            value[field.name] = field.metadata["kind"].write(given)
    return value


def perform(scene: Scene, act: Act) -> Done:
    """The act done, and what came of it proven to be a valid document.

    Raises FieldError: its path is the argument at fault, or the place in the document that would no longer be valid.
    """
    done = unproven(scene, act)
    try:
        return replace(done, scene=scene_from_value(scene_value(done.scene)))
    except DocumentError as error:
        last = error.path.rsplit(".", 1)[-1]
        if any(last == field.name for field in dataclasses.fields(act)):
            raise FieldError(last, error.rule, error.got, show_got=error.show_got) from None
        raise


def unproven(scene: Scene, act: Act) -> Done:
    """The act done, for whoever proves what came of it by reading it back: it may be no valid document. Raises FieldError."""
    done = act.done(scene)
    return replace(done, scene=tidied(done.scene))


def perform_all(scene: Scene, acts: Sequence[Act], path: str = "acts") -> Scene:
    """All of them, one after the other, each proven; raises FieldError with the path of the one that cannot be done, ``acts[2].x``."""
    for i, act in enumerate(acts):
        try:
            scene = perform(scene, act).scene
        except DocumentError as error:  # what would come of it is no valid document
            raise DocumentError(f"{path}[{i}]", f"must lead to a valid document; {error}", show_got=False) from None
        except FieldError as error:
            raise error.at(f"{path}[{i}]") from None
    return scene


def tried(scene: Scene, acts: Iterable[Act]) -> Scene:
    """The scene after the acts, for whoever judges many and proves the one that is taken: it may be no valid document."""
    for act in acts:
        scene = unproven(scene, act).scene
    return scene


@cache
def schemas() -> dict[str, Any]:
    """``acts``: the JSON Schema (2020-12) of every act by its name; ``$defs`` and ``properties``: what they refer to."""
    published = json.loads(files("tideflat.core.formats").joinpath("scene.schema.json").read_text(encoding="utf-8"))
    found = {}
    for name, kind in ACTS.items():
        fields = dataclasses.fields(kind)
        found[name] = {
            "description": " ".join((kind.__doc__ or "").split()),
            "type": "object",
            "additionalProperties": False,
            "required": ["act", *(f.name for f in fields if f.default is dataclasses.MISSING)],
            "properties": {"act": {"const": name}, **{f.name: f.metadata["kind"].schema for f in fields}},
        }
    return {"$schema": published["$schema"], "acts": found, "$defs": published["$defs"], "properties": published["properties"]}
