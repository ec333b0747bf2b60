"""What a station is: one decision of the work, how it stands, and the tray of tools that goes with it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from tideflat.core.evaluate import Picture

from ..glance import Glance
from ..models import Scene


@dataclass(frozen=True)
class Look:
    """Who looks at what: the scene's row, the set-up that is shown, the glance, and what else was asked (texts by name)."""

    row: Scene
    picture: Picture
    glance: Glance
    asked: Mapping[str, str]


@dataclass(frozen=True)
class Reading:
    """How a decision stands, in one line."""

    closed: bool
    words: str


@dataclass(frozen=True)
class Station:
    """tray: its name in addresses. template: of the tray; context: what that takes, values and lists, never a query. rank: its place in
    working order. name and reading (row_reading: of what is kept beside the document): as the line of decisions has it; without, the tray
    belongs to no decision. verbs: what it may post.
    """

    tray: str
    template: str
    context: Callable[[Look], dict[str, Any]]
    rank: int = 1000
    name: str = ""
    reading: Callable[[Picture], Reading] | None = None
    row_reading: Callable[[Scene], Reading] | None = None
    verbs: tuple[str, ...] = ()
