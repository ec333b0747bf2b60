"""Overlay pictures against OpenCV's projection, read back from the written file."""

from __future__ import annotations

import io
import re

import numpy as np
import pytest
from PIL import Image

from tests.reference.test_projection_opencv import opencv_frame_fractions
from tests.support.scenes import picture, scene_value
from tideflat.core.errors import FieldError
from tideflat.core.frame.overlay import Colours, overlay_png, overlay_svg

CAMERAS = [{"elevation": 90}, {"elevation": 40, "azimuth": 15, "roll": 3}, {"elevation": 20, "orientation": "portrait"}]


def drawn(now, wide, high, **more) -> np.ndarray:
    with Image.open(io.BytesIO(overlay_png(now, wide, high, **more))) as image:
        assert (image.mode, image.size, image.format) == ("RGBA", (wide, high), "PNG")
        return np.array(image)


@pytest.mark.parametrize("camera", CAMERAS)
def test_outlines_lie_within_a_pixel_of_opencvs_projection(camera):
    """The jar's rims as ten thousand points through OpenCV: every point on the outline has a drawn pixel within one pixel, and no drawn pixel
    is far from what is projected of some thing."""
    value = scene_value(**camera)
    value["placements"] = [p for p in value["placements"] if p["id"] == "p1"]
    now = picture(value)
    wide, high = (1500, 1000) if now.setup.camera.orientation == "landscape" else (1000, 1500)
    alpha = drawn(now, wide, high, parts=("outlines",))[..., 3]
    rows, columns = np.nonzero(alpha > 100)
    around = np.linspace(0, 2 * np.pi, 10_000)
    rings = [np.column_stack([430 + 38 * np.cos(around), 310 + 38 * np.sin(around), np.full(10_000, z)]) for z in (0, 95)]
    uv = opencv_frame_fractions(value["setups"][0]["camera"], np.concatenate(rings))
    pixels = uv * (wide, high) - 0.5  # OpenCV's whole number is a pixel's middle
    lit = np.column_stack([columns, rows]).astype(float)
    for axis in (0, 1):
        for pick in (np.argmin, np.argmax):
            extreme = pixels[pick(pixels[:, axis])]
            assert np.abs(lit - extreme).max(axis=1).min() <= 1.0
    assert lit[:, 0].min() >= pixels[:, 0].min() - 1.5 and lit[:, 0].max() <= pixels[:, 0].max() + 1.5
    assert lit[:, 1].min() >= pixels[:, 1].min() - 1.5 and lit[:, 1].max() <= pixels[:, 1].max() + 1.5


def test_a_crop_is_veiled_outside_to_the_pixel_and_open_inside():
    now = picture(scene_value())
    picked = drawn(now, 1503, 1002, crop="feed", parts=("veil",))
    crop = now.crops[0].box
    left, right = crop[0] * 1503, crop[2] * 1503
    row = picked[500, :, 3].astype(int)
    assert (row[: int(left)] > 100).all() and (row[int(np.ceil(right)) :] > 100).all()
    assert (row[int(np.ceil(left)) : int(right)] == 0).all()
    share = np.ceil(left) - left  # the pixel that lies across the edge is open in that part
    assert row[int(left)] == pytest.approx((1 - share) * row[0], abs=1.5)


def test_guides_are_drawn_where_they_are_in_their_colour():
    value = scene_value()
    value["setups"][0]["guides"] = [{"axis": "u", "at": 0.25, "kind": "line"}, {"from": [0, 0], "to": [1, 1], "kind": "line"}]
    picked = drawn(picture(value), 600, 400, parts=("guides",), colours=Colours(guides="#12a0fe"))
    assert tuple(picked[20, 149, :3]) == (0x12, 0xA0, 0xFE) or tuple(picked[20, 150, :3]) == (0x12, 0xA0, 0xFE)
    assert picked[200, 300, 3] > 60 and picked[100, 450, 3] == 0
    assert not picked[picked[..., 3] == 0].any()


def test_registration_crosses_are_open_at_their_middle():
    now = picture(scene_value())
    picked = drawn(now, 3000, 2000, parts=("registration",))[..., 3]
    u0, v0, u1, v1 = now.things["p1"].box
    x, y = (u0 + u1) / 2 * 3000 - 0.5, (v0 + v1) / 2 * 2000 - 0.5
    assert picked[round(y), round(x)] == 0
    assert picked[round(y), round(x) + 30] > 0 and picked[round(y) + 30, round(x)] > 0


@pytest.mark.parametrize(("wide", "high", "is_good"), [(6000, 4000, True), (601, 401, True), (602, 401, True), (604, 401, False), (4000, 6000, False), (1080, 1350, False)])
def test_the_size_has_the_frames_own_shape(wide, high, is_good):
    now = picture(scene_value())
    if is_good:
        assert f'width="{wide}" height="{high}"' in overlay_svg(now, wide, high)
    else:
        with pytest.raises(FieldError, match="pixels: must have the frame's own shape"):
            overlay_svg(now, wide, high)


def test_more_than_a_hundred_megapixels_are_refused():
    with pytest.raises(FieldError, match="100 megapixels"):
        overlay_png(picture(scene_value()), 15_000, 10_000)


def test_the_svg_draws_the_same_places():
    value = scene_value()
    value["setups"][0]["guides"] = [{"axis": "v", "at": 0.4, "kind": "line"}]
    now = picture(value)
    text = overlay_svg(now, 3000, 2000, "feed")
    guides = re.search(r'id="guides" d="M([\d.]+) ([\d.]+)L([\d.]+) ([\d.]+)"', text)
    assert guides is not None and [float(g) for g in guides.groups()] == [0, 800, 3000, 800]
    u0, v0, u1, v1 = now.things["p1"].box
    outlines = re.search(r'id="outlines" d="([^"]+)"', text)[1]
    places = np.array([[float(n) for n in pair.split()] for pair in re.split("[ML]", outlines) if pair])
    near = places[(places[:, 0] >= u0 * 3000 - 0.01) & (places[:, 0] <= u1 * 3000 + 0.01)]
    assert np.abs(near[:, 0] - u0 * 3000).min() < 0.01 and np.abs(near[:, 0] - u1 * 3000).min() < 0.01


def test_bleed_and_safe_margins_lie_inside_the_crop():
    value = scene_value()
    value["setups"][0]["deliverables"][0] |= {"bleed": 0.05, "safe": 0.1}
    crop = picture(value).crops[0]
    wide, high = (crop.box[2] - crop.box[0]) * 36, (crop.box[3] - crop.box[1]) * 24
    short = min(wide, high)
    for box, share in ((crop.trim_box, 0.05), (crop.safe_box, 0.15)):
        assert (box[0] - crop.box[0]) * 36 == pytest.approx(share * short)
        assert (crop.box[3] - box[3]) * 24 == pytest.approx(share * short)
