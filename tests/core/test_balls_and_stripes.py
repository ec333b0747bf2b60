"""A ball is as wide as it is high; a striped cloth is as strange to its ground as its stripes; a black slab is as black to its end."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely

from tests.core.test_more_of_it import _solid, _told_look
from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_things_seen import RED, block, drawn, found_from, seen, sides_of, standing
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.measure import _doubts_of_camera, _is_ball_so_high
from tideflat.core.vision.solids_chosen import chosen


@pytest.mark.parametrize(
    ("kind", "wide", "height", "is_so"),
    [
        ("ball", 60.9, 60.0, True),
        ("ball", 61.1, 60.0, False),
        ("ball", 58.9, 60.0, False),
        ("ball", 201.9, 200.0, True),
        ("ball", 202.1, 200.0, False),
        ("disc", 60.0, 60.0, False),
    ],
)
def test_a_ball_is_as_wide_as_it_is_high(kind: str, wide: float, height: float, is_so: bool):
    solid = replace(_solid(block(0, 0, wide, wide)), kind=kind, values=np.array([0.0, 0.0, wide]))
    assert _is_ball_so_high(solid, height) == is_so
    assert not _is_ball_so_high(None, height)


def test_of_what_has_its_size_told_the_distance_is_no_doubt_but_the_sheet_is():
    found = found_from()
    guessed = replace(found, pose=replace(found.pose, focal_from="usual", tilt_deg=0.0))
    noted = replace(found, pose=replace(found.pose, focal_from="camera", tilt_deg=0.0))
    for level, height in ((guessed, 60.0), (noted, 200.0)):
        assert len(_doubts_of_camera(level, height, by_hand=False)) == 1
        assert not _doubts_of_camera(level, height, by_hand=False, is_size_told=True)
    ill = replace(guessed, pose=replace(guessed.pose, skew=0.04))
    assert any("corners" in why for why in _doubts_of_camera(ill, 60.0, by_hand=False, is_size_told=True))


# -- stripes --------------------------------------------------------------------------------------------------------------------------------


def _striped(pale: tuple[int, int, int], shadow: tuple[int, int, int]) -> list:
    """A cloth nearly of the paper's colour, with a tinted shadow along its right side."""
    cloth = block(0, 0, 110, 100)
    stripes = [(shapely.box(-55, y, 55, y + 12), (130, 62, 44)) for y in (-44, -14, 16)]
    return [(shapely.box(50, -54, 58.5, 47), shadow), *standing(cloth, 3.0, pale, (150, 140, 124)), *stripes]


@pytest.mark.parametrize("shadow", [(150, 136, 142), (172, 156, 160)])
def test_the_shadow_of_a_striped_cloth_as_pale_as_the_paper_is_no_part_of_it(shadow: tuple[int, int, int]):
    (thing, *_) = seen(_striped((236, 226, 212), shadow), 3.0)
    assert thing.doubts or sides_of(thing) == pytest.approx([100, 110], abs=1.5)


@pytest.mark.parametrize(("stripes", "is_shade"), [(0.3, True), (0.1, False)])
def test_of_a_striped_thing_the_stripes_tell_how_strange_its_shadow_may_be(stripes: float, is_shade: bool):
    """stripes: share of it that is strange; what is beside it leaves two thirds of the light, and is a little strange."""
    whole, thing = shapely.box(-50, -40, 56, 40), shapely.box(-50, -40, 50, 40)
    striped = shapely.box(-50, -40, 50, -40 + 80 * stripes)
    look = _told_look((whole, 0.66, 0.2), (thing, 0.9, 0.03), (striped, 0.4, 1.2))
    solids = [replace(_solid(whole), seen=0.96), replace(_solid(thing), seen=0.95)]
    one, _ = chosen(solids, look, edge_picture(flat_of(drawn((whole, RED)))), 20.0)
    assert one is not None and (one.silhouette.bounds[2] == pytest.approx(50, abs=0.1)) == is_shade


# -- black ----------------------------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("left", "is_all"), [(0.05, True), (0.06, True), (0.07, False)])
def test_what_is_as_black_as_the_rest_of_a_slab_and_not_told_is_the_slabs(left: float, is_all: bool):
    """Its last 2 mm, which its sides go on along: a shorter one is seen as well."""
    slab, shorter = shapely.box(-30, -20, 30, 20), shapely.box(-30, -20, 27, 20)
    solids = [replace(_solid(slab), seen=0.98), replace(_solid(shorter), seen=0.985)]
    look = _told_look((slab, left, 0.04), (shorter, 0.05, 0.06))
    one, _ = chosen(solids, look, edge_picture(flat_of(drawn((slab, (30, 34, 34))))), 20.0)
    assert one is not None and (one.silhouette.bounds[2] == pytest.approx(30, abs=0.1)) == is_all
