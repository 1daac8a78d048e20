"""Lengths: read as people write them, kept exactly, shown so that they read back the same."""

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ashfell.core.base.lengths import STYLES, Length, LengthError, exact, named, parse, show

INCH = F(254, 10)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("1500", 1500),
        ("1.5 m", 1500),
        ("25 cm", 250),
        ("6'8\"", 80 * INCH),
        ("3' 0 1/2\"", F(73, 2) * INCH),
        ("0.125in", INCH / 8),
        ('7/8"', INCH * 7 / 8),
        ("-12", -12),
        ("6 ft 8 in", 80 * INCH),
        ("6'-8\"", 80 * INCH),
        ("1 m 25 cm", 1250),
        ("½ in", INCH / 2),
        ('3½"', INCH * 7 / 2),
        ("6′ 8″", 80 * INCH),
        ("6' 8", 80 * INCH),
        ("1-1/2 in", INCH * 3 / 2),
        (" 40 MM ", 40),
        (".5 m", 500),
        ("6''", 6 * INCH),
        ("2 1/3", F(7, 3)),
        ("-6' 8\"", -80 * INCH),
    ],
)
def test_reads_what_people_write(text, mm):
    assert parse(text) == mm


def test_bare_number_has_the_unit_of_the_reader():
    assert parse("36", "in") == 36 * INCH
    assert parse("36 mm", "in") == 36


@pytest.mark.parametrize(
    ("text", "place"),
    [
        ("", 0),
        ("   ", 0),
        ("12 bananas", 3),
        ("3/0 in", 2),
        ("six", 0),
        ("5 in 2 ft", 7),
        ("1 m 25", 6),
        ("1/2/3", 3),
        ("1.5/2 in", 0),
        ("12 $", 3),
        ("--4", 1),
        ("5 mm mm", 5),
        ("99999999999", 0),
        ("1" * 90, 80),
    ],
)
def test_says_where_it_stopped_reading(text, place):
    with pytest.raises(LengthError) as caught:
        parse(text)
    assert caught.value.position == place
    assert str(caught.value).endswith(".")


@given(st.sampled_from(sorted(STYLES)), st.integers(-10_000_000, 10_000_000))
def test_what_is_shown_reads_back_the_same(unit, steps):
    style = STYLES[unit]
    length = steps * style.step
    if abs(length) <= 10_000_000:
        assert parse(show(length, style), style.bare) == length
        assert parse(named(length, style)) == length


@given(st.fractions(min_value=-10_000, max_value=10_000, max_denominator=10_000))
def test_exact_text_loses_nothing(length):
    assert parse(exact(length)) == length


@given(st.text(max_size=30))
def test_any_text_is_read_or_refused_with_its_place(text):
    try:
        assert abs(parse(text)) <= 10_000_000
    except LengthError as error:
        assert 0 <= error.position <= len(text)


def test_documents_keep_what_was_typed():
    typed = Length.read("3' 0 1/2\"")
    assert typed.text == "3' 0 1/2\""
    assert Length.read("36", "in").text == "36 in"
    assert Length.read("36", "mm").text == "36"
    assert Length.read(0.1).mm == F(1, 10)
    assert Length.read("1 m") == Length.read(1000)


def test_rounding_is_only_in_what_is_shown():
    third = F(1000, 3)
    assert show(third) == "333.33"
    assert exact(third) == "333 1/3 mm"


WRITTEN = {
    F(2032): [
        "6 ft. 8 in.",
        "6 ft, 8 in",
        "6 ft and 8 in",
        "6‘8“",
        "6´8´´",
        "6′8′′",
        "6ʹ8ʺ",
        "6`8``",
        "6’ 8”",
        "6 ft & 8 in",
    ],
    F(1500): ["1500 mm.", "1 500", "1\u00a0500", "1\u202f500", "1\u2009500 mm", "1.5e3", "15 dm", "150 cms", "1,5 m"],
    F(3001, 2): ["1,500.5", "1.500,5", "1 500,5", "1500,5 mms", "\ufeff1500.5", "15\u200b00.5"],
    F(381, 10): ['1-½"', "1–½ in", '1½"', "1 1∕2 ins", "1 1⁄2 inches", "1 1／2''"],
    F(12): ["+12", "12", "1.2e1", "＋12"],
    F(9144, 10): ["1 yd", "1 yard", "3 ft", "36 in."],
    F(1_000_000): ["1 km", "1e6", "1,000,000", "1 000 000"],
    F(127, 1000): ["5 thou", "5 mil", "127 µm", "127 \u03bcm"],
    F(254, 60): ["⅙ in", "1/6 in"],
    F(254, 100): ["⅒ in"],
    F(-4826, 5): ["-3' 2\"", "− 3' 2\"", "－3 ft 2"],
    F(1, 2): ["0,5", ".5", "½", "0,500", "5e-1"],
}


@pytest.mark.parametrize(("mm", "texts"), WRITTEN.items())
def test_reads_every_hand_and_every_keyboard(mm, texts):
    """Typographic marks, abbreviations with points, spaces and commas in numbers, exponents, units of every trade; the
    international yard and inch are 914.4 and 25.4 mm (agreement of 1959)."""
    assert {text: parse(text) for text in texts} == dict.fromkeys(texts, mm)


@pytest.mark.parametrize(
    ("text", "readings"),
    [
        ("1,500", ("1500", "1.5")),
        ("12,250 mm", ("12250", "12.25")),
        ("1'500", ("1500", "1 ft 500 in")),
        ("6' 14\"", ("1 ft 2 in",)),
    ],
)
def test_what_can_be_read_in_two_ways_is_asked_back(text, readings):
    with pytest.raises(LengthError) as caught:
        parse(text)
    assert all(reading in caught.value.reason for reading in readings)


@pytest.mark.parametrize(
    "text", ["-", "+", "٣٤", "१२", "1e999999999", "1,", "6 ft 12 in", "nan", "--5", "1 5", "1.5.5"]
)
def test_what_is_no_length_is_refused(text):
    with pytest.raises(LengthError):
        parse(text)


def test_numbers_of_json_are_read_as_they_are_written():
    assert Length.read(1e-07).mm == F(1, 10_000_000)
    assert Length.read(1e6).mm == 1_000_000
