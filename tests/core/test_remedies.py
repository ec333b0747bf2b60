"""A remedy clears its finding, leaves none of equal or higher severity new or worse, and moves nothing locked."""

from __future__ import annotations

import jsonpatch
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support.scenes import bare_value, picture, scene, scene_value
from tideflat.core.acts.registry import perform_all
from tideflat.core.camera.stance import shortfall_over_surface_mm
from tideflat.core.evaluate import Picture
from tideflat.core.findings.finding import SEVERITY_RANK, Finding
from tideflat.core.findings.registry import each_finding, findings
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.formats.scene_writer import scene_value as written
from tideflat.core.model import Scene
from tideflat.core.remedies.camera_solved import come_closer
from tideflat.core.remedies.candidate import NO_STORES
from tideflat.core.remedies.search import remedy_for
from tideflat.web.scenes.starters import starter


def patched(before: Scene, remedy) -> Scene:
    """The remedy's RFC 6902 operations on the written document, by a library that knows nothing of scenes."""
    return scene_from_value(jsonpatch.apply_patch(written(before), remedy.as_value()["patch"]))


def prove(before: Scene) -> int:
    """Check every remedy of every set-up; returns how many there were."""
    count = 0
    for setup in before.setups:
        now = findings(Picture(before, setup))
        for finding in now:
            remedy = remedy_for(Picture(before, setup), finding)
            if remedy is None:
                continue
            count += 1
            after = patched(before, remedy)
            assert perform_all(before, remedy.acts) == after
            for p in before.placements:
                if p.locked:
                    assert after.placement(p.id) == p
            for other in before.setups:
                old = list(each_finding(Picture(before, other)))
                for f in each_finding(Picture(after, after.setup(other.name))):
                    if other.name == setup.name and f.code == finding.code:
                        assert not any(set(f.placements) <= set(part.placements) for part in finding.each), (finding.message, remedy.sentence)
                    if SEVERITY_RANK[f.severity] >= SEVERITY_RANK[finding.severity]:
                        was = [o for o in old if (o.code, o.crop) == (f.code, f.crop) and _is_of(f, o)]
                        assert was, (finding.message, remedy.sentence, f.message)
                        assert SEVERITY_RANK[f.severity] <= max(SEVERITY_RANK[o.severity] for o in was)
                        assert f.excess <= max(o.excess for o in was) * 1.01 + 1e-6, (finding.message, remedy.sentence, f.message)
    return count


def _is_of(now: Finding, was: Finding) -> bool:
    """Whether it is of the same things, or of fewer of them."""
    return now.placements == was.placements or set(now.placements) < set(was.placements)


@pytest.mark.parametrize("kind", ["marmalade", "supper", "tea"])
def test_remedies_of_the_demo_scenes_hold(kind):
    assert prove(starter(kind)) >= 1


@pytest.mark.parametrize("camera", [{}, {"elevation": 45, "aperture": 2}, {"elevation": 5, "aim": [450, 300, 50]}, {"distance": 1700}])
def test_remedies_of_a_mixed_table_hold(camera):
    assert prove(scene(scene_value(**camera))) >= 2


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    places=st.lists(
        st.tuples(st.integers(60, 840), st.integers(60, 540), st.booleans()), min_size=2, max_size=5, unique_by=lambda p: p[:2]
    ),
    elevation=st.sampled_from([90, 45, 20]),
)
def test_remedies_of_any_few_jars_hold(places, elevation):
    value = bare_value(elevation=elevation)
    value["placements"] = [
        {"id": f"p{i}", "prop": "jar", "x": x, "y": y, "locked": locked, "role": "hero" if i == 0 else "support"}
        for i, (x, y, locked) in enumerate(places)
    ]
    prove(scene(value))


def test_a_locked_pair_has_no_moving_remedy():
    value = bare_value(distance=700)
    value["placements"] = [
        {"id": "p1", "prop": "jar", "x": 400, "y": 300, "role": "hero", "locked": True},
        {"id": "p2", "prop": "jar", "x": 460, "y": 300, "locked": True},
    ]
    before = picture(value)
    (overlap,) = [f for f in findings(before) if f.code == "spacing.overlap"]
    assert remedy_for(before, overlap) is None


def test_what_a_thing_carries_moves_along_with_it():
    value = scene_value(distance=900)
    value["placements"] = [
        {"id": "board", "prop": "board", "x": 300, "y": 300},
        {"id": "leaf", "prop": "leaf", "x": 320, "y": 310, "z": 18, "on": "board", "role": "filler"},
        {"id": "jar", "prop": "jar", "x": 450, "y": 300, "role": "hero", "locked": True},
    ]
    before = picture(value)
    (overlap,) = [f for f in findings(before) if f.code == "spacing.overlap"]
    remedy = remedy_for(before, overlap)
    assert remedy is not None
    after = patched(before.scene, remedy)
    shift = [
        (after.placement(i).x - before.scene.placement(i).x, after.placement(i).y - before.scene.placement(i).y) for i in ("board", "leaf")
    ]
    assert shift[0] != (0, 0) and shift[0] == pytest.approx(shift[1], abs=0.11)


@pytest.mark.parametrize(("aim_z", "comes_closer"), [(8, False), (60, True)])
def test_no_remedy_puts_the_lens_into_the_surface(aim_z, comes_closer):
    """A camera low over the table, asked to come closer: where that would bring the lens under what it needs, it is not even tried."""
    value = bare_value(elevation=6, distance=420, aim=[450, 450, aim_z], lens={"focal_length": 24, "min_focus": 150})
    value["props"][0]["shape"] = {"kind": "cylinder", "diameter": 20, "height": 16}
    value["placements"][0].update(x=450, y=450, z=aim_z - 8, held_by="riser")
    before = picture(value)
    (small,) = [f for f in findings(before) if f.code == "hero.small"]
    tried = list(come_closer(before, small, NO_STORES))
    assert bool(tried) is comes_closer
    short = [shortfall_over_surface_mm(c.after(before).setups[0].camera, before.scene.surface) for c in tried]
    assert short == [0.0] * len(short)
