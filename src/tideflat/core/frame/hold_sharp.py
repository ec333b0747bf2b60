"""What holds some things sharp: an aperture and a focus point, a number of focus steps, or the tilt of a tilt lens.

How soft a point is goes with how far the reciprocal of its distance is from that of the plane of focus; a lens tilted by t toward a side
takes from it a share of where the point lies aside (the hinge rule): ``1/Z - (a x + b y)``, x and y the point's slopes off the axis and
``hypot(a, b) = sin(t) / f``. The best tilt is therefore a linear programme: the least range of that over all points.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..camera.lens import Focused, focused
from ..camera.optics import aperture_for_depth, balanced_mm, best_aperture, last_aperture, sharpness
from ..camera.silhouette import sharp_points
from ..camera.view import View, view_of
from ..delivered import Stack, confusion_in, stack_of
from ..errors import FieldError, OpticsError
from ..evaluate import Picture
from ..facts.optics import THIRD_STOPS
from ..model import Camera
from ..tolerances import SAME_NUMBER, SHARP_MM, STOP_SLACK

#: Tilt lenses lean so far, degrees (common practice, no source).
MOST_TILT_DEG = 8.0


@dataclass(frozen=True, slots=True)
class AtOnce:
    """One frame: the widest engraved stop at which all is sharp, focused through ``point``."""

    aperture: float
    point: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Tilted:
    """A lens tilted by ``tilt`` degrees toward ``toward`` (0 right, 90 up, from behind the camera), focused through ``point``; its hinge
    lies ``hinge`` mm beside it. aperture: the widest engraved stop at which all is sharp then."""

    tilt: float
    toward: float
    hinge: float
    aperture: float
    point: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Held:
    """near, far: between which distances (mm before the principal point) the things lie. crop: the deliverable that asks for most.
    at_once, steps, tilted: None where there is none. reason: why one frame at the lens's stops does not hold them; None where it does."""

    near: float
    far: float
    crop: str | None
    at_once: AtOnce | None
    steps: Stack | None
    tilted: Tilted | None
    reason: str | None


def hold_sharp(picture: Picture, ids: Sequence[str], aperture: float | None = None) -> Held:
    """How the things are held sharp in the deliverable that asks for most. aperture: the stop that is wished for; the widest that does
    without.

    Raises FieldError for things that are not in the picture, or not in front of the lens.
    """
    seen = [picture.silhouettes[i] for i in dict.fromkeys(ids) if i in picture.silhouettes]
    if len(seen) < len(set(ids)) or not seen:
        raise FieldError("ids", "must be things in the picture, before the lens", list(ids))
    crop, window = min(picture.windows, key=lambda w: confusion_in(picture, w[1]))
    confusion, straight = confusion_in(picture, window), _untilted(picture)
    behind = straight.lens.pupil_behind
    near, far = min(s.depth[0] for s in seen) - behind, max(s.depth[1] for s in seen) - behind
    camera = picture.setup.camera
    points = np.concatenate([sharp_points(s.body, straight) for s in seen])
    try:
        tilted = tilted_for(picture, points, confusion)
    except OpticsError:
        tilted = None
    try:
        lens = _lens_at(camera, straight, near, far)
    except OpticsError:
        return Held(near, far, crop, None, None, tilted, "the lens focuses so near by no setting; it must stand further off")
    at_once = _at_once(camera, straight, lens, near, far, confusion, aperture)
    if at_once is not None:
        return Held(near, far, crop, at_once, None, tilted, None)
    steps, reason = _steps(camera, lens, near, far, confusion, aperture), _reason(camera, lens, near, far, confusion, aperture)
    return Held(near, far, crop, None, steps, tilted, reason)


def _untilted(picture: Picture) -> View:
    camera = picture.setup.camera
    return picture.view if camera.lens.tilt == 0 else view_of(replace(camera, lens=replace(camera.lens, tilt=0.0)))


def _lens_at(camera: Camera, view: View, near: float, far: float) -> Focused:
    """The lens focused where both ends are equally soft."""
    lens = view.lens
    for _ in range(3):  # where the pupil lies depends a little on the focus
        lens = focused(replace(camera.lens, tilt=0.0), camera.sensor, balanced_mm(lens, near, far))
    return lens


def _engraved(camera: Camera) -> list[float]:
    """The stops of the lens, its own ends among them."""
    lens = camera.lens
    within = {n for n in THIRD_STOPS if lens.max_aperture <= n <= lens.min_aperture}
    return sorted(within | {lens.max_aperture, lens.min_aperture})


def _at_once(camera: Camera, view: View, lens: Focused, near: float, far: float, confusion: float, wished: float | None) -> AtOnce | None:
    widest = aperture_for_depth(lens, near, far, confusion)
    if widest is None:
        return None
    last = last_aperture(lens, confusion)
    for n in [wished] if wished is not None else _engraved(camera):
        zone = sharpness(lens, n, confusion) if n < last else None
        if zone is not None and zone.near is not None and widest <= n * STOP_SLACK and max(zone.missed(near, far)) <= SHARP_MM:
            return AtOnce(n, _on_axis(view, lens.distance))
    return None


def _on_axis(view: View, distance: float) -> tuple[float, float, float]:
    x, y, z = (round(float(v), 2) for v in view.principal_point + distance * view.forward)
    return x, y, z


def _steps(camera: Camera, lens: Focused, near: float, far: float, confusion: float, wished: float | None) -> Stack | None:
    """At the stop wished for, or the smallest at which diffraction takes no more than half of what passes for sharp."""
    able = [n for n in _engraved(camera) if n <= last_aperture(lens, confusion) / 2]
    aperture = wished if wished is not None else able[-1] if able else None
    if aperture is None:
        return None
    return stack_of(lens, aperture, near, far, confusion)


def tilted_for(picture: Picture, points: np.ndarray, confusion: float) -> Tilted | None:
    """The tilt that lays what is sharp along points (n, 3) best; None where it gives nothing, or no stop does."""
    camera, view = picture.setup.camera, _untilted(picture)
    from_lens = points - view.principal_point
    depths = from_lens @ view.forward
    if (depths <= 0).any():
        return None
    f = view.lens.focal_length
    slopes = np.stack([from_lens @ view.right, from_lens @ view.up], axis=1) / depths[:, None]
    a, b, middle, half = _least_range(1 / depths, slopes, math.sin(math.radians(MOST_TILT_DEG)) / f)
    leaned = math.hypot(a, b) * f
    if leaned < SAME_NUMBER or half >= 0.9 * float(np.ptp(1 / depths)) / 2:
        return None
    tilt, toward = math.degrees(math.asin(leaned)), math.degrees(math.atan2(b, a)) % 360
    lens = focused(replace(camera.lens, tilt=tilt, tilt_toward=toward), camera.sensor, 1 / middle)
    needed = _stop_for(lens, half, confusion)
    stop = None if needed is None else next((n for n in _engraved(camera) if n * STOP_SLACK >= needed), None)
    if stop is None:
        return None
    return Tilted(round(tilt, 2), round(toward, 1), lens.focal_length / leaned, stop, _on_axis(view, 1 / middle))


def _least_range(depths: np.ndarray, slopes: np.ndarray, most: float) -> tuple[float, float, float, float]:
    """(a, b, middle, half): the least ``half`` with ``|1/Z - a x - b y - middle| <= half`` for every point, hypot(a, b) at most ``most``."""
    from scipy.optimize import linprog

    scale = 1 / float(depths.mean())  # so that all numbers are about 1
    d = depths * scale
    ones = np.ones(len(d))
    rows = np.concatenate([np.column_stack([-slopes, -ones, -ones]), np.column_stack([slopes, ones, -ones])])
    bound = most * scale
    ring = np.linspace(0, 2 * np.pi, 32, endpoint=False)  # the circle of tilts, by the polygon inside it
    inside = np.column_stack([np.cos(ring), np.sin(ring), np.zeros(32), np.zeros(32)])
    found = linprog(
        [0, 0, 0, 1],
        A_ub=np.concatenate([rows, inside]),
        b_ub=np.concatenate([-d, d, np.full(32, bound * math.cos(math.pi / 32))]),
        bounds=[(None, None), (None, None), (None, None), (0, None)],
    )
    a, b, middle, half = found.x / scale
    return float(a), float(b), float(middle), float(half)


def _stop_for(lens: Focused, half: float, confusion: float) -> float | None:
    """The widest stop at which a reciprocal distance ``half`` off the plane of focus is sharp, diffraction in it; None where none is."""
    defocus = lens.focal_length * lens.sensor_distance * half
    airy = confusion / last_aperture(lens, confusion)
    under_root = confusion**4 - 4 * (defocus * airy) ** 2
    return None if under_root < 0 else defocus * math.sqrt(2 / (confusion**2 + math.sqrt(under_root)))


def _reason(camera: Camera, lens: Focused, near: float, far: float, confusion: float, wished: float | None) -> str:
    depth = far - near
    if wished is not None:
        zone = sharpness(lens, wished, confusion)
        if zone.near is None:
            return f"at f/{wished:g} diffraction alone blurs more than passes for sharp"
        holds = "all the way" if zone.far is None else f"{zone.far - zone.near:.0f} mm"
        return f"at f/{wished:g} {holds} are sharp, and the things are {depth:.0f} mm deep"
    best = best_aperture(lens, near, far)
    if camera.lens.max_aperture == camera.lens.min_aperture:
        return f"the lens has f/{camera.lens.max_aperture:g} only, and the things are {depth:.0f} mm deep"
    if aperture_for_depth(lens, near, far, confusion) is None:
        return f"no stop holds {depth:.0f} mm: past f/{best:.0f} diffraction takes back what depth gives"
    return f"{depth:.0f} mm want a smaller stop than the lens's f/{camera.lens.min_aperture:g}"
