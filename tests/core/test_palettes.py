"""Palettes in and out, and the way of holding the camera that serves what is asked."""

from __future__ import annotations

import json
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.scenes import scene_value
from tideflat.core.camera.orientation import ways_to_hold
from tideflat.core.camera.uses import USES, use_of
from tideflat.core.errors import FieldError
from tideflat.core.formats.palettes import KINDS, read_palette, write_palette
from tideflat.core.formats.scene_reader import scene_from_value
from tideflat.core.model import CopySpace, Deliverable, Palette, PaletteColour

PALETTE = Palette((PaletteColour("#536068", "base", 0.6), PaletteColour("#dcd7cb", "second", 0.3), PaletteColour("#d9762a", "accent", 0.1)))


@pytest.mark.parametrize("kind", KINDS)
def test_a_palette_goes_out_and_comes_back_whole(kind):
    assert read_palette(write_palette(PALETTE, kind, "Marmalade </style> morning")) == PALETTE


HEX = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")
COLOURS = st.builds(PaletteColour, HEX, st.sampled_from(["base", "second", "accent"]), st.integers(0, 100).map(lambda n: n / 100))


@given(st.lists(COLOURS, min_size=1, max_size=12).map(tuple), st.sampled_from(KINDS))
def test_any_palette_survives_every_kind_of_file(colours, kind):
    assert read_palette(write_palette(Palette(colours), kind, "x")) == Palette(colours)


def test_the_gimp_palette_is_as_that_format_is():
    lines = write_palette(PALETTE, "gpl", "A name").splitlines()
    assert lines[:2] == ["GIMP Palette", "Name: A name"]
    assert all(re.fullmatch(r"[ \d]{3} [ \d]{3} [ \d]{3}\t.+", line) for line in lines[4:]) and len(lines) == 7
    assert "</" not in write_palette(PALETTE, "css", "a</style><script>")


@pytest.mark.parametrize(
    "text",
    [
        "GIMP Palette\nName: other\n#\n 83  96 104\tslate\n220 215 203\n217 118  42\tUntitled\n",
        '["#536068", "#DCD7CB", "#d9762a"]',
        json.dumps({"colors": [{"hex": "#536068"}, {"hex": "#dcd7cb"}, {"hex": "#d9762a"}]}),
        ":root{--ink:#536068;--paper: #DCD7CB ;--pop:#d9762a}",
    ],
)
def test_palettes_of_others_are_read_the_first_as_base_the_next_as_second(text):
    assert read_palette(text) == PALETTE


@pytest.mark.parametrize(
    "text",
    [
        "",
        "hello",
        "{}",
        "[1]",
        "{",
        "GIMP Palette\n",
        "GIMP Palette\n300 0 0\n",
        '{"colours": [{"hex": "#12"}]}',
        '[{"hex": "#112233", "share": 7}]',
    ],
)
def test_what_holds_no_colours_is_refused(text):
    with pytest.raises(FieldError):
        read_palette(text)


CAMERA = scene_from_value(scene_value()).setups[0].camera


def test_tall_shapes_want_the_camera_upright_and_wide_ones_lying():
    tall = (Deliverable("story", "9:16", (1080, 1920)), Deliverable("upright", "4:5", (1080, 1350)))
    best, other = ways_to_hold(tall, CAMERA)
    assert (best.orientation, other.orientation) == ("portrait", "landscape")
    # by hand, on 36 x 24: lying, 9:16 is 13.5 x 24 of it; upright, 24 x 36 holds 20.25 x 36
    assert other.used[0].share == pytest.approx(13.5 * 24 / (36 * 24)) and best.used[0].share == pytest.approx(20.25 / 24)
    assert ways_to_hold((Deliverable("banner", "2:1", None),), CAMERA)[0].orientation == "landscape"


def test_what_all_deliverables_share_and_what_each_costs_in_pixels():
    lying = next(
        h
        for h in ways_to_hold((Deliverable("a", "1:1", (9000, 9000)), Deliverable("b", "3:2", None)), CAMERA)
        if h.orientation == "landscape"
    )
    assert lying.shared == pytest.approx(2 / 3) and lying.used[0].pixels == (4000, 4000)
    assert lying.used[0].enlargement == pytest.approx(9000 / 4000)


@pytest.mark.parametrize("use", USES, ids=lambda u: u.key)
def test_every_use_asks_for_shapes_that_a_scene_takes(use):
    value = scene_value()
    value["setups"][0]["deliverables"] = []
    for d in use.wanted:
        space = {"side": d.copy_space.side, "share": d.copy_space.share} if isinstance(d.copy_space, CopySpace) else None
        value["setups"][0]["deliverables"].append({"name": d.name, "ratio": d.ratio, "pixels": list(d.pixels), "copy_space": space})
    assert scene_from_value(value).setups[0].deliverables == use.wanted and use_of(use.key) is use
