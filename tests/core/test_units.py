"""Lengths as people type them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tideflat.core.errors import FieldError
from tideflat.core.units import format_length, parse_angle_deg, parse_length_mm


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("12in", 304.8),
        ("30 cm", 300),
        ('1/4"', 6.35),
        ("1 1/2 in", 38.1),
        ("12,5", 12.5),
        ("0.5 m", 500),
        ("-40 mm", -40),
        ("−3", -3),
        ("3 ft", 914.4),
        (".5in", 12.7),
    ],
)
def test_a_length_is_understood(text, mm):
    assert parse_length_mm(text) == pytest.approx(mm)


def test_a_bare_number_is_in_the_unit_of_the_person():
    assert parse_length_mm("2", "in") == pytest.approx(50.8)
    assert parse_length_mm("2", "cm") == 20


@pytest.mark.parametrize("text", ["", "wide", "1/0 in", "12 apples", "1e3", "nan", "--4", "9" * 50])
def test_what_is_no_length_is_refused_with_an_example(text):
    with pytest.raises(FieldError, match="length: must"):
        parse_length_mm(text)


def test_lengths_are_written_as_an_instrument_would():
    assert format_length(1148.2) == "1,148 mm"
    assert format_length(3.14) == "3.1 mm"
    assert format_length(-0.2) == "-0.2 mm"
    assert format_length(1148.2, "cm") == "114.8 cm"
    assert [format_length(mm, "in") for mm in (25.4, 31.75, 6.35, -38.1)] == ["1 in", "1 1/4 in", "1/4 in", "-1 1/2 in"]


@given(st.floats(-9000, 9000))
def test_what_is_written_in_inches_reads_back_to_a_thirty_second(mm):
    assert parse_length_mm(format_length(mm, "in").replace(",", "")) == pytest.approx(mm, abs=25.4 / 32 + 1e-5)


def test_angles():
    assert parse_angle_deg(" 45° ") == 45 and parse_angle_deg("-5,5 deg") == -5.5
    with pytest.raises(FieldError):
        parse_angle_deg("steep")
