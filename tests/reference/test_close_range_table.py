"""From 1:20 to life size, three sensors and a phone: what is printed against a table worked on the picture's side of the lens.

S. F. Ray, *Applied Photographic Optics*, and R. Kingslake, *Optics in Photography*, give the laws (from memory): 1/u + 1/v = 1/f, m = v/f - 1,
the exit pupil P times as wide as the entrance pupil and f (1 - P) from the rear principal point. A point is sharp while the cone from the exit
pupil to its own image is no wider than c where it meets the sensor; so near and far are found behind the lens and carried out again, where
the program works before the lens.
"""

from __future__ import annotations

import math

import pytest

from tests.support.scenes import scene, scene_value
from tideflat.core.report import evaluation

SENSORS = {"full": (36.0, 24.0), "smaller": (23.5, 15.7), "four thirds": (17.3, 13.0), "phone": (7.6, 5.7)}
FOCAL = {"full": 100.0, "smaller": 60.0, "four thirds": 45.0, "phone": 6.8}
SCALES = (20, 10, 5, 2, 1)


def worked(f: float, m: float, stop: float, ratio: float, circle: float) -> dict[str, float | None]:
    """Everything behind the lens, by the laws above; distances from the front principal point."""
    v = f * (1 + m)
    exit_pupil, wide = f * (1 - ratio), ratio * f / stop
    to_sensor = v - exit_pupil

    def carried_out(image: float) -> float | None:
        return None if image <= f else f * image / (image - f)

    # The cone of a point imaged at v' is wide (v' - exit pupil) away from it; at the sensor it is |v' - v| / (v' - exit pupil) of that.
    behind = exit_pupil + to_sensor * wide / (wide - circle)
    before = exit_pupil + to_sensor * wide / (wide + circle)
    return {
        "u": f * (1 + 1 / m),
        "v": v,
        "near": carried_out(behind),
        "far": carried_out(before),
        "effective": to_sensor / wide,
        "pupil": f * (1 + 1 / m) + f * (1 / ratio - 1),
    }


def printed(sensor: tuple[float, float], u: float, stop: float, **lens: object) -> dict[str, object]:
    held = {"min_focus": None, "max_aperture": 1, "min_aperture": 45, **lens}
    body = {"width": sensor[0], "height": sensor[1], "pixels_wide": 6000, "pixels_high": 4000}
    value = scene_value(sensor=body, lens=held, distance=u, elevation=90, aim=[450, 300, 0], aperture=stop)
    value["setups"][0]["deliverables"] = []
    found: dict[str, object] = evaluation(scene(value), with_remedies=False)["setups"]["main"]["camera"]
    return found


def compare(told: dict, row: dict, sensor: tuple[float, float], m: float) -> None:
    assert told["magnification"] == pytest.approx(m, rel=5e-4)
    assert told["sensor_to_aim"] == pytest.approx(row["u"] + row["v"], rel=5e-4)
    assert told["coverage"]["width_at_aim"] == pytest.approx(sensor[0] / m, rel=5e-4)
    assert told["coverage"]["height_at_aim"] == pytest.approx(sensor[1] / m, rel=5e-4)
    sharp = told["depth_of_field"]
    assert sharp["effective_aperture"] == pytest.approx(row["effective"], rel=5e-4)
    assert sharp["airy_diameter"] == pytest.approx(2.44 * 550e-6 * row["effective"], rel=5e-4)
    # A limit is told from the principal point: what half a per cent of the depth is there decides, not half a per cent of the distance.
    for name in ("near", "far"):
        if row[name] is None:
            assert sharp[name] is None
        else:
            assert sharp[name] - row["u"] == pytest.approx(row[name] - row["u"], rel=5e-3)
    assert told["height_above_surface"] == pytest.approx(row["pupil"], rel=5e-4)
    assert told["field_of_view"]["horizontal"] == pytest.approx(2 * math.degrees(math.atan(sensor[0] / m / 2 / row["pupil"])), rel=5e-4)


@pytest.mark.parametrize("kind", SENSORS)
@pytest.mark.parametrize("scale", SCALES)
@pytest.mark.parametrize("ratio", [1.0, 0.6, 1.7])
def test_a_lens_that_moves_as_a_whole(kind: str, scale: int, ratio: float) -> None:
    sensor, f, m = SENSORS[kind], FOCAL[kind], 1 / scale
    stop = 2.0 if kind == "phone" else 11.0
    row = worked(f, m, stop, ratio, math.hypot(*sensor) / 1442)
    told = printed(sensor, row["u"], stop, focal_length=f, pupil_ratio=ratio)
    compare(told, row, sensor, m)


@pytest.mark.parametrize("kind", ["full", "smaller", "four thirds"])
@pytest.mark.parametrize("scale", [5, 2, 1])
def test_behind_tubes_the_lens_is_set_nearer_infinity_and_the_picture_is_the_same(kind: str, scale: int) -> None:
    """Tubes change what the lens is set to, not what a lens of that length does at that scale."""
    sensor, f, m = SENSORS[kind], FOCAL[kind], 1 / scale
    row = worked(f, m, 8.0, 1.0, math.hypot(*sensor) / 1442)
    told = printed(sensor, row["u"], 8.0, focal_length=f, extension=0.8 * m * f)
    compare(told, row, sensor, m)


@pytest.mark.parametrize("kind", ["full", "smaller", "four thirds"])
@pytest.mark.parametrize("scale", SCALES)
@pytest.mark.parametrize(("closest", "share"), [(1.0, 0.75), (1.0, 0.55), (0.5, 0.9)])
def test_a_lens_that_focuses_inside_is_as_long_as_it_says_there(kind: str, scale: int, closest: float, share: float) -> None:
    """f' = share f at its closest, so D = f' (1 + M)^2 / M; between, f(m) = f - (f - f') m / M, as the document says."""
    sensor, f, m = SENSORS[kind], FOCAL[kind], 1 / scale
    if m > closest:
        pytest.skip("nearer than that lens focuses")
    there = share * f
    length = f - (f - there) * m / closest
    row = worked(length, m, 11.0, 1.0, math.hypot(*sensor) / 1442)
    told = printed(sensor, row["u"], 11.0, focal_length=f, min_focus=there * (1 + closest) ** 2 / closest, max_magnification=closest)
    compare(told, row, sensor, m)


#: By hand, on paper: f, m, N, P, c; u, near, far, N (1 + m / P).
BY_HAND = [
    # 1:10, 50 mm, f/8, c 0.03: u 550; near and far 550 -+ ; N c / (f m) = 0.048, 550 / (1 +- 0.048).
    (50.0, 0.1, 8.0, 1.0, 0.03, 550.0, 524.809, 577.731, 8.8),
    # 1:2, 100 mm, f/16: u 300; N c / (f m) = 0.0096.
    (100.0, 0.5, 16.0, 1.0, 0.03, 300.0, 297.1474, 302.9079, 24.0),
    # life size, 60 mm, f/11, P 0.5: the pupil 180 from the subject, N c / (f m) = 0.0055; 180 / 1.0055 - 60, 180 / 0.9945 - 60; 11 (1 + 2).
    (60.0, 1.0, 11.0, 0.5, 0.03, 120.0, 119.01542, 120.99548, 33.0),
    # 1:20, a phone's 6.8 mm at f/1.8, c 0.0066: u 142.8; N c / (f m) = 0.034941.
    (6.8, 0.05, 1.8, 1.0, 0.0066, 142.8, 137.9789, 147.9701, 1.89),
]


@pytest.mark.parametrize(("f", "m", "stop", "ratio", "circle", "u", "near", "far", "effective"), BY_HAND)
def test_the_table_itself_against_cases_on_paper(f, m, stop, ratio, circle, u, near, far, effective) -> None:
    row = worked(f, m, stop, ratio, circle)
    assert row["u"] == pytest.approx(u)
    assert (row["near"], row["far"]) == pytest.approx((near, far), rel=2e-6)
    assert row["effective"] == pytest.approx(effective)
