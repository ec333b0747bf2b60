"""One frame for all: at least as good as a fine search over the same choices, and better than it was."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest

from tests.support.scenes import bare_value, picture
from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.camera.crops import fitted
from tideflat.core.errors import FieldError
from tideflat.core.frame.one_frame import CARRIED, FARTHER, Worth, _carried, covered_mm, gains, judged_at, one_frame, stands


def hurried(**camera):
    """A jar near the right edge, asked for lying and upright, with words over it: today's frame serves neither."""
    value = bare_value(**{"distance": 900, **camera})
    value["placements"][0].update(x=610, y=330)
    value["placements"].append({"id": "p2", "prop": value["props"][0]["id"], "x": 380, "y": 260})
    value["setups"][0]["deliverables"] = [
        {"name": "feed", "ratio": "4:5", "copy_space": {"side": "top", "share": 0.25}},
        {"name": "banner", "ratio": "16:9"},
    ]
    return picture(value)


@pytest.fixture(scope="module")
def found():
    """What is found for it, once."""
    return one_frame(hurried())


def test_worth_is_read_in_order():
    assert Worth(0, 5, 0.9) < Worth(1, 0, 0.1) and Worth(0, 1, 0.9) < Worth(0, 2, 0.1) and Worth(0, 1, 0.5) < Worth(0, 1, 0.6)
    assert Worth(0, 0, 0.97).least_share == pytest.approx(0.03)


def test_it_is_at_least_as_good_as_a_fine_search_over_the_same_choices(found):
    """Every camera of the grid with twice as many distances and carries, every crop at nine places, judged together."""
    now = hurried()
    assert found.worth <= found.now
    assert judged_at(now, found.camera, dict(found.centres)) == found.worth
    camera, view = now.setup.camera, now.view
    wide, high = covered_mm(camera)
    farther = sorted({*FARTHER, *(float(np.sqrt(a * b)) for a, b in itertools.pairwise(FARTHER))})
    carried = sorted({*CARRIED, *((a + b) / 2 for a, b in itertools.pairwise(CARRIED))})
    best = Worth(99, 99, 1.0)
    rng = np.random.default_rng(4)
    cameras = [
        _carried(replace(camera, distance=camera.distance * t), view.right, view.up, a * wide, o * high)
        for t, a, o in itertools.product(farther, carried, carried)
    ]
    for there in [c for c in cameras if stands(now, c)]:
        for u, v in rng.uniform(0.2, 0.8, (3, 2)):
            placed = fitted(tuple(replace(d, centre=(float(u), float(v))) for d in now.setup.deliverables), there)
            best = min(best, judged_at(now, there, {d.name: d.centre for d in placed}))
    assert found.worth <= best


def test_what_is_found_is_made_by_one_act(found):
    now = hurried()
    act = {"act": "frame_all", "setup": "main", "aim": list(found.camera.aim), "distance": found.camera.distance, "centres": [list(c) for _, c in found.centres]}
    after = now.changed(tried(now.whole, (act_from_value(act),)))
    assert after.setup.camera.distance == found.camera.distance
    assert judged_at(after, after.setup.camera, {d.name: d.centre for d in after.setup.deliverables}) == found.worth
    with pytest.raises(FieldError, match="centres"):
        tried(now.whole, (act_from_value({**act, "centres": [[0.5, 0.5]]}),))


def test_dropping_a_deliverable_says_what_it_costs(found):
    now = hurried()
    told = gains(now)
    assert {d.name for d in told} == {"feed", "banner"}
    assert told == tuple(sorted(told, key=lambda d: d.worth))
    assert min(d.worth for d in told) <= found.worth
    alone = replace(now.setup, deliverables=now.setup.deliverables[:1])
    assert gains(now.changed(now.whole.with_setup("main", alone))) == ()


def test_it_can_be_stopped_and_what_was_found_by_then_stays():
    asked = []

    def watch(share):
        asked.append(share)
        return len(asked) < 3

    found = one_frame(hurried(), watch)
    assert len(asked) <= 4 and found.worth <= found.now


def test_without_deliverables_or_hero_it_says_so():
    value = bare_value()
    value["setups"][0]["deliverables"] = []
    with pytest.raises(FieldError, match="deliverables"):
        one_frame(picture(value))
    value = bare_value()
    value["setups"][0]["deliverables"] = [{"name": "feed", "ratio": "4:5"}]
    value["placements"][0]["role"] = "support"
    with pytest.raises(FieldError, match="hero"):
        one_frame(picture(value))
