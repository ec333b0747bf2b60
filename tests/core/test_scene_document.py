"""The scene document: what is refused and how, what is written, and its published schema."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.malformed import MALFORMED
from tests.support.scenes import bare_value, crowded_value, raw, scene, scene_value
from tideflat.core.errors import DocumentError
from tideflat.core.formats.scene_reader import read_scene
from tideflat.core.formats.scene_writer import scene_value as written
from tideflat.core.formats.scene_writer import write_scene
from tideflat.web.scenes.starters import CHOICES, starter

SCHEMA = json.loads(files("tideflat.core.formats").joinpath("scene.schema.json").read_text())


@pytest.mark.parametrize("name", MALFORMED)
def test_a_malformed_document_is_one_line_that_names_the_path(name):
    document, path = MALFORMED[name]
    with pytest.raises(DocumentError) as caught:
        read_scene(document)
    line = str(caught.value)
    assert "\n" not in line and len(line) < 400
    assert caught.value.path == path, line
    assert line.startswith(path + ": ")


def test_there_are_at_least_thirty_malformed_documents():
    assert len(MALFORMED) >= 30


@pytest.mark.parametrize("value", [scene_value(), bare_value(), crowded_value()], ids=["full", "bare", "crowded"])
def test_what_is_written_reads_back_and_writes_the_same_bytes(value):
    first = write_scene(scene(value))
    assert write_scene(read_scene(first)) == first
    assert read_scene(first) == scene(value)


@pytest.mark.parametrize("kind", CHOICES)
def test_starters_round_trip_and_satisfy_the_published_schema(kind):
    document = write_scene(starter(kind))
    assert write_scene(read_scene(document)) == document
    jsonschema.Draft202012Validator(SCHEMA).validate(json.loads(document))


def test_left_out_keys_take_their_defaults():
    value = bare_value()
    value["setups"][0]["camera"] = {
        "sensor": {"width": 36, "height": 24},
        "lens": {"focal_length": 50},
        "aim": [0, 0, 0],
        "distance": 900,
        "elevation": 45,
    }
    for key in ("room", "backdrop", "title"):
        del value[key]
    read = scene(value)
    camera = read.setups[0].camera
    assert (camera.orientation, camera.aperture, camera.azimuth, camera.roll, camera.focus) == ("landscape", 5.6, 0, 0, None)
    assert (camera.sensor.pixels_wide, camera.sensor.pixels_high) == (6000, 4000)
    assert read.placements[0].turn == 0 and read.placements[0].on is None and not read.placements[0].locked
    assert read.brief.leaning("spacing") == 0


def test_the_schema_is_a_valid_2020_12_schema_and_takes_the_scenes_of_the_tests():
    jsonschema.Draft202012Validator.check_schema(SCHEMA)
    validator = jsonschema.Draft202012Validator(SCHEMA)
    for value in (scene_value(), bare_value(), crowded_value(), written(scene())):
        validator.validate(value)


#: What no schema can say: references, geometry, optics, bytes.
BEYOND_A_SCHEMA = {
    "not JSON",
    "empty",
    "not UTF-8",
    "ten megabytes",
    "deeply nested",
    "NaN",
    "infinity",
    "1e999",
    "an integer of 5000 digits",
    "a key twice",
    "an unknown prop",
    "an id twice",
    "a prop id twice",
    "resting on nothing known",
    "resting on itself",
    "hiding what is not there",
    "swapping in an unknown prop",
    "a neck wider than the bottle",
    "an outline that crosses itself",
    "a lens that focuses inside itself",
    "a lens open at f/22 and closed at f/2",
    "an aperture the lens has not",
    "a camera nearer than its focal length",
    "a ratio that disagrees with its pixels",
    "a crop outside the frame",
    "half a character",
    "true as version",
}


@pytest.mark.parametrize("name", sorted(set(MALFORMED) - BEYOND_A_SCHEMA))
def test_the_published_schema_refuses_what_the_reader_refuses(name):
    value: Any = json.loads(MALFORMED[name][0])
    assert not jsonschema.Draft202012Validator(SCHEMA).is_valid(value)


@settings(max_examples=60, deadline=None)
@given(
    x=st.floats(-5000, 5000),
    turn=st.floats(-360, 360),
    name=st.text(st.characters(blacklist_categories=("Cs", "Cc"), blacklist_characters="<>"), min_size=1, max_size=40),
)
def test_any_number_and_name_survives_the_round_trip(x, turn, name):
    value = bare_value()
    value["placements"][0].update(x=x, turn=turn)
    value["title"] = name if name.strip() else "x"
    document = write_scene(read_scene(raw(value)))
    again = read_scene(document)
    assert again.placements[0].x == x and again.placements[0].turn == turn
    assert write_scene(again) == document


def test_reading_never_raises_anything_but_a_document_error_on_mangled_bytes():
    import random

    source = bytearray(raw(scene_value()))
    rng = random.Random(7)
    for _ in range(400):
        mangled = bytearray(source)
        for _ in range(rng.randint(1, 4)):
            mangled[rng.randrange(len(mangled))] = rng.randrange(256)
        try:
            read_scene(bytes(mangled))
        except DocumentError as error:
            assert "\n" not in str(error)
