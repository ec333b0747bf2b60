"""What it costs to go from one set-up to the next: the camera carried and turned, a lens changed, things moved."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..evaluate import Picture
from ..model import Setup
from ..tolerances import ROUNDING


@dataclass(frozen=True, slots=True)
class Between:
    """From one set-up to another. carried: mm from lens to lens; turned: degrees between both ways of looking, the roll in it. lens:
    (from, to) focal lengths, None where it stays; moved: how many things stand otherwise, furthest: the longest way of one, mm; swapped:
    names of what takes another's place; come, gone: how many things come in or go out of the picture."""

    carried: float
    turned: float
    lens: tuple[float, float] | None
    is_body_changed: bool
    aperture: tuple[float, float] | None
    moved: int
    furthest: float
    swapped: tuple[str, ...]
    come: int
    gone: int
    is_surface_changed: bool
    is_backdrop_changed: bool

    @property
    def is_loop(self) -> bool:
        """Whether only things in the same places are others: the camera and the rest stay."""
        stays = self.carried < ROUNDING and self.turned < ROUNDING and self.lens is None and not self.is_body_changed
        return bool(stays and self.swapped and not (self.moved or self.is_surface_changed or self.is_backdrop_changed))


def between(first: Picture, second: Picture) -> Between:
    """What has to be done to the first to get the second."""
    a, b = first.setup.camera, second.setup.camera
    both = [i for i in first.props if i in second.props]
    ways = {i: _way(first, second, i) for i in both}
    moved = [way for way in ways.values() if way is not None]
    return Between(
        float(np.linalg.norm(second.view.principal_point - first.view.principal_point)),
        _turned(first, second),
        None if a.lens == b.lens else (a.lens.focal_length, b.lens.focal_length),
        a.sensor != b.sensor,
        None if a.aperture == b.aperture else (a.aperture, b.aperture),
        len(moved),
        max(moved, default=0.0),
        tuple(second.props[i].name for i in both if first.props[i] != second.props[i]),
        sum(i not in first.props for i in second.props),
        sum(i not in second.props for i in first.props),
        first.scene.surface != second.scene.surface,
        first.scene.backdrop != second.scene.backdrop,
    )


def _turned(first: Picture, second: Picture) -> float:
    """Angle (degrees) of the one turn that takes the first camera's axes to the second's."""
    one, other = (np.stack([v.right, v.up, v.forward]) for v in (first.view, second.view))
    cosine = (float(np.trace(one.T @ other)) - 1) / 2
    return math.degrees(math.acos(min(1.0, max(-1.0, cosine))))


def _way(first: Picture, second: Picture, placement_id: str) -> float | None:
    """How far (mm) a thing stands from where it stood; None where it stands the same, turn and lean in it."""
    p, q = first.scene.placement(placement_id), second.scene.placement(placement_id)
    keys = ("x", "y", "z", "turn", "lean", "lean_toward", "on", "held_by")
    if all(getattr(p, key) == getattr(q, key) for key in keys):
        return None
    return math.hypot(q.x - p.x, q.y - p.y, q.z - p.z)


def loops(pictures: list[Picture]) -> tuple[tuple[str, ...], ...]:
    """Runs of set-ups, by name, in which nothing but things in the same places changes: each can be played."""
    found: list[list[Picture]] = []
    for picture in pictures:
        run = next((r for r in found if between(r[0], picture).is_loop and _of(r[0].setup) == _of(picture.setup)), None)
        if run is None:
            found.append([picture])
        else:
            run.append(picture)
    return tuple(tuple(p.setup.name for p in run) for run in found if len(run) > 1)


def _of(setup: Setup) -> tuple[object, ...]:
    return setup.camera, setup.hidden
