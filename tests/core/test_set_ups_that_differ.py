"""A set-up that differs is computed, judged, drawn and remedied as a scene of its own would be in which everything is as it is there."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest

from tests.core.test_remedies import prove
from tests.support.acts import SETUPS, chance_scene, stacked_value
from tests.support.scenes import raw
from tideflat.core.errors import DocumentError
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import read_scene, scene_from_value
from tideflat.core.formats.scene_writer import scene_value, write_scene
from tideflat.core.model import LEFT_OUT, Scene, Setup
from tideflat.core.report import evaluation
from tideflat.core.weight import weigh
from tideflat.web.bridge.drawing import frame_drawing, table_drawing
from tideflat.web.bridge.geometry import geometry
from tideflat.web.scenes.starters import starter


def alone(scene: Scene, setup: Setup) -> Scene:
    """The scene in which the shared table is as the set-up has it, with that set-up alone."""
    plain = replace(setup, swap=(), differs=(), surface=LEFT_OUT, backdrop=LEFT_OUT, scheme=LEFT_OUT)
    return replace(scene.seen_in(setup), setups=(plain,))


SCENES = [scene_from_value(scene_value(starter("marmalade"))), *(chance_scene(random.Random(seed)) for seed in range(6))]


@pytest.mark.parametrize("scene", SCENES, ids=lambda s: s.title)
def test_each_set_up_is_evaluated_as_a_scene_of_its_own_would_be(scene):
    whole = evaluation(scene, with_remedies=False)["setups"]
    for setup in scene.setups:
        assert whole[setup.name] == evaluation(alone(scene, setup), with_remedies=False)["setups"][setup.name]
    assert weigh(scene).judged == pytest.approx(sum(weigh(alone(scene, s)).judged for s in scene.setups))


@pytest.mark.parametrize("scene", SCENES[:3], ids=lambda s: s.title)
def test_each_set_up_is_drawn_as_a_scene_of_its_own_would_be(scene):
    for setup in scene.setups:
        own = alone(scene, setup)
        here, there = Picture(scene, setup), Picture(own, own.setups[0])
        for draw in (frame_drawing, table_drawing):
            one, other = draw(here), draw(there)
            assert (one["ground"], one["things"], one["defs"]) == (other["ground"], other["things"], other["defs"])
        assert geometry(here).split('"order"')[1] == geometry(there).split('"order"')[1]


@pytest.mark.parametrize("seed", range(3))
def test_remedies_hold_in_set_ups_that_differ(seed):
    assert prove(chance_scene(random.Random(seed))) >= 1


def test_what_differs_is_written_in_one_order_and_read_back():
    value = stacked_value()
    value["setups"][1] |= {
        "differs": {"jar": {"role": "support", "x": 500, "on": None}, "bowl": {}},
        "backdrop": None,
        "scheme": None,
        "surface": {"name": "oak", "width": 900, "depth": 600},
    }
    scene = read_scene(raw(value))
    written = scene_value(scene)["setups"][1]
    assert list(written["differs"].items()) == [("jar", {"x": 500, "role": "support", "on": None})]
    assert written["backdrop"] is None and written["scheme"] is None and written["surface"]["name"] == "oak"
    assert not {"surface", "backdrop", "scheme"} & scene_value(scene)["setups"][0].keys()  # left out is not null
    assert read_scene(write_scene(scene)) == scene and write_scene(read_scene(write_scene(scene))) == write_scene(scene)
    assert scene.seen_in(scene.setup("upright")).backdrop is None and scene.seen_in(scene.setup("main")).backdrop is not None


FAULTS = {
    "no such thing": ({"differs": {"pot": {"x": 1}}}, "setups[1].differs"),
    "no key of a placement": ({"differs": {"jar": {"colour": 1}}}, "setups[1].differs.jar.colour"),
    "its id": ({"differs": {"jar": {"id": "j"}}}, "setups[1].differs.jar.id"),
    "its prop": ({"differs": {"jar": {"prop": "bowl"}}}, "setups[1].differs.jar.prop"),
    "whether it is locked": ({"differs": {"jar": {"locked": True}}}, "setups[1].differs.jar.locked"),
    "a place that is none": ({"differs": {"jar": {"x": None}}}, "setups[1].differs.jar.x"),
    "under the table": ({"differs": {"jar": {"z": -1}}}, "setups[1].differs.jar.z"),
    "on what is not there": ({"differs": {"jar": {"on": "pot"}}}, "setups[1].differs.jar.on"),
    "on itself": ({"differs": {"jar": {"on": "jar"}}}, "setups[1].differs.jar.on"),
    "in a circle": ({"differs": {"board": {"on": "spoon"}}}, "setups[1].differs.board.on"),
    "in a circle of two": ({"differs": {"jar": {"on": "bowl"}, "bowl": {"on": "jar"}}}, "setups[1].differs.jar.on"),
    "a list": ({"differs": []}, "setups[1].differs"),
    "no surface": ({"surface": None}, "setups[1].surface"),
    "a surface of no width": ({"surface": {"width": 0, "depth": 5}}, "setups[1].surface.width"),
}


@pytest.mark.parametrize("name", FAULTS)
def test_a_faulty_difference_is_one_line_that_names_the_path(name):
    more, path = FAULTS[name]
    value = stacked_value()
    value["setups"][1] |= more
    with pytest.raises(DocumentError) as caught:
        read_scene(raw(value))
    assert caught.value.path == path and "\n" not in str(caught.value)


def test_a_circle_that_no_set_up_closes_is_none():
    value = stacked_value()
    value["setups"][1]["differs"] = {"dish": {"on": None}, "board": {"on": "dish"}}  # turned about here: the board lies on the dish
    scene = read_scene(raw(value))
    assert set(scene.seen_in(scene.setup("upright")).carried_by("dish")) == {"spoon", "board", "leaf"}
    assert set(scene.carried_by("board")) == {"dish", "leaf", "spoon"}


TOP_FAULTS = {
    "a group of what is not there": ({"groups": [{"id": "g", "name": "g", "placements": ["pot"]}]}, "groups[0].placements[0]"),
    "a thing in two groups": ({"groups": [{"id": "g", "placements": ["jar"]}, {"id": "h", "placements": ["bowl", "jar"]}]}, "groups[1].placements[1]"),
    "a thing in a group twice": ({"groups": [{"id": "g", "placements": ["jar", "jar"]}]}, "groups[0].placements[1]"),
    "a group's id twice": ({"groups": [{"id": "g", "placements": ["jar"]}, {"id": "g", "placements": ["bowl"]}]}, "groups[1].id"),
    "a feature of what is not there": ({"brief": {"must_show": [{"placement": "pot", "feature": "rim"}]}}, "brief.must_show[0].placement"),
    "a feature it has not": ({"brief": {"must_show": ["x", {"placement": "jar", "feature": "rim"}]}}, "brief.must_show[1].feature"),
    "meant in no set-up": ({"meant": [{"setup": "noon", "code": "hero.small"}]}, "meant[0].setup"),
    "meant of nothing": ({"meant": [{"setup": "main", "code": "hero.small", "placements": ["pot"]}]}, "meant[0].placements[0]"),
    "meant twice": ({"meant": [{"setup": "main", "code": "hero.small"}, {"setup": "main", "code": "hero.small", "reason": "x"}]}, "meant[1]"),
    "no code": ({"meant": [{"setup": "main", "code": "small"}]}, "meant[0].code"),
}


@pytest.mark.parametrize("name", TOP_FAULTS)
def test_faulty_groups_features_and_meant_findings_are_refused(name):
    more, path = TOP_FAULTS[name]
    with pytest.raises(DocumentError) as caught:
        read_scene(raw(stacked_value(**more)))
    assert caught.value.path == path, str(caught.value)


def test_a_feature_may_be_of_what_is_swapped_in_and_faces_somewhere():
    rim = {"id": "rim", "name": "rim", "at": [0, 0, 60], "facing": [0, 0, 1], "width": 140, "height": 140}
    value = stacked_value(brief={"must_show": [{"placement": "jar", "feature": "rim"}]})
    next(p for p in value["props"] if p["id"] == "bowl")["features"] = [rim]
    with pytest.raises(DocumentError):
        read_scene(raw(value))
    value["setups"][2]["swap"] = {"jar": "bowl"}
    scene = read_scene(raw(value))
    assert read_scene(write_scene(scene)) == scene
    rim["facing"] = [0, 0, 0]
    with pytest.raises(DocumentError) as caught:
        read_scene(raw(value))
    assert caught.value.path.endswith("features[0].facing")


def test_every_set_up_by_its_name():
    assert [s.name for s in scene_from_value(stacked_value()).setups] == list(SETUPS)
