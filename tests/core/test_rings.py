"""Rings in and round the frame: evenly over a width, by chance, with outlines of their own; which one holds the glass;
corners flatter than a quarter, and faces that differ beside them."""

from __future__ import annotations

from math import sqrt

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.edit.change import change


def ringed(*rings, **more):
    return {"width": "1400", "height": "1600", "frame": {"depth": "90", "rings": list(rings), **more}}


def lefts(unit):
    """Where each ring inside begins, from the left."""
    rings = [*unit.layout.rings, unit.layout.body.ring]
    return [ring.loop.bounds[0] for ring in rings if ring.entry.startswith("frame.rings")]


def test_four_rings_share_a_width_evenly():
    """Over 100: four faces of 10 leave 60, 15 before each."""
    unit = make(read_unit(ringed({"face": "10", "count": 4, "over": "100", "depth": "20"}, glazed=0, face="60")))
    assert lefts(unit) == pytest.approx([75, 100, 125, 150])
    assert audit_unit(unit) == []


def test_a_seed_varies_the_steps_and_keeps_their_sum():
    def at(seed):
        ring = {"face": "30", "count": 4, "step": "10", "seed": seed}
        return lefts(make(read_unit(ringed(ring))))

    evenly = lefts(make(read_unit(ringed({"face": "30", "count": 4, "step": "10"}))))
    assert at(1) != pytest.approx(at(2))
    assert at(1) == pytest.approx(at(1))
    assert len({round(step, 3) for step in np.diff(at(1))}) == 3
    assert at(1)[-1] == pytest.approx(evenly[-1])
    assert audit_unit(make(read_unit(ringed({"face": "30", "count": 4, "step": "10", "seed": 1})))) == []


def test_rings_wider_than_what_they_go_over_are_refused():
    with pytest.raises(Refusal) as refused:
        make(read_unit(ringed({"face": "30", "count": 4, "over": "100"})))
    assert (refused.value.entry, refused.value.nearest) == ("frame.rings.0.over", 120)


def test_a_round_ring_in_a_square_frame_holds_the_glass():
    ring = {"face": "40", "outline": {"kind": "ellipse"}, "steps": {"head": "80", "jambs": "20"}, "step": "10"}
    unit = make(read_unit(ringed(ring)))
    assert audit_unit(unit) == []
    held = unit.layout.body.ring
    assert held.loop.bounds == pytest.approx((70, 60, 1330, 1470), abs=0.5)
    assert unit.layout.lights[0].loop.area == pytest.approx(np.pi / 4 * 1180 * 1330, rel=2e-3)


def test_a_ring_that_crosses_its_frame_is_refused():
    """Round corners beside a frame whose own are cut off farther."""
    unit = ringed({"face": "40", "outline": {"kind": "rectangle"}})
    unit["outline"] = {"kind": "rectangle", "corners": [{"kind": "clipped", "size": "300"}]}
    with pytest.raises(Refusal) as refused:
        make(read_unit(unit))
    assert refused.value.rule == "rings that do not cross"
    assert audit_unit(make(read_unit(change(dump(read_unit(unit)), refused.value.entry, "")))) == []


@pytest.mark.parametrize(("glazed", "light"), [(None, 1180), (1, 1180), (0, 1300)])
def test_any_ring_may_hold_the_glass(glazed, light):
    """The frame's clear width is 1400 - 2 * 50; that of the ring, 20 in and 40 wide, 120 less."""
    unit = make(
        read_unit(
            ringed(
                {"face": "40", "step": "20", "depth": "15"} if glazed == 0 else {"face": "40", "step": "20"},
                glazed=glazed,
            )
        )
    )
    assert audit_unit(unit) == []
    assert unit.layout.lights[0].clear.width == light


def test_a_ring_within_the_glass_is_refused_and_its_remedy_works():
    data = dump(read_unit(ringed({"face": "40", "step": "20", "depth": "60"}, glazed=0)))
    with pytest.raises(Refusal) as refused:
        make(read_unit(data))
    assert (refused.value.entry, refused.value.nearest) == ("frame.rings.0.depth", 24)
    unit = make(read_unit(change(data, "frame.rings.0.depth", "24")))
    assert audit_unit(unit) == []


def test_rings_inside_the_glazed_one_need_one_light():
    data = ringed({"face": "40", "step": "20", "depth": "15"}, glazed=0)
    with pytest.raises(Refusal) as refused:
        make(read_unit(data | {"columns": {"lights": [{}, {}], "bars": ["50"]}}))
    assert refused.value.entry == "frame.glazed"


def test_the_page_gives_a_ring_an_outline_and_takes_it_back():
    data = dump(read_unit(ringed({"face": "40", "step": "20"})))
    given = change(data, "frame.rings.0.outline.kind", "segmental")
    assert audit_unit(make(read_unit(given))) == []
    assert given["frame"]["rings"][0]["outline"]["kind"] == "segmental"
    assert change(given, "frame.rings.0.outline.kind", "") == data


@pytest.mark.parametrize("flat", [{"rise": "10"}, {"radius": "361.62"}])
def test_a_corner_flatter_than_a_quarter(flat):
    """A chord of 100 * sqrt(2) with an arc that rises 10: its radius is (50² * 2 + 10²) / 20 = 255; and the area under
    an arc is that of its sector without its triangle."""
    unit = {
        "width": "1000",
        "height": "1000",
        "outline": {"kind": "rectangle", "corners": [{"kind": "rounded", "size": "100", **flat}]},
    }
    half = 50 * sqrt(2)
    radius = float(flat.get("radius", (half**2 + 100) / 20))
    angle = 2 * np.arcsin(half / radius)
    bow = radius**2 * (angle - np.sin(angle)) / 2
    made = make(read_unit(unit))
    assert made.layout.outline.area == pytest.approx(1e6 - 4 * (5000 - bow))
    assert audit_unit(made) == []


@pytest.mark.parametrize(
    ("flat", "entry", "nearest"), [({"radius": "90"}, "radius", 100), ({"rise": "40"}, "rise", 29.28)]
)
def test_an_arc_of_more_than_a_quarter_is_refused(flat, entry, nearest):
    corners = [{"kind": "rounded", "size": "100", **flat}]
    with pytest.raises(Refusal) as refused:
        make(read_unit({"outline": {"kind": "rectangle", "corners": corners}}))
    assert refused.value.entry == f"outline.corners.0.{entry}"
    assert float(refused.value.nearest) == pytest.approx(nearest)


def test_faces_differ_beside_a_round_corner_and_its_arcs_stay_arcs():
    """Outside an arc of 200 about (200, 200); inside it keeps its centre for the lesser face, 50, and is then moved by
    what the sill is more."""
    corners = [{"kind": "rounded", "size": "200"}]
    unit = make(read_unit({"outline": {"kind": "rectangle", "corners": corners}, "frame": {"sides": {"sill": "120"}}}))
    assert audit_unit(unit) == []
    clear = unit.layout.body.ring.clear
    inner = np.array([point for point, tag in zip(clear.points, clear.tags, strict=True) if tag == "corner.1"])
    assert np.hypot(*(inner - (200, 270)).T) == pytest.approx(150, abs=0.3)


def test_the_head_of_a_round_arch_may_be_wider_than_its_jambs():
    unit = {
        "width": "1000",
        "height": "1800",
        "outline": {"kind": "semicircular"},
        "frame": {"face": "50", "sides": {"head": "90"}},
    }
    made = make(read_unit(unit))
    assert audit_unit(made) == []
    clear = made.layout.body.ring.clear
    assert clear.bounds == pytest.approx((50, 50, 950, 1710), abs=0.3)
    head = np.array([point for point, tag in zip(clear.points, clear.tags, strict=True) if tag == "head"])
    assert np.hypot(*(head - (500, 1260)).T) == pytest.approx(450, abs=0.5)


def test_steps_differ_beside_round_corners():
    unit = ringed({"face": "40", "step": "10", "steps": {"head": "60", "left": "0"}})
    unit["outline"] = {"kind": "rectangle", "corners": [{"kind": "rounded", "size": "150"}]}
    assert audit_unit(make(read_unit(unit))) == []


@pytest.mark.parametrize("seed", [None, 5, 381, 777])
@pytest.mark.parametrize("over", ["168", "100", "131.5"])
def test_what_holds_glass_holds_it_exactly_wherever_its_steps_put_it(over, seed):
    """Steps that come to thirds, or to parts by chance: neither glass nor beads are beside their rebate by a hair."""
    ring = {"place": "outside", "face": "32", "depth": "80", "count": 3, "over": over, "seed": seed}
    document = read_unit(
        {
            "width": "839",
            "height": "1806",
            "frame": {"depth": "20", "rings": [ring], "glazed": 1},
            "glazing": {"setback": "24"},
        }
    )
    made = make(document)
    layout = made.layout
    assert [one for one in audit_unit(made) if one.level == "fault"] == []
    (light,) = layout.lights
    assert np.abs(np.array(light.loop.bounds) - layout.holder.clear.bounds).max() < 1e-8
    thirds = (float(over) - 96) / 3
    steps = [float(ring.loop.bounds[0]) for ring in layout.all_rings if ring.entry != "frame"]
    assert seed or min(steps) == pytest.approx(-3 * (32 + thirds))
