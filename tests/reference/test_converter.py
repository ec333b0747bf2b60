"""A teleconverter against the picture it is made of: the lens alone, focused as before, and its picture made k times larger (Ray, *Applied
Photographic Optics*: supplementary optics, from memory)."""

from __future__ import annotations

import pytest

from tests.support.scenes import scene, scene_value
from tideflat.core.camera.converter import alone, with_converter
from tideflat.core.camera.lens import focus_reach_mm, focused, travel_of
from tideflat.core.camera.optics import effective_aperture
from tideflat.core.errors import DocumentError
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import write_scene
from tideflat.core.model import Converter, Lens, MeasuredField, Sensor

FULL = Sensor(36.0, 24.0, 6000, 4000)
LENSES = [
    Lens(100, max_aperture=2.8, min_aperture=32, min_focus=300, max_magnification=1.0),
    Lens(100, max_aperture=2.8, min_aperture=32, min_focus=300, max_magnification=1.0, pupil_ratio=0.7, extension=25),
    Lens(85, min_focus=800),
    Lens(60, min_focus=None, max_magnification=0.5, pupil_ratio=1.4, tilt=5),
    Lens(90, measured=MeasuredField(900, 300), min_focus=600),
    Lens(100, min_focus=450, extension=12),
]


@pytest.mark.parametrize("lens", LENSES)
@pytest.mark.parametrize("converter", [Converter(1.4, 20), Converter(2, 35), Converter(1.7)])
@pytest.mark.parametrize("distance", [420.0, 700.0, 1500.0])
def test_behind_it_the_picture_is_k_times_larger_from_the_same_place(lens: Lens, converter: Converter, distance: float) -> None:
    k = converter.factor
    bare = focused(lens, FULL, distance)
    both = with_converter(lens, converter)
    # The plane of focus stays as far from the entrance pupil; so u grows by what the longer lens's pupil lies further behind it.
    u = distance + bare.pupil_behind + (bare.focal_length * k) / bare.lean * (1 - 1 / (bare.pupil_ratio * k))
    there = focused(both, FULL, u)
    assert there.magnification == pytest.approx(k * bare.magnification, rel=1e-9)
    assert there.focal_length == pytest.approx(k * bare.focal_length, rel=1e-9)
    assert there.pupil_distance == pytest.approx(bare.pupil_distance, rel=1e-9)
    assert there.principal_distance == pytest.approx(k * bare.principal_distance, rel=1e-9)
    assert effective_aperture(k * 4, there.magnification, there.pupil_ratio) == pytest.approx(
        k * effective_aperture(4, bare.magnification, bare.pupil_ratio)
    )
    # From the subject to the sensor it is further by the converter's own length, and by nothing else.
    assert u + there.sensor_distance == pytest.approx(distance + bare.sensor_distance + converter.length, abs=1e-6)


@pytest.mark.parametrize("lens", LENSES[:1] + LENSES[2:3])
def test_it_reaches_as_near_as_the_lens_alone(lens: Lens) -> None:
    converter = Converter(2, 30)
    nearest, _ = focus_reach_mm(lens, FULL)
    bare = focused(lens, FULL, nearest)
    close, _ = focus_reach_mm(with_converter(lens, converter), FULL)
    there = focused(with_converter(lens, converter), FULL, close)
    assert there.magnification == pytest.approx(2 * bare.magnification)
    assert there.pupil_distance == pytest.approx(bare.pupil_distance)
    assert travel_of(alone(with_converter(lens, converter), converter), FULL) == travel_of(lens, FULL)


def test_by_hand_at_life_size() -> None:
    """100 mm that is 75 mm at life size, D 300: u 150, c 150. Behind 2x: f 150, m 2, c 150 x 3 = 450, N twice; the sensor 330 off."""
    both = with_converter(LENSES[0], Converter(2, 30))
    assert (both.focal_length, both.max_aperture, both.min_focus, both.max_magnification, both.pupil_ratio) == (200, 5.6, 330, 2, 2)
    there = focused(both, FULL, 225)
    assert there.focal_length == pytest.approx(150)
    assert there.magnification == pytest.approx(2)
    assert there.pupil_distance == pytest.approx(150)
    assert 225 + there.sensor_distance == pytest.approx(330)


def value_with(**converter: float) -> dict:
    lens = {
        "focal_length": 200,
        "max_aperture": 5.6,
        "min_aperture": 45,
        "min_focus": 330,
        "max_magnification": 2,
        "pupil_ratio": 2,
        "converter": converter,
    }
    return scene_value(lens=lens, aperture=8, distance=900)


def test_it_stands_in_the_document_and_comes_out_as_it_went_in() -> None:
    read = scene(value_with(factor=2, length=30))
    written = write_scene(read)
    assert b'"converter"' in written
    assert write_scene(read_scene(written)) == written
    assert b"converter" not in write_scene(scene(scene_value()))


@pytest.mark.parametrize(
    ("converter", "words"),
    [
        ({"factor": 1.04}, "factor"),
        ({"factor": 4.1}, "factor"),
        ({"factor": 2, "length": 501}, "length"),
        ({"factor": 2, "length": 330}, "converter's length"),
        ({"length": 20}, "factor"),
    ],
)
def test_what_no_converter_is_is_refused(converter: dict, words: str) -> None:
    with pytest.raises(DocumentError, match=words):
        scene(value_with(**converter))
