"""A table that is darker than a thing is no shadow beside it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, translate

from tests.core.test_outlines_in_doubt import flat_of
from tests.core.test_straight_sided import NOTCHED, upright
from tests.core.test_things_seen import block, drawn, seen
from tideflat.core.vision import solid_edges
from tideflat.core.vision.edge_support import Shaded, edge_picture
from tideflat.core.vision.solid_edges import is_dark_outside

PALE, DARK_TABLE = (226, 196, 120), (84, 62, 46)
HEXAGON = shapely.Polygon([(38 * np.cos(t), 38 * np.sin(t)) for t in np.arange(6) * np.pi / 3])


@pytest.mark.parametrize(("left", "is_dark"), [(1.0, False), (0.86, False), (0.84, True), (0.3, True)])
def test_a_shadow_is_darker_than_its_table(left, is_dark):
    foot = block(-200, 20, 90, 60)
    flat = flat_of(drawn((shapely.box(-330, -240, -110, 260), DARK_TABLE), (foot, PALE)))
    places = np.array([[-200.0, -10.0], [-155.0, 20.0]])
    outward = np.array([[0.0, -1.0], [1.0, 0.0]])
    picture = edge_picture(flat)
    assert is_dark_outside(picture, places, outward).all()  # where no shadow was told, it may be one
    shaded = replace(picture, shade=Shaded(flat, np.full(flat.known.shape, left, np.float32)))
    assert (is_dark_outside(shaded, places, outward) == is_dark).all()
    assert not is_dark_outside(shaded, places, -outward).any()  # what is brighter is no shadow, whatever is left there


@pytest.mark.parametrize(("least", "is_right"), [(0.85, True), (9.0, False)])
@pytest.mark.parametrize(("shape", "at"), [(HEXAGON, (-215, 40)), (HEXAGON, (-215, -60)), (NOTCHED, (-215, -60))])
def test_on_a_dark_table_a_side_lit_as_its_top_is_none_in_shadow(shape, at, least, is_right, monkeypatch):
    """What is seen of it ends at its foot. If all that is darker than the thing were a shadow beside it, as that of 9 times the ground's
    light would be, its near edges would be its top's, and its foot further out."""
    monkeypatch.setattr(solid_edges, "_SHADED_LEFT", least)
    foot, height = translate(rotate(shape, 13, origin=(0, 0)), *at), 9.0
    (thing, *_) = seen([(shapely.box(-340, -260, -110, 270), DARK_TABLE), *upright(foot, height, PALE, PALE)], height)
    assert (thing.foot.hausdorff_distance(foot) < 0.7) == is_right
    assert not is_right or not thing.doubts
