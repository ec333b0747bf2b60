"""A scheme laid over the picture: its handles do what they say, and what follows it goes as far along and beside the new line."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.support.arranged import table_of
from tideflat.core.acts.registry import act_from_value, tried
from tideflat.core.arrange.bending import FOLLOWS, bent, filled, laid_scheme
from tideflat.core.errors import FieldError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_writer import scheme_value
from tideflat.core.model import SCHEMES, Scheme
from tideflat.web.scenes.starters import starter


def laid(kind, elevation=90, **values):
    scene = table_of(14, elevation)
    picture = Picture(scene, scene.setups[0])
    scheme = filled(picture, Scheme(kind, tuple(values.items())))
    return picture.changed(replace(scene, scheme=scheme))


@pytest.mark.parametrize("kind", SCHEMES)
def test_every_scheme_lies_in_the_frame_and_on_the_table_where_the_frame_sees_it(kind):
    picture = laid(kind, 45)
    seen = laid_scheme(picture)
    back = picture.view.project(np.column_stack([seen.table, np.zeros(len(seen.table))]))[:, :2]
    inside = (seen.table[:, 0] > 0) & (seen.table[:, 0] < picture.scene.surface.width) & (seen.table[:, 1] > 0)
    inside &= seen.table[:, 1] < picture.scene.surface.depth
    assert np.allclose(back[inside], seen.points[inside], atol=1e-6) and inside.mean() > 0.5
    assert all(0 <= u <= 1 and 0 <= v <= 1 for u, v in seen.handles.values())


@pytest.mark.parametrize(
    ("kind", "key"),
    [("crescent", "at"), ("crescent", "radius"), ("centre", "at"), ("centre", "radius"), ("off-centre", "at"), ("triangle", "corner 2"),
     ("arc", "height"), ("arc", "bow"), ("border", "margin")],
)  # fmt: skip
def test_a_handle_is_where_it_was_dragged_to(kind, key):
    picture = laid(kind)
    was = laid_scheme(picture).handles[key]
    goal = (was[0] + 0.03, was[1] + 0.03)
    scheme, _ = bent(picture, key, *goal)
    now = laid_scheme(picture.changed(replace(picture.whole, scheme=scheme))).handles[key]
    if key == "radius":  # as far from the middle as it was dragged
        at = laid_scheme(picture).handles["at"]
        scale = [picture.view.aspect, 1.0]
        far = [np.hypot(*(np.subtract(p, at) * scale)) for p in (goal, now)]
        assert far[1] == pytest.approx(far[0], rel=0.02)
    else:
        close = [abs(a - b) for a, b in zip(now, goal, strict=True)]
        assert min(close) < 0.002 if key in ("height", "bow", "margin") else max(close) < 0.002


def test_what_lies_on_the_line_follows_it_what_is_far_stays_and_a_lock_holds():
    picture = laid("arc")
    line = laid_scheme(picture)
    on = line.table[20]
    scene = picture.whole
    places = {"t1": (float(on[0]), float(on[1]))}
    moved = tuple(replace(p, x=places[p.id][0], y=places[p.id][1]) if p.id in places else p for p in scene.placements)
    picture = picture.changed(replace(scene, placements=moved))
    before = laid_scheme(picture)
    assert "t1" in before.followers
    key, (u, v) = "height", before.handles["height"]
    scheme, where = bent(picture, key, u, v + 0.1)
    dy = picture.size_at_aim[1] * 0.1
    height = picture.bodies["t1"].z_max / 2
    scale = (picture.view.position[2] - height) / picture.view.position[2]
    assert where["t1"][1] - places["t1"][1] == pytest.approx(-dy * scale, abs=2.0) and where["t1"][0] == pytest.approx(places["t1"][0], abs=1.0)
    assert set(where) == set(before.followers) and 0.1 < FOLLOWS < 0.2
    locked = tuple(replace(p, locked=p.id == "t1") for p in moved)
    assert "t1" not in bent(picture.changed(replace(scene, placements=locked)), key, u, v + 0.1)[1]
    assert scheme.value("v") != scene.scheme.value("v")


def test_a_scheme_says_whether_things_have_room_along_it():
    wide = laid_scheme(laid("border"))
    tight = laid_scheme(laid("crescent", centre=(0.5, 0.5), radius=0.03))
    assert tight.needs > tight.has and not tight.has_room and wide.has > tight.has
    assert laid_scheme(laid("squared")).has_room


def test_without_a_scheme_nothing_is_laid_and_a_handle_that_is_not_there_is_refused():
    scene = starter("marmalade")
    picture = Picture(scene, scene.setups[0])
    assert laid_scheme(picture) is None
    with pytest.raises(FieldError, match="key"):
        bent(picture, "at", 0.5, 0.5)
    with pytest.raises(FieldError, match="key"):
        bent(laid("border"), "radius", 0.5, 0.5)


def test_an_arrangement_can_become_what_the_things_are_laid_by_in_one_step_and_on_one_set_up_alone():
    scene = starter("supper")
    act = {"act": "arrange", "placements": ["cream"], "places": [{"x": 500, "y": 500, "turn": 0}], "scheme": "arc"}
    after = tried(scene, [act_from_value({**act, "laid_by": scheme_value(Scheme("arc", (("v", 0.4), ("bow", 0.1))))})])
    assert after.scheme.kind == "arc" and (after.placement("cream").x, after.placement("cream").y) == (500, 500)
    name = scene.setups[1].name
    own = tried(scene, [act_from_value({**act, "setup": name, "only": True, "laid_by": {"kind": "arc", "v": 0.4, "bow": 0.1}})])
    assert own.scheme == scene.scheme and own.setup(name).scheme.kind == "arc"
