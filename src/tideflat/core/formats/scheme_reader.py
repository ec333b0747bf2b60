"""Read a scheme that things are laid by: its kind, and its own keys, each of which may be left to the program."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..errors import DocumentError
from ..model import SCHEME_KEYS, SCHEMES, SIDES, Scheme
from .reading import Node, number, numbers, whole

#: Columns, rows and planes at the most.
MOST_LINES = 24
_Read = Callable[[Any, str], Any]


def _one_of(*choices: str) -> _Read:
    def read(value: Any, path: str) -> str:
        """One of them. Raises DocumentError."""
        if not isinstance(value, str) or value not in choices:
            raise DocumentError(path, "must be one of " + ", ".join(choices), value)
        return value

    return read


def _place(value: Any, path: str) -> tuple[float, ...]:
    return numbers(value, path, 2, 0.0, 1.0)


def _places(value: Any, path: str) -> tuple[tuple[float, ...], ...]:
    if not isinstance(value, list | tuple) or len(value) != 3:
        raise DocumentError(path, "must be a list of 3 places", value)
    return tuple(_place(item, f"{path}[{i}]") for i, item in enumerate(value))


def _flag(value: Any, path: str) -> bool:
    if not isinstance(value, bool):
        raise DocumentError(path, "must be true or false", value)
    return value


def _share(low: float, high: float) -> _Read:
    return lambda value, path: number(value, path, low, high)


def _count(value: Any, path: str) -> int:
    return whole(value, path, 1, MOST_LINES)


_READ: dict[tuple[str, str], _Read] = {
    ("crescent", "opens"): _one_of(*SIDES),
    ("crescent", "centre"): _place,
    ("crescent", "radius"): _share(0.01, 1.0),
    ("diagonal", "from"): _one_of("top-left", "top-right"),
    ("depth-diagonal", "from"): _one_of("far-left", "far-right"),
    ("centre", "at"): _place,
    ("centre", "radius"): _share(0.01, 1.0),
    ("off-centre", "at"): _place,
    ("s-curve", "mirrored"): _flag,
    ("triangle", "points"): _places,
    ("arc", "v"): _share(0.0, 1.0),
    ("arc", "bow"): _share(-1.0, 1.0),
    ("border", "margin"): _share(0.0, 0.5),
    ("squared", "columns"): _count,
    ("squared", "rows"): _count,
    ("stagger", "planes"): _count,
}


def scheme_of(node: Node) -> Scheme:
    """A scheme. ``opens`` was once a key of every kind: what it says there is read and means nothing. Raises DocumentError."""
    kind = node.choice("kind", SCHEMES)
    given = {key: _READ[kind, key](node.get(key), node.where(key)) for key in SCHEME_KEYS[kind] if node.has(key)}
    if "opens" not in SCHEME_KEYS[kind] and node.has("opens"):
        node.choice("opens", SIDES)
    node.close()
    return Scheme(kind, tuple(given.items()))
