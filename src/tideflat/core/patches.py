"""A named place on a thing as a flat patch: where it is on the table, and which of them must be seen."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from .evaluate import Picture
from .model import Feature, MustShow, Prop
from .remember import counted
from .solids.body import Body
from .tolerances import SAME_NUMBER


@dataclass(frozen=True, eq=False, slots=True)
class Patch:
    """A feature where it is: corners (4, 3) in mm, clockwise from its top left as one looks at it, and the way it faces (3,), unit
    length."""

    corners: np.ndarray
    facing: np.ndarray

    @property
    def centre(self) -> np.ndarray:
        return np.asarray((self.corners[0] + self.corners[2]) / 2)


def feature_of(prop: Prop, feature_id: str) -> Feature | None:
    return next((f for f in prop.features if f.id == feature_id), None)


def asked_for(picture: Picture) -> tuple[tuple[MustShow, Feature], ...]:
    """What must be seen in this set-up: of things that are in it, whose prop here has such a feature."""
    found = []
    for item in picture.scene.brief.must_show:
        if isinstance(item, MustShow) and item.placement in picture.props:
            feature = feature_of(picture.props[item.placement], item.feature)
            if feature is not None:
                found.append((item, feature))
    return tuple(found)


def axes_of(facing: Iterable[float]) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(across, up, facing), unit vectors (3,): across is level, along x where it faces straight up or down; up is square to both."""
    x, y, z = (float(v) for v in facing)
    size = max(math.sqrt(x * x + y * y + z * z), SAME_NUMBER)
    x, y, z = x / size, y / size, z / size
    level = math.hypot(x, y)
    across = (-y / level, x / level, 0.0) if level > SAME_NUMBER**0.5 else (1.0, 0.0, 0.0)
    a, b, _ = across
    return np.array(across), np.array([-z * b, z * a, x * b - y * a]), np.array([x, y, z])


@counted(256)
def patch_of(body: Body, feature: Feature) -> Patch:
    """Where a feature of a thing is: its width is level (along x where it faces straight up or down), its height square to that."""
    across, up, facing = axes_of(feature.facing)
    w, h = across * (feature.width / 2), up * (feature.height / 2)
    corners = np.array(feature.at) + np.array([h - w, w + h, w - h, -w - h])
    return Patch(body.placed_point(corners), body.turned @ facing)
