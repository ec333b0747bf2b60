"""What a person has before them on the bench."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Glance:
    """What a person has before them: which set-up, whether changes are made in it alone, what is held, which tray is open, and their unit."""

    setup: str = ""
    selected: str = ""
    tray: str = "things"
    crop: str = ""
    unit: str = "mm"
    only: bool = False
    may_change: bool = True
