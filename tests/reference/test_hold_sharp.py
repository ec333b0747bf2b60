"""What holds things sharp: stop, focus steps and tilt, by hand and by the rays of a thin lens.

Formulas: S. F. Ray, *Applied Photographic Optics* (near and far limits); H. M. Merklinger, *Focusing the View Camera* (hinge rule); the
number of steps by the scene document's formula, worked by hand.
"""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture
from tideflat.core.camera.optics import airy_of, blur_mm, combined_blur_mm
from tideflat.core.camera.silhouette import sharp_points
from tideflat.core.delivered import confusion_in
from tideflat.core.errors import FieldError
from tideflat.core.facts.optics import THIRD_STOPS
from tideflat.core.frame.hold_sharp import hold_sharp


def two(elevation=0, back=300.0, height=80.0, **camera):
    """Two boxes, the second ``back`` mm behind the first, and the camera 900 mm before the first."""
    value = bare_value(elevation=elevation, aim=[450, 100, 60], distance=900, **camera)
    value["props"] = [{"id": "box", "name": "box", "shape": {"kind": "box", "width": 60, "depth": 20, "height": height}}]
    value["placements"] = [{"id": "p1", "prop": "box", "x": 430, "y": 110, "role": "hero"}, {"id": "p2", "prop": "box", "x": 470, "y": 110 + back}]
    return value


def worst_blur(now, camera, ids):
    """By defocus and diffraction, of every corner, over what passes for sharp."""
    there = now.through(camera)
    points = np.concatenate([sharp_points(there.bodies[i], there.view) for i in ids])
    blurs = [combined_blur_mm(blur_mm(there.view.lens, camera.aperture, float(d)), airy_of(there.view.lens, camera.aperture)) for d in there.view.sharp_depths(points)]
    return max(blurs) / confusion_in(there)


@pytest.mark.parametrize("lens", [{"focal_length": 50, "min_focus": 450, "min_aperture": 32}, {"focal_length": 35, "min_focus": 300, "pupil_ratio": 0.7}, {"focal_length": 60, "min_focus": 300, "max_magnification": 0.4, "min_aperture": 32}])
@pytest.mark.parametrize("back", [40.0, 110.0])
def test_the_widest_stop_that_holds_them_and_no_wider_does(lens, back):
    now = picture(two(back=back, lens=lens))
    held = hold_sharp(now, ("p1", "p2"))
    assert held.far - held.near == pytest.approx(back + 20)
    assert held.at_once is not None and held.reason is None
    there = dataclasses.replace(now.setup.camera, aperture=held.at_once.aperture, focus=held.at_once.point)
    assert worst_blur(now, there, ("p1", "p2")) <= 1.001
    wider = [n for n in THIRD_STOPS if now.setup.camera.lens.max_aperture <= n < held.at_once.aperture]
    if wider:
        assert worst_blur(now, dataclasses.replace(there, aperture=wider[-1]), ("p1", "p2")) > 1


def test_by_hand_the_stop_for_a_depth_without_diffraction():
    """f 50, near 890, far 1210 - 20 ... : the focus is the harmonic mean, N c = f^2 (far - near) / (near + far - 2 f ...) to a third of a stop."""
    now = picture(two(back=150, lens={"focal_length": 50, "min_focus": 450, "min_aperture": 32}))
    held = hold_sharp(now, ("p1", "p2"))
    near, far = 900.0, 1070.0
    assert (held.near, held.far) == pytest.approx((near, far))
    focus = 2 * near * far / (near + far)
    blur_at_one = 50 * (50 / (focus - 50)) * (focus - near) / near
    exact = blur_at_one / 0.03001
    assert exact < held.at_once.aperture < exact * 1.35
    assert held.at_once.point[1] == pytest.approx(100 - 900 + focus, abs=0.01)


def test_everything_sharp_at_a_wide_stop_says_why_and_how_many_steps():
    now = picture(two(lens={"focal_length": 50, "min_focus": 450}))
    held = hold_sharp(now, ("p1", "p2"), aperture=1.8)
    assert held.at_once is None and "at f/1.8" in held.reason and "320 mm deep" in held.reason
    one = float(held.reason.split("at f/1.8 ")[1].split(" mm")[0])
    steps = held.steps
    assert steps.aperture == 1.8
    # ceil((depth - o L) / (L (1 - o))), o = a quarter: by hand from the printed depth of one frame, which is rounded
    counts = {int(np.ceil((320 - 0.25 * L) / (L * 0.75))) for L in np.linspace(one - 0.5, one + 0.5, 21)}
    assert len(steps.distances) in counts
    assert steps.distances[0] == pytest.approx(900 + one / 2, abs=0.6) and steps.distances[-1] == pytest.approx(1220 - one / 2, abs=0.6)
    gaps = np.diff(steps.distances)
    assert gaps == pytest.approx(gaps[0], abs=0.02) and gaps[0] <= one * 0.75 + 0.5


def test_no_stop_holds_what_is_too_deep_and_close():
    lens = {"focal_length": 100, "min_focus": 300, "max_magnification": 1, "min_aperture": 32}
    value = two(back=200, lens=lens)
    value["setups"][0]["camera"]["distance"] = 300
    held = hold_sharp(picture(value), ("p1", "p2"))
    assert held.at_once is None and "diffraction" in held.reason
    assert held.steps is not None and len(held.steps.distances) > 5


def test_tilt_lays_what_is_sharp_along_the_table():
    """Flat things along the table, looked at from 20 degrees: the plane of the table goes through the hinge at height / cos(e) below the lens."""
    lens = {"focal_length": 35, "min_focus": 300, "max_aperture": 2.8}
    value = two(elevation=20, back=500, height=0.2, lens=lens)
    value["setups"][0]["camera"].update(aim=[450, 300, 0], distance=900)
    now = picture(value)
    held = hold_sharp(now, ("p1", "p2"))
    found = held.tilted
    height = 900 * np.sin(np.radians(20))
    by_hand = np.degrees(np.arcsin(35 * np.cos(np.radians(20)) / height))
    assert found.tilt == pytest.approx(by_hand, rel=0.02)
    assert found.toward == pytest.approx(270, abs=2)
    assert found.hinge == pytest.approx(height / np.cos(np.radians(20)), rel=0.02)
    assert found.aperture == 2.8  # nearly in one plane: the widest stop of the lens
    tilted = dataclasses.replace(now.setup.camera, lens=dataclasses.replace(now.setup.camera.lens, tilt=found.tilt, tilt_toward=found.toward), focus=found.point, aperture=found.aperture)
    assert worst_blur(now, tilted, ("p1", "p2")) <= 1.02
    assert worst_blur(now, dataclasses.replace(now.setup.camera, aperture=2.8), ("p1", "p2")) > 2


def test_the_tilt_is_at_least_as_good_as_a_fine_search():
    """Every tilt of a grid of half degrees and ten degrees of direction, each with its own best plane of focus."""
    value = two(elevation=30, back=350, height=60, lens={"focal_length": 45, "min_focus": 300})
    value["placements"][1]["x"] = 650
    now = picture(value)
    points = np.concatenate([sharp_points(now.bodies[i], now.view) for i in ("p1", "p2")])
    off = points - now.view.principal_point
    depth = off @ now.view.forward
    slopes = np.stack([off @ now.view.right, off @ now.view.up], axis=1) / depth[:, None]
    f = now.view.lens.focal_length

    def spread(tilt, toward):
        lean = np.sin(np.radians(tilt)) / f * np.array([np.cos(np.radians(toward)), np.sin(np.radians(toward))])
        return float(np.ptp(1 / depth - slopes @ lean))

    best = min(spread(t, w) for t in np.arange(0, 8.01, 0.5) for w in range(0, 360, 10))
    found = hold_sharp(now, ("p1", "p2")).tilted
    assert found.tilt <= 8.01
    assert spread(found.tilt, found.toward) <= best * 1.005


def test_a_tilt_that_gives_nothing_is_not_told():
    """Two upright things side by side, at one distance: there is nothing to lay along."""
    value = two(back=0)
    assert hold_sharp(picture(value), ("p1", "p2")).tilted is None


@pytest.mark.parametrize("ids", [(), ("nobody",), ("p1", "nobody")])
def test_only_what_is_in_the_picture_can_be_held_sharp(ids):
    with pytest.raises(FieldError, match="ids"):
        hold_sharp(picture(two()), ids)
