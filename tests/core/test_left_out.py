"""Frames without a sill, a head or a jamb: legs to the floor, and what stands in them."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit

SASH = {"kind": "sash", "depth": "70", "clearance": "8", "opened": 60}
FILLS = [{"kind": "glass"}, {"kind": "open"}, {"kind": "panel", "style": "raised"}, {"kind": "louvres"}, SASH]


def opening(**more):
    frame = {"face": "60", "depth": "110", "sides": {"sill": "0"}}
    return {"width": "1400", "height": "2100", "frame": frame} | more


@pytest.mark.parametrize("fill", FILLS)
@pytest.mark.parametrize("bars", [0, 1])
def test_legs_to_the_floor(fill, bars):
    columns = {"lights": [{}] * (bars + 1), "bars": ["50"] * bars}
    unit = make(read_unit(opening(fill=fill, columns=columns)))
    assert audit_unit(unit) == []
    names = {part.id for part in unit.parts if part.role == "frame"}
    assert {"frame.left", "frame.right", "frame.head"} <= names
    assert "frame.sill" not in names
    left = next(part for part in unit.parts if part.id == "frame.left")
    assert left.solid.bounds[0][1] == pytest.approx(0)
    assert left.solid.bounds[1][1] == pytest.approx(2100)
    assert unit.layout.lights[0].clear.height == 2040


def test_a_leg_is_cut_square_at_the_floor():
    """60 by 110 less two arrises of 2 outside and in, and the rebate of 15 behind the stop of 20."""
    unit = make(read_unit(opening(fill={"kind": "open"})))
    left = next(part for part in unit.parts if part.id == "frame.left").solid
    ends = [
        face for face in range(len(left.triangles)) if np.abs(left.vertices[left.triangles[face]][:, 1]).max() < 1e-9
    ]
    corners = left.vertices[left.triangles[ends]]
    area = np.abs(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])[:, 1]).sum() / 2
    assert area == pytest.approx(60 * 110 - 4 * 2)


def test_glass_without_a_sill_ends_with_the_outline():
    unit = make(read_unit(opening()))
    (pane,) = unit.layout.lights[0].content.panes
    assert (pane.width, pane.height) == (1280 + 24, 2040 + 12)
    assert not any(part.id == "bead.c1r1.sill" for part in unit.parts)


def test_equal_sashes_count_the_cover_of_members_that_are_there():
    """Of 1340 clear less a bar of 50 the first light loses its cover behind one member more: 12 mm."""
    frame = {"face": "60", "sides": {"left": "0"}}
    columns = {"rule": "sashes", "lights": [{}, {}], "bars": ["50"]}
    lights = make(read_unit({"width": "1400", "frame": frame, "columns": columns})).layout.columns.lights
    assert [lights[0].size - lights[1].size, lights[0].size + lights[1].size] == [12, 1290]


def test_a_casing_stands_on_the_floor_too():
    unit = make(read_unit(opening(trim={"outside": {}})))
    assert audit_unit(unit) == []
    assert {part.id for part in unit.parts if part.role == "casing"} == {
        "casing.outside.left",
        "casing.outside.head",
        "casing.outside.right",
    }


@pytest.mark.parametrize(
    ("outline", "sides"),
    [
        ({"kind": "semicircular"}, {"head": "0"}),
        ({"kind": "semicircular"}, {"left": "0"}),
        ({"kind": "rectangle", "corners": [{"kind": "rounded", "size": "90"}]}, {"sill": "0"}),
        ({"kind": "rectangle"}, {"sill": "0", "head": "0", "jambs": "0"}),
    ],
)
def test_what_cannot_be_left_out_is_refused(outline, sides):
    with pytest.raises(Refusal) as refused:
        make(read_unit({"height": "2000", "outline": outline, "frame": {"sides": sides}}))
    assert refused.value.rule == "a side that can be left out"


@pytest.mark.parametrize(
    "edge", [{"kind": "square"}, {"kind": "rebate", "size": "4.25"}, {"kind": "ogee", "size": "6"}]
)
@pytest.mark.parametrize("radius", ["40", "130", "362.25", "900"])
@pytest.mark.parametrize("head", ["30", "60.5", "89.25"])
def test_a_shallow_corner_runs_out_where_its_neighbour_is_left_out(head, radius, edge):
    """Its facets come to nothing at some points of the section and are there at those behind: what touches itself along
    a line only is two solids, both closed."""
    frame = {"face": "48.5", "sides": {"head": head, "left": "0"}, "depth": "160", "edge": edge}
    corner = {"kind": "rounded", "size": "23.25", "radius": radius}
    outline = {"kind": "rectangle", "corners": [{}, {}, {}, corner]}
    unit = make(read_unit({"width": "1600", "height": "1331", "outline": outline, "frame": frame}))
    assert audit_unit(unit) == []
    corner_parts = [part for part in unit.parts if part.id.startswith("frame.corner")]
    assert min(part.solid.volume for part in corner_parts) > 0.1
