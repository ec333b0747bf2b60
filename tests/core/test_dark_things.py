"""What is dark on the paper is a thing where its border is sharp and the things of the other reading have soft ones."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from tests.core.test_outlines_in_doubt import SHEET, flat_of
from tests.core.test_things_seen import PAPER, RED, block, drawn
from tideflat.core.vision import ground
from tideflat.core.vision.dark_things import dark_things, has_dark_things, is_sharper, sharp_share, sharpness_of_borders
from tideflat.core.vision.ground import tell_apart
from tideflat.core.vision.reflections import cleaned, rim_of

PER_MM = 1.2
SHAPE = (160, 200)
NAVY = (58, 72, 88)
#: Of the paper's light, each channel (encoded), what each of two lamps of other colours leaves where it alone is hidden.
BLUE_SHADE, WARM_SHADE = (0.76, 0.81, 0.90), (0.88, 0.81, 0.72)


def fading(foot: shapely.Polygon, dx: float, dy: float, left: tuple[float, float, float], steps: int = 30) -> list:
    """A shadow of one colour whose border fades over a third of its length."""
    shape = [
        (translate(foot, dx * t, dy * t).union(foot).convex_hull, (steps - n) / steps) for n, t in enumerate(np.linspace(1.0, 0.67, steps))
    ]
    return [(where, tuple(int(c * (1 - (1 - s) * (1 - much))) for c, s in zip(PAPER, left, strict=True))) for where, much in shape]


def covered(flat, mask, place) -> float:
    return float(mask[flat.inside(place)].mean())


@pytest.mark.parametrize("turn", [0.0, 0.3])
@pytest.mark.parametrize("ways", [((-60.0, 75.0), (45.0, -50.0)), ((70.0, 30.0), (-40.0, -60.0))])
def test_a_dark_box_between_two_coloured_shadows_is_the_thing_and_they_are_not(turn, ways):
    foot = block(-5, -10, 70, 52, turn)
    shades = [shade for way, left in zip(ways, (BLUE_SHADE, WARM_SHADE), strict=True) for shade in fading(foot, *way, left)]
    flat = flat_of(drawn(*shades, (foot, NAVY)))
    mask = tell_apart(flat, SHEET).mask
    assert covered(flat, mask, foot.buffer(-3)) > 0.95
    for way in ways:
        core = translate(foot, way[0] * 0.6, way[1] * 0.6).difference(foot.buffer(6)).buffer(-6)
        assert covered(flat, mask, core) < 0.1


def test_a_hard_deep_shadow_beside_a_plain_thing_is_no_thing():
    foot = block(-5, -10, 70, 52)
    shade = translate(foot, 18, 22).union(foot).convex_hull
    flat = flat_of(drawn((shade, (70, 68, 64)), (foot, RED)))
    mask = tell_apart(flat, SHEET).mask
    assert covered(flat, mask, foot.buffer(-3)) > 0.95
    assert covered(flat, mask, shade.difference(foot.buffer(3)).buffer(-3)) < 0.1


def test_the_other_reading_is_asked_for_only_where_something_dark_is_not_told(monkeypatch):
    asked = []
    told = ground._told
    monkeypatch.setattr(ground, "_told", lambda *a: (asked.append(1), told(*a))[1])
    tell_apart(flat_of(drawn((block(-5, -10, 70, 52), RED))), SHEET)
    assert len(asked) == 1


@pytest.mark.parametrize(("wide_mm", "is_sharp"), [(0.0, True), (1.0, True), (8.0, False), (20.0, False)])
@pytest.mark.parametrize("step", [0.2, 2.0])
@pytest.mark.parametrize("per_mm", [1.2, 4.0])
def test_the_border_of_a_thing_is_sharp_and_a_shadows_is_not_however_strong(wide_mm: float, is_sharp: bool, step: float, per_mm: float):
    x = (np.arange(SHAPE[1]) - 100) / per_mm
    ramp = (np.clip(x / wide_mm + 0.5, 0, 1) if wide_mm else (x > 0)) * -step
    log = np.repeat(ramp[None, :, None], SHAPE[0], axis=0).repeat(3, axis=2).astype(np.float32)
    assert (sharpness_of_borders(log, per_mm)[80, 100] > 0.6) == is_sharp


@pytest.mark.parametrize(("side", "left", "sharp", "is_found"), [
    (12.0, 0.1, 1.0, True), (9.0, 0.1, 1.0, False),
    (12.0, 0.34, 1.0, True), (12.0, 0.36, 1.0, False),
    (12.0, 0.1, 0.62, True), (12.0, 0.1, 0.58, False),
])  # fmt: skip
def test_what_is_dark_large_and_sharp_enough_may_be_a_thing(side: float, left: float, sharp: float, is_found: bool):
    paper, sure, over = np.ones(SHAPE, bool), np.zeros(SHAPE, bool), np.ones(SHAPE, np.float32)
    n = round(side * PER_MM)
    over[60 : 60 + n, 60 : 60 + n] = left
    found = dark_things(paper, over, sure, np.full(SHAPE, sharp, np.float32), PER_MM)
    assert found.any() == is_found
    told = sure.copy()
    told[100:140, 100:140] = True
    assert has_dark_things(paper, over, told, PER_MM) == (left < 0.35 and side > 10)
    assert not has_dark_things(paper, over, sure, PER_MM)  # with nothing told beside it, what is dark is its shadow


@pytest.mark.parametrize(("own", "than", "is_better"), [(0.9, 0.5, True), (0.8, 0.5, False), (0.95, 0.9, False), (0.95, 0.8, True)])
def test_the_reading_with_plainly_sharper_borders_is_taken(own: float, than: float, is_better: bool):
    paper, sharpness = np.ones(SHAPE, bool), np.zeros(SHAPE, np.float32)
    masks = []
    for share, left in ((own, 20), (than, 120)):
        mask = np.zeros(SHAPE, bool)
        mask[40:120, left : left + 60] = True
        rim = np.flatnonzero(rim_of(cleaned(mask, PER_MM)))
        sharpness.flat[rim[: round(share * len(rim))]] = 1.0
        masks.append(mask)
    shares = [sharp_share(mask, paper, sharpness, PER_MM) for mask in masks]
    assert shares == pytest.approx([own, than], abs=0.01)
    assert is_sharper(shares[0], shares[1]) == is_better


def test_a_reading_without_borders_on_the_paper_is_no_sharper():
    assert sharp_share(np.zeros(SHAPE, bool), np.ones(SHAPE, bool), np.ones(SHAPE, np.float32), PER_MM) is None
    assert not is_sharper(None, 0.0) and not is_sharper(1.0, 0.9) and is_sharper(1.0, 0.89)
