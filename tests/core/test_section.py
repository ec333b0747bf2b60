"""The scene from the side agrees with what the camera sees from where it stands."""

from __future__ import annotations

import math

import pytest

from tests.support.acts import stacked_value
from tests.support.scenes import camera_value
from tideflat.core.camera.section import section_of
from tideflat.core.evaluate import Picture
from tideflat.core.formats.scene_reader import scene_from_value


def cut(backdrop=None, room=None, **camera):
    value = stacked_value()
    value["setups"] = [{"name": "main", "camera": camera_value(aim=[450, 330, 20], **camera)}]
    value["backdrop"] = backdrop
    value["room"] = room
    scene = scene_from_value(value)
    picture = Picture(scene, scene.setups[0])
    return picture, section_of(picture.scene, picture.setup.camera, picture.view, picture.depth_of_field, picture.bodies)


@pytest.mark.parametrize("azimuth", [0, 40, -120])
@pytest.mark.parametrize("elevation", [10, 45, 80, 90])
def test_the_lens_and_what_it_sees_are_where_the_camera_has_them(elevation, azimuth):
    picture, section = cut(elevation=elevation, azimuth=azimuth, distance=1000)
    e = math.radians(elevation)
    assert section.lens == pytest.approx((-1000 * math.cos(e), 20 + 1000 * math.sin(e)), abs=1e-6)
    assert section.aim == (0, 20)
    # where the middle of the frame's lower edge meets the table
    x, y = picture.view.on_plane(0.5, 1.0)
    along = (x - 450) * section.heading[0] + (y - 330) * section.heading[1]
    assert section.edges[1] == pytest.approx((along, 0), abs=0.01)
    assert section.heading == pytest.approx((-math.sin(math.radians(azimuth)), math.cos(math.radians(azimuth))))


def test_what_is_sharp_lies_square_to_the_axis_at_its_depths():
    picture, section = cut(elevation=45, distance=900)
    sharp = picture.depth_of_field
    for depth, ends in ((sharp.near, section.near), (sharp.far, section.far)):
        for s, z in ends:
            assert (s - section.lens[0]) * math.cos(math.pi / 4) - (z - section.lens[1]) * math.sin(math.pi / 4) == pytest.approx(
                depth, abs=1e-6
            )


def test_heights_of_things_table_ceiling_floor_and_backdrop():
    picture, section = cut({"y": 600, "x": 450, "width": 900, "height": 500}, {"ceiling_height": 2400}, elevation=30, distance=1000)
    tops = {i: max(z for _, z in ring) for i, ring in section.things}
    assert tops == pytest.approx({i: b.z_max for i, b in picture.bodies.items()}, abs=1.5)
    assert section.table == (-330, 270) and section.backdrop == (270, 500)
    stands = picture.scene.surface.height_above_floor
    assert (section.floor, section.ceiling) == (-stands, 2400 - stands)
    assert section.ceiling - section.lens[1] > picture.ceiling_clearance  # the body reaches above the lens
    _, behind = cut({"y": 600, "x": 450, "width": 900, "height": 500}, elevation=30, distance=1000, azimuth=180)
    assert behind.backdrop == (-270, 500) and behind.ceiling is None  # it stands between lens and table
    _, past = cut({"y": 600, "x": 450, "width": 900, "height": 500}, elevation=30, distance=300, azimuth=180)
    assert past.backdrop is None
