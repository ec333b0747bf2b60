"""The sun against the worked example of its published source, and against pvlib's own solar position algorithm.

I. Reda, A. Andreas, *Solar Position Algorithm for Solar Radiation Applications*, NREL/TP-560-34302, appendix A.5: 17 October 2003, 12:30:30,
UTC - 7, 39.742476 N, 105.1786 W, 1830.14 m: zenith 50.11162, azimuth 194.34024 degrees. tests/data/sun.json: sixty places and moments by
pvlib's `spa_python` (apparent elevation, azimuth; sea level, 10 degrees Celsius), made by tools/sun_reference.py.
"""

from __future__ import annotations

import json
import math
from datetime import UTC, datetime, timedelta, timezone
from pathlib import Path

import pytest

from tideflat.cli import main
from tideflat.core.errors import FieldError
from tideflat.core.light.sun import moment_of, sun_at

ROWS = json.loads((Path(__file__).parents[1] / "data/sun.json").read_text())


def turned(a: float, b: float) -> float:
    return (a - b + 180) % 360 - 180


def test_the_worked_example_of_the_source() -> None:
    found = sun_at(39.742476, -105.1786, moment_of("2003-10-17T12:30:30-07:00"))
    assert found.elevation == pytest.approx(90 - 50.11162, abs=0.01)
    assert found.azimuth == pytest.approx(194.34024, abs=0.01)
    assert found.shadow_per_height == pytest.approx(math.tan(math.radians(50.11162)), rel=5e-4)


@pytest.mark.parametrize(("latitude", "longitude", "time", "elevation", "azimuth"), ROWS)
def test_sixty_places_and_moments_by_pvlib(latitude: float, longitude: float, time: str, elevation: float, azimuth: float) -> None:
    found = sun_at(latitude, longitude, moment_of(time))
    assert found.elevation == pytest.approx(elevation, abs=0.05)
    # Near the zenith an azimuth turns fast: what counts is the way on the sky.
    assert abs(turned(found.azimuth, azimuth)) * math.cos(math.radians(elevation)) < 0.05
    if elevation > 0.5:
        assert found.shadow_per_height == pytest.approx(1 / math.tan(math.radians(elevation)), rel=0.05 / elevation + 1e-3)
    elif elevation < 0:
        assert found.shadow_per_height is None


def test_the_same_moment_in_another_zone_is_the_same_sun() -> None:
    moment = datetime(2026, 6, 21, 14, 0, tzinfo=UTC)
    assert sun_at(54.0, 10.0, moment) == sun_at(54.0, 10.0, moment.astimezone(timezone(timedelta(hours=5, minutes=30))))


@pytest.mark.parametrize(
    ("latitude", "longitude", "time", "field"),
    [
        (90.001, 0, "2026-06-21T12:00:00+00:00", "latitude"),
        (-90.001, 0, "2026-06-21T12:00:00+00:00", "latitude"),
        (0, 180.001, "2026-06-21T12:00:00+00:00", "longitude"),
        (0, 0, "1899-12-31T12:00:00+00:00", "time"),
        (0, 0, "2101-01-01T12:00:00+00:00", "time"),
    ],
)
def test_no_place_and_no_year_past_the_ends(latitude: float, longitude: float, time: str, field: str) -> None:
    with pytest.raises(FieldError, match=field):
        sun_at(latitude, longitude, moment_of(time))


@pytest.mark.parametrize("latitude", [-90, 90])
def test_at_the_poles_there_is_a_sun_in_summer(latitude: float) -> None:
    summer = sun_at(latitude, 0, moment_of(f"2026-{'06' if latitude > 0 else '12'}-21T12:00:00+00:00"))
    assert summer.elevation == pytest.approx(23.44 + 0.04, abs=0.25)


def test_the_command_prints_what_is_published(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ["sun", "--latitude", "39.742476", "--longitude", "-105.1786", "--time", "2003-10-17T12:30:30-07:00"]
    assert main(asked) == 0
    said = json.loads(capsys.readouterr().out)
    assert set(said) == {"elevation", "azimuth", "shadow_per_height"}
    assert said["azimuth"] == pytest.approx(194.34, abs=0.01)
    assert main([*asked[:-1], "2003-10-17T23:30:30-07:00"]) == 0
    assert json.loads(capsys.readouterr().out)["shadow_per_height"] is None
    for wrong, words in (
        (asked[:-2], "must be --latitude, --longitude and --time"),
        ([*asked[:-1], "2003-10-17T12:30:30"], "--time: must have its offset"),
        ([*asked[:-1], "noon"], "--time: must be ISO 8601"),
        (["sun", "--latitude", "91", *asked[3:]], "--latitude: must be a number from -90"),
        (["sun", "--latitude", "nan", *asked[3:]], "--latitude"),
        ([*asked, "--place", "here"], "must be one of"),
        ([*asked, "file.json"], "arguments"),
    ):
        assert main(wrong) == 2
        out, err = capsys.readouterr()
        assert out == "" and words in err and err.count("\n") == 1
