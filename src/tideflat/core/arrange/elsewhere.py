"""Other set-ups that share the table: what is arranged for one of them is seen by all."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from ..camera.crops import FULL_FRAME, Rect
from ..evaluate import Picture
from ..findings.registry import findings

if TYPE_CHECKING:
    from .problem import Unit

#: A camera's matrix (3, 4), and the frame's width over its height.
Sight = tuple[np.ndarray, float]


@dataclass(frozen=True, eq=False)
class Elsewhere:
    """Another set-up as it stands now. shown: leads of what it shows where the shared table has it. had: what its rules find now, as (code,
    things, crop)."""

    picture: Picture
    shown: frozenset[str]
    had: frozenset[tuple[object, ...]]

    @cached_property
    def sight(self) -> Sight:
        return self.picture.view.matrix, self.picture.view.aspect

    @cached_property
    def windows(self) -> tuple[Rect, ...]:
        return tuple(c.box for c in self.picture.crops) or (FULL_FRAME,)

    @cached_property
    def copies(self) -> tuple[Rect, ...]:
        return tuple(c.copy_box for c in self.picture.crops if c.copy_box is not None)


def set_ups_beside(picture: Picture, units: tuple[Unit, ...]) -> tuple[Elsewhere, ...]:
    """The other set-ups that show any of the units where the shared table has them. A thing that the set-up at hand has elsewhere for
    itself is moved in it alone."""
    found = []
    for setup in picture.whole.setups:
        if setup.name == picture.setup.name:
            continue
        other = picture.changed(picture.whole, setup.name)
        own = {u.lead for u in units if {"x", "y"} & set(picture.setup.differing(u.lead))}
        shown = frozenset(
            u.lead for u in units if u.lead in other.bodies and u.lead not in own and not {"x", "y"} & set(setup.differing(u.lead))
        )
        if shown:
            found.append(Elsewhere(other, shown, frozenset(f.key for f in findings(other) for f in f.each)))
    return tuple(found)
