"""How little of a solid's edges may be seen for it to be gone on with: on both sides of each limit, in drawn pictures."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from tests.core.test_things_seen import BLUE, BOX, RED, block, disc, drawn, found_from, thrown
from tideflat.core.vision.edge_support import edge_picture
from tideflat.core.vision.rectified import flatten
from tideflat.core.vision.solid_edges import SolidSeen
from tideflat.core.vision.solid_fits import Start, fits_to_edges

WIDE, DEEP, HIGH = 90.0, 60.0, 40.0


def fitted(start: Start, height: float, *shapes: tuple[shapely.Polygon, tuple[int, int, int]]) -> SolidSeen | None:
    found = found_from()
    picture = edge_picture(flatten(drawn(*shapes), found.pose.plane_to_pixel, BOX, 2.0))
    return fits_to_edges(picture, [start], found.pose, height)[0]


def left_part(share: float) -> shapely.Polygon:
    """Of a rectangle's left end so much that this share of the whole outline is its own."""
    long = (share * 2 * (WIDE + DEEP) - DEEP) / 2
    return shapely.box(-WIDE / 2, -DEEP / 2, long - WIDE / 2, DEEP / 2)


@pytest.mark.parametrize(("share", "is_kept"), [(0.45, False), (0.55, True)])
def test_half_of_a_silhouette_is_enough(share: float, is_kept: bool):
    start = Start("rectangle", np.array([0.5, -0.5, WIDE, DEEP, 0.0]))
    assert (fitted(start, 0.0, (left_part(share), RED)) is not None) == is_kept


@pytest.mark.parametrize(("share", "is_kept"), [(0.6, False), (0.69, True)])
def test_of_a_top_two_thirds(share: float, is_kept: bool):
    start = Start("rectangle", np.array([0.5, -0.5, WIDE, DEEP, 0.0]), "top")
    assert (fitted(start, HIGH, (thrown(left_part(share), HIGH), RED)) is not None) == is_kept


@pytest.mark.parametrize(("share", "is_kept"), [(0.25, False), (0.36, True)])
def test_of_what_is_clear_three_tenths_of_foot_and_rim(share: float, is_kept: bool):
    """Arcs to both sides of the same way, as light draws a glass."""
    far = 200 * np.column_stack([np.cos(a := np.linspace(-np.pi * share, np.pi * share, 30)), np.sin(a)])
    sector = shapely.Polygon([(0, 0), *far.tolist()])
    arc = disc(0, 0, 70).difference(disc(0, 0, 64)).intersection(sector)
    start = Start("disc", np.array([0.3, 0.2, 70.0]), "circles")
    assert (fitted(start, HIGH, (arc, BLUE), (thrown(arc, HIGH), BLUE)) is not None) == is_kept


@pytest.mark.parametrize("apart", [2.6, 3.4])
def test_a_start_a_little_off_comes_to_the_same_place(apart: float):
    """So that of rectangles within three millimetres one is enough."""
    start = Start("rectangle", np.array([apart, 0.0, WIDE, DEEP, 0.0]))
    one = fitted(start, 0.0, (block(0, 0, WIDE, DEEP), RED))
    assert one is not None and one.values == pytest.approx([0, 0, WIDE, DEEP, 0], abs=0.3)
