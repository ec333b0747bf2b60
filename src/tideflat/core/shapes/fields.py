"""The three kinds of field that a shape is described by. Readers, tables, forms and the JSON Schema are made from them."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Length:
    """A size in mm. or_nothing: it may be 0."""

    or_nothing: bool = False


@dataclass(frozen=True)
class Whole:
    """A whole number from ``low`` to ``high``. in_a_table: what an empty cell of a table of props stands for; counted: what it counts."""

    low: int
    high: int
    in_a_table: int
    counted: str = ""


@dataclass(frozen=True)
class Corners:
    """Corners [x, y] in mm of one simple polygon, either winding."""


Field = Length | Whole | Corners
_KEY = "field"


def length(*, or_nothing: bool = False) -> Any:
    return dataclasses.field(metadata={_KEY: Length(or_nothing)})


def whole(low: int, high: int, *, in_a_table: int, counted: str = "", default: int | None = None) -> Any:
    metadata = {_KEY: Whole(low, high, in_a_table, counted)}
    return dataclasses.field(metadata=metadata) if default is None else dataclasses.field(default=default, metadata=metadata)


def corners() -> Any:
    return dataclasses.field(metadata={_KEY: Corners()})


def fields_of(shape: type) -> dict[str, Field]:
    """Name and kind of each field, in the order in which they are written."""
    return {f.name: f.metadata[_KEY] for f in dataclasses.fields(shape)}


def default_of(shape: type, name: str) -> int | None:
    """What the field is when it is left out; None when it must be given."""
    default = next(f for f in dataclasses.fields(shape) if f.name == name).default
    return default if isinstance(default, int) else None
