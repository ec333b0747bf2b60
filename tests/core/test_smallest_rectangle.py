"""What is as long as it is wide one way or another is measured straight: a slice of cake from its tip to the middle of its back."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, scale, translate

from tests.core.test_bent_sided import HEART, KIDNEY, PEAR
from tests.core.test_dark_tables import HEXAGON
from tests.core.test_straight_sided import CHAMFERED, NOTCHED, STAR, WEDGE
from tests.core.test_things_seen import RED, block, disc, drawn
from tideflat.core.formats.photograph import Photograph
from tideflat.core.vision import measure
from tideflat.core.vision import smallest_rectangle as module
from tideflat.core.vision.expected_error import another_way_round
from tideflat.core.vision.measure import measure_all
from tideflat.core.vision.smallest_rectangle import _is_another, least_sides, others_as_small, smallest_rectangle


def sides(outline: shapely.Polygon, turn: float = 0.0, wavering: float = 0.0, seed: int = 1) -> tuple[tuple[float, float], float]:
    """((longer, shorter), turn against the outline's own) of an outline turned by degrees, each place of it off by about so much, mm."""
    ring = shapely.get_coordinates(shapely.segmentize(translate(rotate(outline, turn, origin=(0, 0)), 140, -60), 2.0))[:-1]
    lengths, centre, angle = smallest_rectangle(ring + np.random.default_rng(seed).normal(0, 1, ring.shape) * wavering)
    assert shapely.convex_hull(shapely.MultiPoint(ring)).contains(shapely.Point(centre))
    return lengths, (angle - turn + 90) % 180 - 90


@pytest.mark.parametrize("turn", np.arange(0, 180, 17.0))
@pytest.mark.parametrize("wavering", [0.0, 0.15])
def test_a_wedge_is_measured_along_its_middle(turn: float, wavering: float):
    lengths, along = sides(WEDGE, turn, wavering)
    assert lengths == pytest.approx((122, 76), abs=0.2 + 5 * wavering) and abs(along) < 1.5


def test_a_broad_one_too():
    broad = shapely.Polygon([(-50, 0), (50, 0), (0, 60)])
    for turn in (0.0, 33.0, 100.0):
        lengths, along = sides(broad, turn)
        assert lengths == pytest.approx((100, 60), abs=0.1) and abs(along) < 0.1


@pytest.mark.parametrize("turn", [0.0, 12.0, 77.0, 140.0])
@pytest.mark.parametrize(
    "outline",
    [
        shapely.box(-60, -20, 60, 20),
        NOTCHED,  # more alike in its two halves slantwise, where the rectangle is far larger
        CHAMFERED,
        shapely.Polygon([(-70, -20), (40, -20), (70, 20), (-40, 20)]),  # halves are unlike any way
    ],
)
def test_what_has_one_smallest_rectangle_lies_in_that(outline: shapely.Polygon, turn: float):
    plain = sides(outline, turn)[0]
    smallest = min((sides_of_box(outline, way) for way in np.arange(0, 90, 0.25)), key=lambda ab: ab[0] * ab[1])
    assert plain == pytest.approx(smallest, abs=0.4)


def sides_of_box(outline: shapely.Polygon, way: float) -> tuple[float, float]:
    x0, y0, x1, y1 = rotate(outline, way, origin=(0, 0)).bounds
    return max(x1 - x0, y1 - y0), min(x1 - x0, y1 - y0)


@pytest.mark.parametrize("turn", [0.0, 30.0, 71.0])
def test_what_is_round_or_alike_all_round_is_as_wide_any_way(turn: float):
    assert sides(shapely.Point(0, 0).buffer(40), turn)[0] == pytest.approx((80, 80), abs=0.2)
    assert sides(STAR, turn)[0] == pytest.approx((88, 76.2), abs=0.2)


@pytest.mark.parametrize(("more", "is_straight"), [(0.0275, True), (0.0325, False)])
def test_it_is_measured_along_its_middle_where_that_is_nearly_as_small(more: float, is_straight: bool):
    """A wedge with a rounded back: straight it lies in a rectangle so much larger than that along a side."""
    rounded = shapely.Polygon([(-60, -38), (62, 0), (-60, 38), (-60 - 122 * more, 0)])
    slant = sides_of_box(rounded, float(np.degrees(np.arctan2(38, 122))))
    assert 76 * 122 * (1 + more) / (slant[0] * slant[1]) == pytest.approx(1 + more, abs=0.001)
    assert (sides(rounded)[0] == pytest.approx((122 * (1 + more), 76), abs=0.3)) == is_straight


@pytest.mark.parametrize(
    ("one", "is_another"),
    [
        ((101.1, 50.0), True),  # 1.1 per cent longer
        ((100.9, 50.0), False),
        ((98.9, 51.5), True),  # shorter
        ((110.0, 46.7), True),  # 2.7 per cent larger
        ((110.0, 47.0), False),  # 3.4
        ((50.0, 101.1), True),  # whichever comes first
    ],
)
def test_another_rectangle_is_nearly_as_small_and_of_other_sides(one: tuple[float, float], is_another: bool):
    assert _is_another(np.array([0.0, 0, *one, 0.3]), np.array([0.0, 0, 50.0, 100.0, 0.1])) == is_another


@pytest.mark.parametrize(("unlike", "is_taken"), [(0.26, False), (0.24, True)])
def test_another_is_taken_where_its_halves_match_plainly_better(monkeypatch: pytest.MonkeyPatch, unlike: float, is_taken: bool):
    """Against 0.3 of the smallest's."""
    ring = shapely.get_coordinates(WEDGE.exterior)[:-1]
    smallest = least_sides(ring)

    def is_smallest(one: np.ndarray) -> bool:
        return np.allclose(sorted(one[2:4]), sorted(smallest), atol=0.1)

    monkeypatch.setattr(module, "_is_another", lambda one, least: not is_smallest(one))
    monkeypatch.setattr(module, "_unlike_halves", lambda outline, one: 0.3 if is_smallest(one) else unlike)
    assert (smallest_rectangle(ring)[0] != pytest.approx(smallest, abs=0.1)) == is_taken


# -- where others are as small ---------------------------------------------------------------------------------------------------------------


def wavering(outline: shapely.Polygon, seed: int, by_mm: float = 0.3) -> np.ndarray:
    """Its ring (n, 2), as an outline of a photograph wavers: slowly, off by about so much."""
    ring = shapely.get_coordinates(shapely.segmentize(outline, 1.0))[:-1]
    bell = np.exp(-0.5 * (np.arange(-12, 13) / 5) ** 2)
    noise = np.random.default_rng(seed).normal(0, by_mm, (len(ring), 2))
    rolled = [np.roll(noise, k, axis=0) * weight for k, weight in zip(range(-12, 13), bell, strict=True)]
    return np.asarray(ring + np.sum(rolled, axis=0) / np.sqrt((bell**2).sum()))


def _by_other_sides(ring: np.ndarray, error_mm: float) -> float:
    """How far off the sides of another rectangle, that might as well be the smallest, are from the smallest's, mm."""
    other = another_way_round(ring, error_mm)
    return 0.0 if other is None else float(np.abs(np.subtract(other, smallest_rectangle(ring)[0])).max())


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("size", [0.6, 1.0])
def test_the_sides_of_a_pear_hang_on_its_outlines_least_error(size: float, seed: int):
    assert _by_other_sides(wavering(scale(PEAR, size, size), seed), 1.5) > 2.0


@pytest.mark.parametrize("seed", range(2))
@pytest.mark.parametrize("size", [0.5, 1.0])
@pytest.mark.parametrize(
    "outline", [STAR, NOTCHED, CHAMFERED, WEDGE, HEXAGON, HEART, KIDNEY, disc(0, 0, 90), block(0, 0, 120, 90), scale(disc(0, 0, 100), 1, 0.7)]
)
def test_those_of_most_things_do_not(outline: shapely.Polygon, size: float, seed: int):
    assert _by_other_sides(wavering(scale(outline, size, size), seed), 1.5) <= 2.0


@pytest.mark.parametrize("nearly", [0.03, 0.06])
def test_what_is_only_nearer_to_its_middle_line_is_no_better(monkeypatch: pytest.MonkeyPatch, nearly: float):
    """A pear's halves match in a rectangle a tenth larger than the smallest; of those between the largest was taken, 11 mm too long."""
    monkeypatch.setattr(module, "_NEARLY", nearly)
    ring = shapely.get_coordinates(PEAR.exterior)[:-1]
    assert smallest_rectangle(ring)[0] == pytest.approx(least_sides(ring), abs=0.01)
    monkeypatch.setattr(module, "_NEARLY", 0.2)
    assert smallest_rectangle(ring)[0] == pytest.approx(np.ptp(ring, axis=0), abs=0.5)  # where that is near enough it is taken


@pytest.mark.parametrize(("flatter", "are_other"), [(0.97, True), (0.9, False)])
def test_an_oval_nearly_as_wide_as_long_has_many(flatter: float, are_other: bool):
    """Slantwise an ellipse of half axes a and b lies in a square of side sqrt(2 (a^2 + b^2)): 1.2 mm less than its length of 80 with b = 0.97
    a, and as small within 0.05 per cent. Flatter, its halves match far worse so."""
    ring = shapely.get_coordinates(scale(shapely.Point(0, 0).buffer(40, quad_segs=60), 1, flatter).exterior)[:-1]
    (longer, shorter), others = others_as_small(ring, 0.5)
    assert (longer, shorter) == pytest.approx((80, 80 * flatter), abs=0.2)
    assert bool(others) is are_other
    if are_other:
        slant = float(np.sqrt(2 * 40**2 * (1 + flatter**2)))
        assert min(abs(a - slant) for a, _ in others) < 0.2


@pytest.mark.parametrize(("off_mm", "are_other"), [(0.05, False), (0.5, True)])
def test_how_much_larger_another_may_be_hangs_on_how_well_the_outline_is_told(off_mm: float, are_other: bool):
    """A pear in a square of 80.6, and, turned by some degrees, in rectangles that are up to half a millimetre larger all round."""
    ring = shapely.get_coordinates(PEAR.exterior)[:-1]
    (longer, shorter), others = others_as_small(ring, off_mm)
    least = longer * shorter
    assert all(a * b <= least + off_mm * (longer + shorter) for a, b in others)
    assert any(abs(a - longer) > 2 for a, _ in others) is are_other


def test_a_line_has_no_other_sides():
    assert others_as_small(np.array([[0.0, 0], [50, 0], [90, 0]]), 1.0)[1] == []


@pytest.mark.parametrize(
    ("other", "is_in_doubt"),
    [((92.1, 60.0), True), ((91.9, 60.0), False), ((90.0, 57.9), True), ((90.0, 58.1), False), (None, False)],
)
def test_sides_are_in_doubt_where_others_are_further_off_than_what_is_sure_may_be(
    monkeypatch: pytest.MonkeyPatch, other: tuple[float, float] | None, is_in_doubt: bool
):
    monkeypatch.setattr(measure, "another_way_round", lambda ring, error_mm: other)
    assert bool(measure._turned_otherwise(shapely.get_coordinates(block(0, 0, 90, 60).exterior), 1.5)) is is_in_doubt


def test_of_a_pear_in_a_photograph_the_other_sides_are_named():
    pear, lid = (measure_all(Photograph(drawn((translate(one, 190, 20), RED))), "a4", 0.0)[0] for one in (PEAR, block(0, 0, 90, 60)))
    assert not pear.is_sure and pear.error_mm is None and "hang on how it is turned" in pear.why[0] and " mm is hardly larger" in pear.why[0]
    assert lid.is_sure and lid.error_mm is not None
