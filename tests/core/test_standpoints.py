"""Where else the camera might stand: aim, distance, height and lens solved together, each place checked by the numbers it was solved for."""

from __future__ import annotations

from dataclasses import replace
from math import hypot, log

import pytest

from tests.support.judged import judged_scene
from tests.support.scenes import picture, scene_value
from tideflat.core.acts.registry import tried
from tideflat.core.camera.coverage import highest_point_mm, seen_on_table
from tideflat.core.camera.framing import covered_mm
from tideflat.core.camera.lens import focus_reach_mm
from tideflat.core.camera.view import view_of
from tideflat.core.evaluate import Picture
from tideflat.core.findings.registry import findings
from tideflat.core.model import Lens
from tideflat.core.remedies.candidate import NO_STORES, NamedLens, Stores
from tideflat.core.remedies.proof import harm, is_there, judged
from tideflat.core.remedies.search import candidates, remedy_for


def named(focal: float, **more: float) -> NamedLens:
    return NamedLens(f"the {focal:g}", Lens(focal_length=focal, **{"max_aperture": 2.8, "min_aperture": 22, "min_focus": 10 * focal, **more}))


KIT = Stores(lenses=(named(24), named(35), named(85), named(135)))


def bare(**camera):
    """One low thing in the middle of a table, without crops or backdrop."""
    value = scene_value(**camera)
    value["backdrop"] = None
    value["setups"][0]["deliverables"] = []
    value["placements"] = [{"id": "p1", "prop": "board", "x": 450, "y": 300, "role": "hero"}]
    return value


def told(value, code):
    seen = picture(value)
    (finding,) = [f for f in findings(seen) if f.code == code]
    return seen, finding


def cameras(seen, finding, stores=NO_STORES):
    return [tried(seen.whole, c.acts).setups[0].camera for c in candidates(seen, finding, stores)]


@pytest.mark.parametrize("elevation", [90, 60, 45])
@pytest.mark.parametrize("stores", [NO_STORES, KIT])
def test_under_a_ceiling_every_place_has_just_the_room_that_is_asked(elevation, stores):
    value = bare(elevation=elevation, distance=2000)
    value["room"] = {"ceiling_height": 740 + 1500}
    seen, finding = told(value, "rig.ceiling")
    allowed = 1500 - finding.limit
    found = cameras(seen, finding, stores)
    heights = [highest_point_mm(c, view_of(c)) for c in found]
    assert found and max(heights) <= allowed
    own = [h for h, c in zip(heights, found, strict=True) if c.lens == seen.setup.camera.lens and c.elevation == elevation]
    assert max(own) > allowed - 3  # and goes no lower than it must


def test_under_a_ceiling_a_shorter_lens_shows_as_much_from_nearer_by():
    value = bare(distance=2000)
    value["room"] = {"ceiling_height": 740 + 1750}
    seen, finding = told(value, "rig.ceiling")
    shorter = [c for c in cameras(seen, finding, KIT) if c.lens.focal_length == 35]
    assert shorter and covered_mm(shorter[0]) == pytest.approx(covered_mm(seen.setup.camera), rel=1e-3)


@pytest.mark.parametrize(("surface", "elevation"), [((1400, 1100), 35), ((1000, 700), 60), ((900, 560), 90), ((2000, 900), 25)])
def test_what_sees_less_sees_the_surface_alone_whatever_was_changed_for_it(surface, elevation):
    value = bare(elevation=elevation, distance=1500, aim=[surface[0] / 2 - 80, surface[1] / 2, 0])
    value["surface"].update(width=surface[0], depth=surface[1])
    value["placements"][0].update(x=surface[0] / 2, y=surface[1] / 2)
    seen, finding = told(value, "surface.edge")
    found = cameras(seen, finding, KIT)
    assert found
    for camera in found:
        polygon = seen_on_table(view_of(camera), y_max=None)
        assert polygon.min() >= 0
        assert polygon[:, 0].max() <= surface[0] and polygon[:, 1].max() <= surface[1]


def test_from_so_low_that_no_step_helps_the_camera_comes_higher():
    """At 12 degrees the frame's upper rays pass over the horizon at any distance."""
    value = bare(elevation=12, distance=900)
    seen, finding = told(value, "surface.edge")
    found = cameras(seen, finding)
    assert found and all(c.elevation > 12 for c in found)


def test_a_longer_lens_sees_less_of_what_is_behind():
    value = bare(elevation=40, distance=1500)
    value["surface"].update(width=1500, depth=1200)
    value["placements"][0].update(x=750, y=500)
    value["setups"][0]["camera"]["aim"] = [750, 500, 0]
    seen, finding = told(value, "surface.edge")
    kinds = {c.kind for c in candidates(seen, finding, KIT)}
    assert any(kind.startswith("lens") for kind in kinds) and any(not kind.startswith("lens") for kind in kinds)


@pytest.mark.parametrize("stores", [NO_STORES, KIT])
def test_too_near_to_focus_the_camera_comes_just_so_far_that_it_can_or_takes_another_lens(stores):
    seen, finding = told(bare(distance=300), "lens.min_focus")
    found = cameras(seen, finding, stores)
    for camera in found:
        nearest, _ = focus_reach_mm(camera.lens, camera.sensor)
        assert view_of(camera).lens.distance >= nearest - 0.05
    own = [c.distance for c in found if c.lens == seen.setup.camera.lens]
    assert min(own) == pytest.approx(300 + finding.limit - finding.measure, abs=1.2)
    if stores is KIT:
        assert {c.lens.focal_length for c in found} > {50}


@pytest.mark.parametrize(("circle", "offered"), [(43.2, False), (43.3, True)])
def test_a_lens_that_covers_the_sensor_is_offered_and_one_that_does_not_is_not(circle, offered):
    """The sensor's diagonal is 43.267 mm."""
    seen, finding = told(bare(lens={"image_circle": 30}), "lens.circle")
    stores = Stores(lenses=(named(60, image_circle=circle),))
    remedy = remedy_for(seen, finding, None, stores)
    assert (remedy is not None) is offered
    assert remedy_for(seen, finding) is None
    if remedy is not None:
        camera = tried(seen.whole, remedy.acts).setups[0].camera
        assert remedy.kind == "lens_and_step" and covered_mm(camera) == pytest.approx(covered_mm(seen.setup.camera), rel=1e-3)


def test_the_least_change_comes_first():
    """By hand: a step weighs twice the logarithm of its ratio, for the way and for what is shown; a lens a quarter more, a carry its share."""
    value = bare(distance=1900)
    value["room"] = {"ceiling_height": 740 + 1950}
    seen, finding = told(value, "rig.ceiling")
    found = cameras(seen, finding, KIT)
    now = seen.setup.camera

    def change(camera):
        carry = hypot(*(a - b for a, b in zip(camera.aim, now.aim, strict=True))) / now.distance
        shown, step = (abs(log(r)) for r in (covered_mm(camera)[0] / covered_mm(now)[0], camera.distance / now.distance))
        return carry + shown + step + abs(camera.elevation - now.elevation) / 30 + (0.25 if camera.lens != now.lens else 0)

    changes = [change(c) for c in found]
    assert changes == sorted(changes) and len(changes) > 2
    assert found[0].lens == now.lens  # a step of some centimetres, before a lens is changed for it


def test_larger_through_a_longer_lens_the_hero_is_as_large_as_is_asked():
    value = bare(distance=2600)
    value["props"].append({"id": "nut", "name": "nut", "shape": {"kind": "sphere", "diameter": 90}})
    value["placements"][0]["prop"] = "nut"
    value["surface"].update(width=3000, depth=2400)
    value["placements"][0].update(x=1500, y=1200)
    value["setups"][0]["camera"]["aim"] = [1500, 1200, 0]
    value["room"] = None
    seen, finding = told(value, "hero.small")
    lenses = set()
    for camera in cameras(seen, finding, KIT):
        after = seen.changed(seen.whole.with_setup("main", replace(seen.setup, camera=camera)))
        assert not is_there(after, finding)
        lenses.add(camera.lens.focal_length)
    assert len(lenses) > 1


def test_the_hero_is_taken_whole_from_where_it_has_clear_air_all_round():
    """It runs out at the left: the camera is carried, or stands further back, or takes a shorter lens."""
    seen, finding = told(bare(distance=700, aim=[700, 300, 0]), "hero.cut")
    found = [c for c in candidates(seen, finding, KIT) if c.kind not in ("move", "crop")]
    solved = [c for c in found if "step" in c.kind]
    assert any("lens" in c.kind for c in solved) and any("lens" not in c.kind for c in solved)
    for candidate in solved:
        after = seen.changed(candidate.after(seen))
        assert not is_there(after, finding)


def test_a_finding_of_fewer_things_is_still_there_and_no_new_harm():
    """Two of three things that stood in the words are left: not cleared by that, and not a new finding either."""
    scene = judged_scene("supper")
    seen = Picture(scene, scene.setups[0])
    (finding,) = [f for f in findings(seen) if f.code == "copy.occupied"]
    moved = next(
        c for c in candidates(seen, finding) if c.kind == "aim" and _words_of(seen.changed(c.after(seen))) < set(finding.placements)
    )
    after = moved.after(seen)
    assert is_there(seen.changed(after), finding)
    harmed = harm(after, seen, finding, judged(scene, seen))
    assert harmed is None or harmed.finding.code != "copy.occupied"


def _words_of(seen):
    return {i for f in findings(seen) if f.code == "copy.occupied" for i in f.placements}


@pytest.mark.parametrize(("name", "code", "things"), [("supper", "tangent.edge", ("bread-1",)), ("breakfast", "hero.small", ("toast",))])
def test_what_one_small_change_does_not_clear_without_harm_another_way_or_a_second_does(name, code, things):
    scene = judged_scene(name)
    seen = Picture(scene, scene.setups[0])
    before = judged(scene, seen)
    (finding,) = [f for f in findings(seen) if (f.code, f.placements) == (code, things)]
    remedy = remedy_for(seen, finding, before)
    assert remedy is not None
    after = tried(scene, remedy.acts)
    assert not is_there(seen.changed(after), finding) and harm(after, seen, finding, before) is None
    if name == "breakfast":
        assert len(remedy.acts) == 2 and dict(remedy.figures)["then"][0]["kind"] == "move"
