"""Details: what the sections of a unit show of each member, drawn larger, with nothing left out."""

from __future__ import annotations

import pytest
import trimesh
from shapely.geometry import LineString, Polygon
from shapely.ops import polygonize

from ashfell.core.base.lengths import Style
from ashfell.core.drawing.details import BESIDE, detail_drafts
from ashfell.core.drawing.drafts import unit_draft
from ashfell.core.unit import read_unit
from ashfell.core.unit.make import made
from ashfell.formats.pdf_sheets import DETAILED, detail_page

WINDOW = {
    "width": "1800",
    "height": "1200",
    "frame": {"face": "60", "depth": "90", "sides": {"sill": "80"}},
    "columns": {"lights": [{}, {}, {}], "bars": ["50", "70"]},
}


def details(**own):
    return {draft.title: draft for draft in detail_drafts(made(read_unit(WINDOW | own)), Style())}


def test_each_end_and_each_face_of_bar_has_a_detail_with_its_size():
    found = [(draft.title, draft.sizes[0].length) for draft in detail_drafts(made(read_unit(WINDOW)), Style())]
    assert found == [
        ("Left jamb", 60),
        ("Right jamb", 60),
        ("Mullion", 50),
        ("Mullion", 70),
        ("Sill", pytest.approx(80)),
        ("Head", 60),
    ]
    assert len(details(columns={"lights": [{}] * 4, "bars": ["50"] * 3})) == 5  # bars that are alike are drawn once


def test_a_detail_shows_the_member_whole_and_no_more_than_what_is_beside_it():
    """As much of the frame as another library cuts of its solid at half the unit's height."""
    left = details()["Left jamb"]
    solid = next(part for part in made(read_unit(WINDOW)).parts if part.id == "frame.left").solid
    mesh = trimesh.Trimesh(solid.vertices, solid.triangles)
    segments = trimesh.intersections.mesh_plane(mesh, (0, 1, 0), (0, 600, 0))[..., ::2]
    (cut,) = polygonize([LineString(ends) for ends in segments.round(6)])
    frame = [path for path in left.paths if path.layer == "frame"]
    assert sum(Polygon(path.points, path.holes).area for path in frame) == pytest.approx(cut.area, rel=1e-6)
    low, _, high, _ = left.extent
    assert high - low <= 60 + 2 * BESIDE
    assert {"frame", "glass", "gasket", "bead"} <= {path.layer for path in left.paths}


def test_what_a_plane_cuts_of_a_ring_is_drawn_on_both_sides():
    """A gasket goes round its pane: three panes, two gaskets each, cut at two places each; as much on the right as on
    the left, in the drawing and in the details."""
    unit = made(read_unit(WINDOW))
    across = [path for path in unit_draft(unit, Style(), "across", sized=False).paths if path.layer == "gasket"]
    assert len(across) == 3 * 2 * 2
    assert len({round(Polygon(path.points).area, 3) for path in across}) == 1
    for name in ("Left jamb", "Right jamb", "Head", "Sill"):
        assert sum(path.layer == "gasket" for path in details()[name].paths) == 2, name


def test_a_side_without_a_member_has_no_detail():
    found = details(frame={"face": "60", "depth": "90", "sides": {"sill": "0"}})
    assert "Sill" not in found
    assert "Head" in found


@pytest.mark.parametrize("paper", ["A4", "A3", "A1"])
def test_details_stand_apart_on_their_sheet_at_a_usual_scale(paper):
    page = detail_page(made(read_unit(WINDOW)), Style(), paper)
    boxes = []
    for one in page.shown:
        left, foot, right, head = one.draft.extent
        boxes.append((one.x, one.y, one.x + (right - left) / one.per, one.y + (head - foot) / one.per))
        assert one.per in DETAILED
    width, height = page.size
    assert len(boxes) == 6
    for k, (left, foot, right, head) in enumerate(boxes):
        assert 0 < left < right < width
        assert 0 < foot < head < height
        for other in boxes[k + 1 :]:
            assert right <= other[0] or other[2] <= left or head <= other[1] or other[3] <= foot
