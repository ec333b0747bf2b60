"""The shapes a prop can have, exactly as the scene document names them: a module a kind, found by the registry below.

A kind says here what it is (its fields, how they go together) and its geometry at rest (extent, solid, mesh, what it stands on and can
carry). How it is drawn stands in core/drawing/drawn/, what people call it in web/bridge/shape_words.py; nothing here knows a placement,
a camera, or a pixel.
"""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules

from .shape import Shape


def _found() -> dict[str, type[Shape]]:
    modules = [import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__)]
    kinds = [
        value
        for module in modules
        for value in vars(module).values()
        if isinstance(value, type) and issubclass(value, Shape) and value is not Shape and value.__module__ == module.__name__
    ]
    return {cls.kind: cls for cls in sorted(kinds, key=lambda cls: cls.kind)}


#: Every kind of shape by its name.
SHAPES: dict[str, type[Shape]] = _found()
