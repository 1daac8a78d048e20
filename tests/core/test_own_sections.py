"""Sections of one's own: how they are fitted to a member, rebated, and swept."""

import numpy as np
import pytest
from shapely.geometry import Polygon, box

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.lengths import Length
from ashfell.core.base.refusal import Refusal
from ashfell.core.solid.section import (
    EDGES,
    FINE,
    Edge,
    drawn,
    edge_points,
    fills,
    fitted,
    sampled,
    stretched_at,
    without,
)
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.members.bar_section import bar_section
from ashfell.core.unit.members.ring import ring_profile

PLAIN = ((0.0, -80.0), (0.0, -3.0), (3.0, 0.0), (57.0, 0.0), (60.0, -5.0), (60.0, -80.0))
CROSS = {
    "columns": {"lights": [{}, {}], "bars": ["60"]},
    "rows": {"lights": [{}, {}], "bars": ["45"]},
}


def nodes(points):
    return [{"x": f"{p[0]:.9g}", "y": f"{p[1]:.9g}", "bulge": p[2] if len(p) > 2 else 0} for p in points]


def unit(**entries):
    return make(read_unit({"width": "1800", "height": "1400", **entries}))


def frame_section(made):
    return Polygon(ring_profile(made.layout.frame)[1])


@pytest.mark.parametrize("kind", EDGES)
def test_what_is_drawn_to_begin_with_is_the_worked_edge_itself(kind):
    edge = Edge(kind=kind, size=Length.read("9"))
    begun = Polygon(sampled(drawn(edge, 60, 80), FINE, closed=True))
    corners = edge_points(edge)
    outer = [(x, -y) for x, y in reversed(corners)]
    inner = [(60 - x, -y) for x, y in corners]
    assert begun.symmetric_difference(Polygon([(0, -80), *outer, *inner, (60, -80)])).area < 1


@pytest.mark.parametrize("kind", ["chamfer", "round", "ovolo", "ogee", "cove", "bead", "stepped", "rebate"])
def test_a_drawn_edge_makes_the_unit_the_worked_edge_makes(kind):
    """The drawn section has no worked edges at the back; before the glass both are the same."""
    size = {"kind": kind, "size": "8"}
    own = nodes(drawn(Edge(kind=kind, size=Length.read("8")), 60, 90))
    worked = unit(frame={"face": "60", "depth": "90", "edge": size}, bars={"edge": size}, **CROSS)
    section = unit(frame={"face": "60", "depth": "90", "section": own}, bars={"section": own}, **CROSS)
    assert audit_unit(section) == []
    for part, other in zip(worked.parts, section.parts, strict=True):
        assert part.id == other.id
        if part.role == "bar":
            assert other.solid.volume == pytest.approx(part.solid.volume, rel=2e-4)
    assert [light.clear for light in section.layout.lights] == [light.clear for light in worked.layout.lights]


def test_a_section_fits_another_face_and_depth_by_its_corners():
    """The inner half keeps its distance from the inner edge, the back half from the back."""
    other = fitted(PLAIN, 100, 120)
    assert other == ((0, -120), (0, -3), (3, 0), (97, 0), (100, -5), (100, -120))
    assert fitted(PLAIN, 60, 80) == PLAIN


def test_the_rebate_is_cut_into_the_section():
    whole = Polygon(PLAIN)
    (left,) = without(PLAIN, -1.0, 45.0, -20.0)
    assert Polygon(left).area == pytest.approx(whole.area - 15 * 60)
    assert not Polygon(left).intersects(box(45.1, -79, 59, -20.1))
    made = unit(frame={"face": "60", "section": nodes(PLAIN)})
    seat = made.layout.frame.seat
    rebate, depth = float(seat.rebate), float(made.layout.frame.back - seat.stop_back)
    assert frame_section(made).area == pytest.approx(whole.area - rebate * depth)


def test_wider_sides_are_wider_in_the_middle_only():
    made = unit(frame={"face": "60", "section": nodes(PLAIN), "sides": {"sill": "90"}})
    parts = {part.id: part for part in made.parts}
    sill, head = (parts[f"frame.{side}"].solid for side in ("sill", "head"))
    assert np.ptp(sill.bounds[:, 1]) == pytest.approx(90)
    assert np.ptp(head.bounds[:, 1]) == pytest.approx(60)
    # The outer chamfer of 3 mm is the same on both: points 3 mm in from the outer edge lie in the face.
    for solid, outer in ((sill, 0.0), (head, 1400.0)):
        assert np.isclose(np.abs(solid.vertices[:, 1] - outer), 3).any()
    assert audit_unit(made) == []


def test_a_bars_section_is_a_face_before_the_stop_and_a_stem_behind_it():
    made = unit(bars={"section": nodes([(0, -80), (0, -2), (20, -12), (40, -2), (60, 0), (60, -80)])}, **CROSS)
    run = next(bar for bar in made.layout.bars if bar.axis == "columns")
    stem, points = bar_section(run)
    behind, face = Polygon(points[:stem]), Polygon(points[stem:])
    assert behind.bounds[1] == pytest.approx(-float(run.back))
    assert behind.bounds[3] == pytest.approx(face.bounds[1]) == pytest.approx(-float(run.stop))
    assert behind.bounds[2] - behind.bounds[0] == pytest.approx(float(run.face - 2 * run.rebate))
    assert face.bounds[2] - face.bounds[0] == pytest.approx(float(run.face))
    assert audit_unit(made) == []


def test_one_bar_can_have_a_section_the_others_do_not_have():
    bars = [{"face": "60"}, {"face": "60", "section": nodes([(0, -80), (0, -6), (30, 0), (60, -6), (60, -80)])}]
    made = unit(columns={"lights": [{}, {}, {}], "bars": bars})
    first, second = (bar for bar in made.parts if bar.role == "bar")
    assert second.solid.volume < first.solid.volume
    assert audit_unit(made) == []


@pytest.mark.parametrize("outline", ["ellipse", "semicircular", "half-round", "star", "d"])
def test_a_section_goes_round_any_outline(outline):
    own = nodes(drawn(Edge(kind="ogee", size=Length.read("7")), 50, 80))
    made = unit(outline={"kind": outline}, width="1400", frame={"section": own})
    assert audit_unit(made) == []
    assert all(part.solid.volume > 0 for part in made.parts)


@pytest.mark.parametrize("kind", ["sash", "sliders"])
def test_sashes_have_sections_too(kind):
    own = nodes(drawn(Edge(kind="ovolo", size=Length.read("6")), 45, 60))
    glazing = {"thickness": "4", "setback": "14", "cover": "8", "clearance": "2"}
    fill = {"kind": kind, "section": own, "depth": "34" if kind == "sliders" else "60", "glazing": glazing}
    made = unit(frame={"depth": "100"}, fill=fill)
    assert audit_unit(made) == []
    plain = unit(frame={"depth": "100"}, fill={key: value for key, value in fill.items() if key != "section"})
    assert {p.id for p in made.parts} == {p.id for p in plain.parts}
    assert sum(p.solid.volume for p in made.parts) != pytest.approx(sum(p.solid.volume for p in plain.parts), rel=1e-6)


def test_rings_may_stand_proud_of_their_face_and_frames_may_not():
    proud = nodes([(0, -30), (0, 0), (10, 8), (20, 0), (20, -30)])
    ring = {"place": "outside", "face": "20", "depth": "30", "section": proud}
    assert audit_unit(unit(frame={"rings": [ring]})) == []
    with pytest.raises(Refusal, match="8 mm before its member's face") as caught:
        unit(frame={"section": proud})
    assert caught.value.entry == "frame.section"


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([(0, -80), (0, 0), (50, 0), (20, -30)], "no stop 1 mm thick before the glass, from 35 to 50 mm"),
        (
            [(0, -80), (0, 0), (50, 0), (50, -40), (20, -40), (20, -80)],
            "Beside a rebate of 15 mm the section must be whole from 31 to 35 mm",
        ),
        ([(0, -80), (50, 0), (50, -80), (0, 0)], "crosses itself"),
        ([(-2, -80), (0, 0), (50, 0), (50, -80)], "2 mm beyond its member's outer edge"),
        (
            [(0, -80), (0, 0), (110, 0), (110, -2), (54, -80)],
            "Drawn 110 by 80 mm, the section does not go into a member 50 wide",
        ),
    ],
)
def test_sections_that_cannot_hold_the_glass_are_refused_with_the_numbers(points, words):
    with pytest.raises(Refusal, match=words) as caught:
        unit(frame={"section": nodes(points)})
    assert caught.value.entry == "frame.section"
    assert caught.value.remedy


def test_a_bar_with_a_groove_at_its_stop_is_refused():
    groove = [(0, -80), (0, -15), (10, -25), (0, -30), (0, 0), (60, 0), (60, -80)]
    with pytest.raises(Refusal, match=r"between rebates of 15 mm|crosses itself") as caught:
        unit(bars={"section": nodes(groove)}, **CROSS)
    assert caught.value.entry == "bars.section"


def test_a_frame_inside_rings_is_checked_as_well():
    long = nodes([(0, -80), (0, 0), (110, 0), (110, -2), (54, -80)])
    with pytest.raises(Refusal, match="does not go into a member"):
        unit(frame={"section": long, "rings": [{"place": "inside", "face": "50"}]})


def test_whether_a_section_fills_a_rectangle():
    assert fills(PLAIN, 10, -70, 50, -10)
    assert not fills(PLAIN, 10, -70, 50, 1)


def test_a_front_that_goes_back_and_forth_over_its_middle_is_stretched_beside_it():
    """A groove undercut just at the middle of a section: its edges do not cross where the face is wider (shapely)."""
    front = [(40, -4), (24, -4), (18, -6), (22, -8), (12, -4), (0, -6)]
    section = [(0, -60), (40, -60), *front]
    for at in range(-60, 61):
        moved = [(x + at / 10 if 0 < x < 40 else x, w) for x, w in section]
        assert Polygon(moved).is_valid
        for face in (40, 60, 90):
            across = stretched_at([x for x, _ in moved], 20)
            wide = [(x + face - 40 if x > across else x, w) for x, w in moved]
            assert Polygon(wide).is_valid, (at, face)
            assert Polygon(wide).area > Polygon(moved).area - 1e-9
            assert Polygon(fitted(tuple(moved), face, 80)).is_valid
