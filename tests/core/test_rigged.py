"""What holds the camera: in reach or not, in the picture or not, on both sides of each limit."""

from __future__ import annotations

import pytest

from tests.support.scenes import picture, scene, scene_value
from tideflat.core.camera.support import BESIDE_MM, short_of
from tideflat.core.errors import DocumentError
from tideflat.core.findings.registry import findings
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.model import Support
from tideflat.core.report import evaluation

#: The surface is 900 by 600, 740 above the floor; straight down over x 450, y 300 with a backdrop at the back: 300 mm to the front edge.
OVERHEAD = {"elevation": 90, "aim": [450, 300, 0], "distance": 1100}


def held(support: dict, **camera) -> dict:
    value = scene_value(**{**OVERHEAD, **camera})
    value["setups"][0]["support"] = {"name": "arm", "kind": "column", "lowest": 300, "highest": 2400, "inverts": True, **support}
    return value


def told(value: dict, code: str):
    return [f for f in findings(picture(value)) if f.code == code]


@pytest.mark.parametrize(
    ("support", "side", "mm"),
    [
        ({"highest": 1841}, None, 0),
        ({"highest": 1839}, "high", 1),
        ({"lowest": 1839}, None, 0),
        ({"lowest": 1841}, "low", 1),
        ({"inverts": False}, "inverts", 0),
        ({"reach": 300 + BESIDE_MM + 0.5}, None, 0),
        ({"reach": 300 + BESIDE_MM - 0.5}, "reach", 0.5),
        ({"reach": 0, "kind": "stand"}, None, 0),
    ],
)
def test_it_is_told_when_it_does_not_bring_the_camera_there(support, side, mm):
    found = told(held(support), "rig.reach")
    assert [f.sides for f in found] == ([(side,)] if side else [])
    if side:
        assert found[0].severity == "stop"
        assert found[0].measure == pytest.approx(mm, abs=0.06)


@pytest.mark.parametrize(("elevation", "is_found"), [(70, False), (70.5, True)])
def test_what_does_not_turn_down_holds_what_looks_down_less_steeply(elevation, is_found):
    assert bool(told(held({"inverts": False}, elevation=elevation), "rig.reach")) is is_found


def test_with_no_backdrop_it_may_stand_behind():
    value = held({"reach": 160 + BESIDE_MM}, aim=[450, 440, 0])
    assert told(value, "rig.reach")
    value["backdrop"] = None
    assert not told(value, "rig.reach")


def test_beside_the_table_nothing_has_to_reach():
    assert not told(held({"reach": 0, "kind": "tripod"}, elevation=20, distance=900, aim=[450, 300, 60]), "rig.reach")


def test_a_remedy_brings_the_camera_within_reach():
    value = held({"highest": 1800})
    found = [f for f in evaluation(scene(value))["setups"]["main"]["findings"] if f["code"] == "rig.reach"]
    assert found[0]["remedy"] is not None


@pytest.mark.parametrize(("distance", "is_found"), [(1200, False), (1500, True)])
def test_a_column_beside_the_table_is_seen_once_the_frame_is_wider_than_the_way_to_it(distance, is_found):
    """24 mm from 1500 sees 1125 either side at the table, and the column stands 510 off it at the sides: it is tried at the front, where
    the frame's half height is 750 and the column 360 off. From 1200 it reaches neither side of a narrow surface with a longer lens."""
    lens = {"focal_length": 24 if is_found else 100, "max_aperture": 1.8, "min_aperture": 22, "min_focus": None}
    assert bool(told(held({"reach": None}, distance=distance, lens=lens), "rig.seen")) is is_found


def test_what_stands_behind_the_table_s_edge_is_hidden_by_it():
    """Looking level over the table the legs under it are not seen; a bare floor would show them."""
    assert not told(held({"kind": "tripod"}, elevation=12, distance=700, aim=[450, 300, 80]), "rig.seen")


def test_it_stands_in_the_document_only_where_it_is_told():
    read = scene(held({}))
    written = write_scene(read)
    assert b'"support"' in written and b'"reach"' not in written
    assert write_scene(read_scene(written)) == written
    assert b'"support": {' not in write_scene(scene(scene_value()))
    for wrong, words in (({"highest": 200}, "at least lowest"), ({"kind": "crane"}, "kind"), ({"reach": -1}, "reach")):
        with pytest.raises(DocumentError, match=words):
            scene(held(wrong))


def test_the_nearest_of_several_faults_is_height_first():
    computed = picture(scene_value(**OVERHEAD))
    short = short_of(Support("legs", "tripod", 0, 1000, False, 0), computed.scene, computed.setup.camera, computed.view)
    assert short is not None and short.way == "high"
