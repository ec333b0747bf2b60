"""A variant of another size in the same place: the middle of its foot, or a line of its outline in the frame, stays."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture
from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.errors import FieldError

LARGE = {"id": "large", "name": "large jar", "shape": {"kind": "cylinder", "diameter": 92, "height": 120}}
SMALL = {"id": "small", "name": "small jar", "shape": {"kind": "cylinder", "diameter": 60, "height": 70}}


def swapped(keep, prop=LARGE, **camera):
    value = bare_value(**camera)
    value["props"][0]["shape"] = {"kind": "cylinder", "diameter": 76, "height": 95}
    value["placements"][0].update(x=430, y=310)
    before = picture(value)
    act = act_from_value({"act": "swap", "placement": "p1", "prop": prop, "keep": keep, "setup": "main"})
    return before, before.changed(tried(before.whole, (act,)))


def per_mm(shown) -> float:
    """Fractions of the frame's height to a mm where the thing stands."""
    depth = float((shown.bodies["p1"].centroid - shown.view.position) @ shown.view.forward)
    return shown.view.principal_distance / depth / shown.view.frame_height


@pytest.mark.parametrize("camera", [{"elevation": 90}, {"elevation": 45, "azimuth": 25, "roll": 3}, {"elevation": 15, "aim": [450, 300, 60]}])
@pytest.mark.parametrize("keep", ["base", "centre", "top_line", "base_line"])
def test_a_larger_jar_keeps_what_is_asked_within_a_tenth_of_a_millimetre(camera, keep):
    before, after = swapped(keep, **camera)
    assert after.bodies["p1"].shape.sides()[0] == 92
    was, now = np.array(before.things["p1"].box), np.array(after.things["p1"].box)
    tenth = 0.1 * per_mm(after)
    if keep == "base":
        assert after.bodies["p1"].base[:2] == pytest.approx([430, 310])
    else:
        assert (now[0] + now[2]) / 2 == pytest.approx((was[0] + was[2]) / 2, abs=tenth / after.view.aspect)
    if keep == "centre":
        assert (now[1] + now[3]) / 2 == pytest.approx((was[1] + was[3]) / 2, abs=tenth)
    if keep == "top_line":
        assert now[1] == pytest.approx(was[1], abs=tenth)
    if keep == "base_line":
        assert now[3] == pytest.approx(was[3], abs=tenth)
    assert after.bodies["p1"].base[2] == 0


def test_at_eye_level_a_lower_one_is_raised_to_the_line_and_a_taller_one_cannot_sink():
    before, after = swapped("top_line", SMALL, elevation=0, aim=[450, 300, 60])
    assert after.things["p1"].box[1] == pytest.approx(before.things["p1"].box[1], abs=0.1 * per_mm(after))
    assert 20 < after.whole.placement("p1").z < 26
    with pytest.raises(FieldError, match="keep: must be base: it is taller, and would have to stand"):
        swapped("top_line", elevation=0, aim=[450, 300, 60])


def test_a_line_is_kept_in_one_set_up_alone_where_that_is_asked():
    value = bare_value(elevation=45)
    value["setups"].append({**value["setups"][0], "name": "second"})
    before = picture(value)
    act = {"act": "swap", "placement": "p1", "prop": LARGE, "keep": "top_line", "setup": "main", "only": True}
    after = tried(before.whole, (act_from_value(act),))
    assert dict(after.setup("main").swap) == {"p1": "large"} and after.setup("main").differing("p1")
    assert after.placement("p1") == before.whole.placement("p1")
    assert not after.setup("second").swap


@pytest.mark.parametrize(("changes", "path"), [({"keep": "lid"}, "keep"), ({"keep": "top_line", "setup": None}, "setup")])
def test_what_cannot_be_kept_says_so(changes, path):
    act = {"act": "swap", "placement": "p1", "prop": LARGE, "setup": "main", **changes}
    with pytest.raises(FieldError, match=path):
        tried(picture(bare_value()).whole, (act_from_value({k: v for k, v in act.items() if v is not None}),))
