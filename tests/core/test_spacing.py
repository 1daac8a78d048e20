"""Spacing: every rule closes exactly, and says what it did."""

from contextlib import suppress
from fractions import Fraction as F

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ashfell.core.base.lengths import exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import RULES, Wanted, alternatives, divide


def parts_of(least, most, parts):
    """Fractions from one whole number to another in halves, quarters and so on of ``parts``; drawn far quicker than any
    fractions."""
    return st.integers(least * parts, most * parts).map(lambda number: F(number, parts))


sizes = st.one_of(parts_of(1, 200, 64), parts_of(1, 200, 60))


@st.composite
def divisions(draw):
    count = draw(st.integers(1, 9))
    lights = [
        Wanted(size=draw(st.one_of(st.none(), st.none(), sizes)), share=draw(parts_of(1, 5, 12))) for _ in range(count)
    ]
    bars = [draw(sizes) for _ in range(count - 1)]
    asked = {
        "start": draw(sizes),
        "end": draw(sizes),
        "bars": bars,
        "lights": lights,
        "rule": draw(st.sampled_from(RULES)),
        "edge_covers": draw(st.tuples(*[parts_of(0, 20, 8)] * 2)),
        "bar_cover": draw(parts_of(0, 20, 8)),
    }
    return draw(parts_of(50, 6000, 63)), asked


@given(divisions())
def test_sums_close_exactly_and_pieces_touch(division):
    span, asked = division
    try:
        spacing = divide(span, **asked)
    except Refusal:
        assume(False)
    assert spacing.pieces[0].start == 0
    assert spacing.pieces[-1].end == span
    assert all(a.end == b.start for a, b in zip(spacing.pieces, spacing.pieces[1:], strict=False))
    assert sum(piece.size for piece in spacing.pieces) == span
    assert all(light.size >= 1 for light in spacing.lights)
    assert sum(spacing.centre_distances) == span - asked["start"] - asked["end"]


@given(divisions())
def test_the_nearest_span_named_in_a_refusal_works(division):
    span, asked = division
    with suppress(Refusal):
        divide(span, **asked)
        assume(False)
    with pytest.raises(Refusal) as caught:
        divide(span, **asked, span_entry="width")
    assume(caught.value.entry == "width")  # else a light is too small for itself
    divide(caught.value.nearest, **asked)
    assert exact(caught.value.nearest) in str(caught.value)


@given(divisions())
def test_where_the_span_cannot_be_typed_the_largest_of_fixed_lights_closes_the_sum(division):
    span, asked = division
    lights = [Wanted(F(20 * (number + 1) % 70 + 5)) for number in range(len(asked["lights"]))]
    try:
        divide(span, **asked | {"lights": lights}, entry="columns")
    except Refusal as refusal:
        if refusal.nearest is None:
            assert refusal.entry == "columns"
            return
        at = int(refusal.entry.split(".")[2])
        assert lights[at].size == max(light.size for light in lights)
        divide(span, **asked | {"lights": [*lights[:at], Wanted(refusal.nearest), *lights[at + 1 :]]})
        assert exact(refusal.nearest) in str(refusal)


@given(divisions())
def test_the_rule_makes_equal_what_it_says(division):
    span, asked = division
    try:
        spacing = divide(span, **asked)
    except Refusal:
        assume(False)
    covers = [asked["edge_covers"][0], *([asked["bar_cover"]] * len(asked["bars"])), asked["edge_covers"][1]]
    halves = [0, *(bar / 2 for bar in asked["bars"]), 0]
    beside = {"clear": [0] * len(covers), "centres": halves, "sashes": covers}[asked["rule"]]
    equal = {
        (light.size + beside[light.index] + beside[light.index + 1]) / asked["lights"][light.index].share
        for light in spacing.lights
        if not light.fixed
    }
    assert len(equal) <= 1


def test_refusal_has_the_numbers_and_a_size_that_fits():
    with pytest.raises(Refusal) as caught:
        divide(
            F(230), start=F(50), end=F(50), bars=[F(50)] * 3, lights=[Wanted()] * 4, entry="columns", span_entry="width"
        )
    assert caught.value.entry == "width"
    assert caught.value.message == "3 bars of 50 mm leave −20 mm for 4 lights."
    assert caught.value.remedy == "The frame would have to be at least 254 mm wide."


def test_fixed_lights_must_close():
    with pytest.raises(Refusal, match="100 mm over"):
        divide(F(1000), bars=[F(100)], lights=[Wanted(F(500)), Wanted(F(500))], entry="columns")
    assert divide(F(1100), bars=[F(100)], lights=[Wanted(F(500)), Wanted(F(500))]).lights_are_equal


def test_locking_a_light_keeps_its_size_when_the_span_grows():
    lights = [Wanted(), Wanted(), Wanted()]
    before = divide(F(1000), bars=[F(50)] * 2, lights=lights)
    after = divide(F(1300), bars=[F(50)] * 2, lights=[Wanted(), Wanted(before.lights[1].size), Wanted()])
    assert after.lights[1].size == before.lights[1].size == 300
    assert [light.size for light in after.lights] == [450, 300, 450]


def test_alternatives_name_each_rule_once():
    asked = {"bars": [F(50)] * 3, "lights": [Wanted()] * 4}
    found = alternatives(divide(F(2200), **asked), **asked)
    assert list(found) == list(RULES)
    assert found["centres"].lights[0].size == 525


def test_sentence_tells_sizes_rule_and_bars():
    spacing = divide(F(2200), bars=[F(50)] * 3, lights=[Wanted()] * 4, rule="centres")
    assert spacing.sentence() == "4 lights of 525, 500, 500, 525 mm clear, by equal centres; 3 bars of 50 mm."
    mixed = divide(F(2200), bars=[F(50)] * 2, lights=[Wanted(), Wanted(F(900)), Wanted()])
    assert mixed.sentence() == "2 lights of 600 mm clear, by equal clear lights; 1 fixed at 900 mm; 2 bars of 50 mm."
