"""Lengths as people type them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tideflat.core.errors import FieldError
from tideflat.core.units import DoubtfulLength, format_length, parse_angle_deg, parse_length_mm, written_number


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
    assert format_length(1148.2) == "1\u202f148 mm" and format_length(-1148.2) == "-1\u202f148 mm"
    assert format_length(3.14) == "3.1 mm"
    assert format_length(-0.2) == "-0.2 mm"
    assert format_length(1148.2, "cm") == "114.8 cm"
    assert [format_length(mm, "in") for mm in (25.4, 31.75, 6.35, -38.1)] == ["1 in", "1 1/4 in", "1/4 in", "-1 1/2 in"]


@given(st.floats(-90000, 90000), st.sampled_from([("in", 25.4 / 32), ("mm", 0.5), ("cm", 0.5)]))
def test_what_is_written_reads_back_to_half_its_last_place(mm, written):
    unit, half = written
    assert parse_length_mm(format_length(mm, unit), unit) == pytest.approx(mm, abs=half + 1e-5)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1 148", 1148), ("1\u202f148 mm", 1148), ("1,148,200", 1148200), ("1.148,5", 1148.5), ("1,148.5", 1148.5), ("1 148,5", 1148.5),
        ("300+45", 345), ("300-45", 255), ("30 cm + 5", 305), ("30+4 cm", 340), ("12in+1/2in", 317.5),
        ("12,5 cm", 125), ("4 in", 101.6), ('1/2"', 12.7),
    ],
)  # fmt: skip
def test_thousands_and_sums_are_understood(text, mm):
    assert parse_length_mm(text) == pytest.approx(mm)


@pytest.mark.parametrize("text", ["1,148", "1.148", "12,148", "999.999", "1,148 mm", "300+1,148", "01,148"])
def test_one_mark_before_three_digits_is_asked_about_with_both_readings(text):
    with pytest.raises(DoubtfulLength, match="must say which is meant") as doubt:
        parse_length_mm(text)
    assert doubt.value.as_thousands_mm == parse_length_mm(text, "mm", "thousands") > parse_length_mm(text, "mm", "decimal") == doubt.value.as_decimal_mm


def test_the_doubt_names_what_to_write_for_either():
    with pytest.raises(DoubtfulLength, match=r"1\u202f148 or 1[.]148: write 1148 for the one, 1[.]1480 for the other"):
        parse_length_mm("1,148")
    assert parse_length_mm("1.1480") == 1.148 and parse_length_mm("1148") == 1148


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("1,14", "mm", 1.14), ("1,1480", "mm", 1.148), ("0,148", "mm", 0.148), ("0.148", "mm", 0.148), (",148", "mm", 0.148),
        ("1234,148", "mm", 1234.148), ("1,148 in", "mm", 29.1592), ("1,148", "in", 29.1592), ("1,148 m", "mm", 1148), ("1,148 cm", "mm", 11.48),
        ("1,148+2in", "mm", 1.148 * 25.4 + 50.8),
    ],
)  # fmt: skip
def test_what_cannot_part_thousands_is_not_asked_about(text, unit, mm):
    assert parse_length_mm(text, unit) == pytest.approx(mm)


def test_a_sign_is_more_or_less_where_something_stood():
    assert [parse_length_mm(t, "mm", None, 120.0) for t in ("+20", "-20", "−1 cm", "20", "+1/2in")] == [140, 100, 110, 20, 132.7]
    assert parse_length_mm("-20") == -20


@given(st.floats(0.001, 99999))
def test_a_number_written_into_a_field_is_never_doubtful(value):
    assert parse_length_mm(written_number(value)) == pytest.approx(value, rel=1e-9, abs=1e-6)


def test_angles():
    assert parse_angle_deg(" 45° ") == 45 and parse_angle_deg("-5,5 deg") == -5.5
    with pytest.raises(FieldError):
        parse_angle_deg("steep")
