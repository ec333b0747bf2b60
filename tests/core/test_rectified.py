"""A photograph laid flat: made smaller by means over its pixels, whatever the quick ways on the way there."""

from __future__ import annotations

import numpy as np
import pytest

from tideflat.core.vision.rectified import flatten, shrunk


@pytest.mark.parametrize("by", [1, 2, 4, 8])
@pytest.mark.parametrize("over", [0, 1])
def test_a_smaller_picture_is_the_mean_of_so_many_pixels(by: int, over: int):
    """Also of a picture that is no whole number of times as large."""
    picture = np.random.Generator(np.random.PCG64(by)).integers(0, 256, (48 + over, 96 + over, 3)).astype(np.uint8)
    found = shrunk(picture, by)
    means = picture[: 48 // by * by, : 96 // by * by].reshape(48 // by, by, 96 // by, by, 3).mean(axis=(1, 3))
    # halves are rounded on the way
    assert np.abs(found[: 48 // by, : 96 // by].astype(float) - means).max() <= 1.6


@pytest.mark.parametrize("size", [(1200, 1600), (1201, 1603)])
@pytest.mark.parametrize("per_mm", [0.5, 0.7, 1.1, 2.3])
def test_what_is_laid_flat_lies_where_it_lay(size: tuple[int, int], per_mm: float):
    """Brightness that grows by a level a pixel along x: told at each place to a pixel, however many become one."""
    x = np.arange(size[1]) + 0.5
    picture = np.repeat(np.clip(x - 680.5, 0, 255).astype(np.uint8)[None, :, None], size[0], axis=0).repeat(3, axis=2)
    to_pixels = np.array([[4.0, 0, 800], [0, -4.0, 600], [0, 0, 1]])
    flat = flatten(picture, to_pixels, (-25.0, -100.0, 27.0, 90.0), per_mm)
    h, w = flat.known.shape
    middles = flat.mm(np.column_stack([np.arange(w) + 0.5, np.full(w, h / 2)]))
    assert flat.known.all()
    assert flat.rgb[h // 2, :, 0].astype(float) == pytest.approx(800 + 4 * middles[:, 0] - 680.5, abs=1.2)
