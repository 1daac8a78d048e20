"""What differs between two documents, and taken over: one way and back, whatever the documents are."""

from hypothesis import given
from hypothesis import strategies as st

from ashfell.core.base.differences import differences, with_differences

LEAVES = st.one_of(st.integers(), st.text(max_size=3), st.booleans())
KEYS = st.text("abcdefgh", min_size=1, max_size=3)
NAMED = st.lists(st.tuples(KEYS, LEAVES), max_size=6, unique_by=lambda one: one[0]).map(
    lambda told: [{"id": key, "value": value} for key, value in told]
)
DOCUMENTS = st.dictionaries(
    KEYS,
    st.recursive(LEAVES, lambda inner: st.one_of(st.dictionaries(KEYS, inner), st.lists(inner, max_size=4))),
    max_size=5,
)
BUILDINGS = st.builds(lambda whole, walls: whole | {"walls": walls}, DOCUMENTS, NAMED)


def by_id(data):
    """A document whose things with ids are in their order, which is all that differences do not tell."""
    return data | {"walls": sorted(data["walls"], key=lambda wall: wall["id"])}


@given(BUILDINGS, BUILDINGS)
def test_taken_over_they_make_the_other_document(one, other):
    assert by_id(with_differences(one, differences(one, other))) == by_id(other)


@given(BUILDINGS)
def test_the_same_has_none(one):
    assert differences(one, one) == []
    assert with_differences(one, []) == one


@given(BUILDINGS, BUILDINGS)
def test_what_came_in_is_not_changed(one, other):
    before = repr(one)
    with_differences(one, differences(one, other))
    assert repr(one) == before


def test_several_are_added_to_a_list_in_their_order():
    one, other = {"a": [], "b": [1]}, {"a": [0, 0, 5], "b": [1, 2, 3, 4]}
    assert with_differences(one, differences(one, other)) == other
    assert with_differences(other, differences(other, one)) == one


def test_what_holds_it_may_be_gone():
    one, other = {"a": {"b": 1}}, {"a": {"b": 2}}
    assert with_differences({"c": 1}, differences(one, other)) == {"c": 1}
