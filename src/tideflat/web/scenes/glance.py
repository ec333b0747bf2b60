"""What a person has before them on the bench."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Glance:
    """What a person has before them: which set-up, whether changes are made in it alone, what is held, which tray is open, and their unit.
    ``several``: all that is in hand, where that is more than the one that is ``selected``."""

    setup: str = ""
    selected: str = ""
    several: tuple[str, ...] = ()
    tray: str = "things"
    crop: str = ""
    unit: str = "mm"
    only: bool = False
    may_change: bool = True
