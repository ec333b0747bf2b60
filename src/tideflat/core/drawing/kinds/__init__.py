"""How each kind of shape is drawn: a module a kind, or a few that are drawn alike. The registry finds every module's ``DRAWING``.

Only drawing stands here: nothing is judged or measured by what these make. A kind without a module is drawn as its plain solid.
"""

from __future__ import annotations

from importlib import import_module
from pkgutil import iter_modules

from ...shapes.shape import Shape
from .drawing import Drawing
from .plain import PLAIN


def _found() -> dict[type[Shape], Drawing]:
    modules = [import_module(f"{__name__}.{m.name}") for m in iter_modules(__path__)]
    return {shape: module.DRAWING for module in modules if hasattr(module, "DRAWING") for shape in module.DRAWING.shapes}


_DRAWINGS = _found()


def drawing_of(shape: Shape) -> Drawing:
    """How a shape is drawn."""
    return _DRAWINGS.get(type(shape), PLAIN)
