"""Openings are outlines: what a unit needs is what is cut, in every kind of host."""

from math import pi

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.refusal import Refusal
from ashfell.core.site import edit
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene

ROUND = {"width": "1000", "height": "1000", "outline": {"kind": "ellipse"}}
WALL = {"id": "north", "x": "0", "y": "0", "length": "4000", "height": "3000", "thickness": "300", "lining": "0"}


def site(units, placements, **wall):
    return {"walls": [WALL | wall], "units": units, "placements": placements}


def placed(unit, offset, **more):
    return {"id": f"{unit}-{offset}", "wall": "north", "unit": unit, "offset": offset, "sill": "900", "gap": "0"} | more


def volume(document):
    scene = build_scene(document)
    assert not scene.refused
    return sum(part.solid.volume for part in scene.definitions["wall.north"])


def test_a_round_window_cuts_a_round_hole():
    """The wall loses π r² of its thickness; facets keep within a fraction of a millimetre of the circle."""
    cut = 4000 * 3000 * 300 - volume(read_site(site({"round": ROUND}, [placed("round", "1000")])))
    assert cut == pytest.approx(pi * 500**2 * 300, rel=2e-3)
    assert cut < pi * 500**2 * 300


def test_a_gap_is_left_all_round_it():
    cut = 4000 * 3000 * 300 - volume(read_site(site({"round": ROUND}, [placed("round", "1000", gap="10")])))
    assert cut == pytest.approx(pi * 510**2 * 300, rel=2e-3)


def test_round_windows_may_be_as_near_as_their_circles_allow():
    """Their bounds overlap at the corners; the openings do not. Nearer than that they are told apart."""
    other = placed("round", "1900", sill="1400")
    near = read_site(site({"round": ROUND}, [placed("round", "1000", sill="500"), other]))
    assert not build_scene(near).refused
    assert [finding for finding in audit_scene(build_scene(near)) if finding.level == "fault"] == []
    nearer = read_site(
        site({"round": ROUND}, [placed("round", "1000", sill="500"), placed("round", "1600", sill="900")])
    )
    assert build_scene(nearer).refused


def test_a_rectangle_in_both_skins_of_a_wall_is_cut_exactly():
    plain = {"width": "1200", "height": "1500"}
    cut = 4000 * 3000 * 300 - volume(read_site(site({"plain": plain}, [placed("plain", "700", gap="5")], lining="100")))
    assert cut == pytest.approx(1210 * 1510 * 300, rel=1e-12)


def test_one_that_stands_out_of_its_wall_is_refused_at_its_address_with_what_would_fit():
    data = site({"round": ROUND}, [placed("round", "1000")])
    changed = edit.change(data, "placements.round-1000.offset", "3500")
    ((place, refusal),) = build_scene(read_site(changed)).refused
    entry = f"{place}.{refusal.entry}"
    assert entry == "placements.round-1000.offset"
    mended = edit.change(data, entry, f"{float(refusal.nearest)} mm")
    assert not build_scene(read_site(mended)).refused


def test_a_wall_that_is_not_there_is_refused():
    with pytest.raises(Refusal):
        edit.change(site({}, []), "walls.south.height", "2500")


@pytest.mark.parametrize(
    ("address", "value"),
    [("walls.north.height", "-5"), ("walls.north.thickness", "0"), ("placements.round-1000.gap", "-1")],
)
def test_a_size_that_makes_no_sense_is_refused_where_it_was_typed(address, value):
    with pytest.raises(Refusal) as caught:
        read_site(edit.change(site({"round": ROUND}, [placed("round", "1000")]), address, value))
    assert caught.value.entry == address


def test_what_has_no_id_is_refused_by_its_position():
    with pytest.raises(Refusal) as caught:
        read_site(site({}, [], id=7))
    assert caught.value.entry == "walls.0.id"
