"""The fit bench: a unit solved to openings, openings made for a unit; what cannot be says which size would."""

from __future__ import annotations

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.services.documents import fit_units, scene_of

UNITS = {
    "units": {
        "two": {"width": "1600", "height": "1200", "columns": {"lights": [{}, {}], "bars": ["50"]}},
        "round": {"width": "900", "height": "900", "outline": {"kind": "ellipse"}},
    }
}
WALL = {"id": "w", "length": "12 m", "thickness": "300"}


def site(*placements):
    sized = [{"id": f"p{n}", "wall": "w", "width": "1500", "height": "1300"} | own for n, own in enumerate(placements)]
    return dump(read_site({"walls": [WALL], "placements": sized}))


def fitted(data, chosen, unit="two", gaps=None, way="unit"):
    return fit_units(data, UNITS, scene_of(data | UNITS), set(chosen), unit, gaps or {}, way)


def test_a_unit_is_solved_to_each_opening_with_its_clearances():
    data = site({"offset": "1 m"}, {"offset": "4 m", "width": "2400"}, {"offset": "8 m"})
    after, told = fitted(data, ["p0", "p1"], gaps={"all": "10", "sill": "5"})
    assert [(one.placement, one.opening, one.unit) for one in told] == [
        ("p0", (1500, 1300), (1480, 1285)),
        ("p1", (2400, 1300), (2380, 1285)),
    ]
    assert told[0].lights == ("2 lights of 665 mm clear, by equal clear lights; 1 bar of 50 mm.",)
    built = scene_of(after | UNITS)
    assert built.scene.refused == ()
    assert [built.scene.openings[f"p{n}"].width for n in range(3)] == [1500, 2400, 1500]
    assert [one.unit for one in built.site.placements] == ["two", "two", None]
    assert built.scene.units["p0"].layout.overall.height == 1285


def test_openings_are_made_for_the_unit():
    data = site({"offset": "1 m"}, {"offset": "4 m"})
    after, told = fitted(data, ["p0"], gaps={"all": "10"}, way="opening")
    assert told[0].opening == (1620, 1220)
    built = scene_of(after | UNITS)
    assert (built.scene.openings["p0"].width, built.scene.openings["p0"].height) == (1620, 1220)


def test_what_cannot_be_says_which_size_would_and_that_does():
    data = site({"offset": "1 m", "width": "160"})
    after, told = fitted(data, ["p0"], gaps={"all": "10"})
    assert after["placements"] == data["placements"]
    refusal = told[0].refusal
    assert refusal.entry == "width"
    assert f"{float(refusal.nearest):g}" in refusal.remedy
    wider = site({"offset": "1 m", "width": f"{float(refusal.nearest)}"})
    assert fitted(wider, ["p0"], gaps={"all": "10"})[1][0].refusal is None


def test_openings_that_would_meet_stay_as_they_are():
    data = site({"offset": "1 m"}, {"offset": "2550"})
    after, told = fitted(data, ["p0", "p1"], gaps={"all": "20"}, way="opening")
    assert [bool(one.refusal) for one in told] == [True, True]
    assert after["placements"] == data["placements"]
    after, told = fitted(data, ["p1"], gaps={"all": "20"}, way="opening")
    assert [bool(one.refusal) for one in told] == [False]
    assert scene_of(after | UNITS).scene.refused == ()


def test_an_outline_takes_the_shape_of_its_opening():
    data = site({"offset": "1 m"})
    after, told = fitted(data, ["p0"], unit="round")
    assert told[0].unit == (1500, 1300)
    opening = scene_of(after | UNITS).scene.openings["p0"]
    assert opening.outline is not None
    assert (opening.width, opening.height) == (1500, 1300)


@pytest.mark.parametrize("gaps", [{"all": "800"}, {"head": "1300"}])
def test_clearances_that_leave_nothing_are_refused(gaps):
    _, told = fitted(site({"offset": "1 m"}), ["p0"], gaps=gaps)
    assert told[0].refusal.rule == "room for the unit"


def test_an_unknown_unit_is_refused():
    with pytest.raises(Refusal, match="no unit"):
        fitted(site({"offset": "1 m"}), ["p0"], unit="gone")
