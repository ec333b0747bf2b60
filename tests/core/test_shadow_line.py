"""Shadows of any two lights lie on a line; things of a colour of their own do not."""

from __future__ import annotations

import numpy as np
import pytest

from tideflat.core.vision.shadow_line import NEUTRAL, shadow_lines_of


def off_of(line, ratio):
    """How far ratios (n, 3) lie off it, and what light is left."""
    return line.off_channels(list(ratio.T), list(np.log(ratio.T)))


def mixed(rest, n=3000, seed=1):
    """Places between full light and ``rest`` (3,), as a penumbra has them, with a little noise."""
    random = np.random.default_rng(seed)
    v = random.random((n, 1))
    return np.maximum(v + (1 - v) * np.array(rest) + random.normal(0, 0.006, (n, 3)), 0.01)


@pytest.mark.parametrize("rest", [(0.3, 0.3, 0.3), (0.2, 0.3, 0.42), (0.5, 0.42, 0.33), (0.62, 0.66, 0.72)])
def test_a_shadow_is_on_its_line_and_a_thing_is_off_it(rest):
    lines = shadow_lines_of(mixed(rest).T, np.ones(3000, bool))
    off, left = off_of(lines[0], mixed(rest, 200, seed=2))
    assert np.percentile(off, 95) < 0.09
    assert lines[0].deepest == pytest.approx(np.mean(rest), abs=0.08)
    for thing in ((0.7, 0.3, 0.1), (0.12, 0.3, 0.06), (0.1, 0.2, 0.5), (0.5, 0.08, 0.06)):
        assert min(float(off_of(line, np.array([thing]))[0][0]) for line in lines) > 0.3


def test_two_lamps_of_other_colours_make_two_lines():
    both = np.concatenate([mixed((0.35, 0.5, 0.68)), mixed((0.7, 0.55, 0.4), seed=3)])
    lines = shadow_lines_of(both.T, np.ones(len(both), bool))
    assert len(lines) == 2
    for rest in ((0.35, 0.5, 0.68), (0.7, 0.55, 0.4)):
        off = np.min([off_of(line, mixed(rest, 200, seed=5))[0] for line in lines], axis=0)
        assert np.percentile(off, 90) < 0.1


def test_one_colour_without_a_penumbra_or_a_green_one_is_no_shadow():
    random = np.random.default_rng(4)
    leaf = np.array([0.1, 0.25, 0.05]) * (1 + random.normal(0, 0.05, (2000, 1)))
    lines = shadow_lines_of(leaf.T, np.ones(2000, bool))
    assert float(off_of(lines[0], np.array([[0.1, 0.25, 0.05]]))[0][0]) > 0.3
    assert shadow_lines_of(np.ones((3, 500)), np.ones(500, bool)) == (NEUTRAL,)


def test_what_is_darker_than_any_shadow_is_told_by_its_light_not_by_its_colour():
    (line, *_) = shadow_lines_of(mixed((0.4, 0.4, 0.4)).T, np.ones(3000, bool))
    off, left = off_of(line, np.array([[0.05, 0.05, 0.05]]))
    assert off[0] < 0.03 and left[0] == pytest.approx(0.05)
