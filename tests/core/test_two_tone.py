"""Two tones: what is before the middle of the glass has one finish, what is behind it another; trimesh cuts and
measures."""

import numpy as np
import pytest
import trimesh

from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import coated, coats
from ashfell.core.finishing.uses import named, replaced
from ashfell.core.kinds.roles import ROLES
from ashfell.core.site.document.site import read_site
from ashfell.core.site.lists import finish_rows
from ashfell.core.site.scene import build_scene
from ashfell.core.solid.parted import parted
from ashfell.core.unit import build, read_unit
from tests.core.any_unit import any_unit
from tests.core.remedied import remedied
from tests.core.test_any_unit import IN_THE_LONG_RUN

SIDED = {key: "smoked-oak" for key, role in ROLES.items() if role.sided}
OUTER = {key: "navy-paint" for key, role in ROLES.items() if role.sided}


def mesh_of(solid):
    return trimesh.Trimesh(solid.vertices, solid.triangles, process=False)


def two_toned(**own):
    return read_unit(
        {"width": "1400", "height": "1200", "finishes": {"frame": "navy-paint"}, "inner": {"frame": "smoked-oak"}} | own
    )


def middle_of_glass(parts):
    """Where the glass of a unit lies, from its panes alone, mm."""
    panes = [part.solid.bounds[:, 2] for part in parts if part.role == "glass"]
    return float(np.mean(panes))


def test_the_frame_changes_its_finish_in_the_middle_of_the_glass():
    parts = build(two_toned())
    at = middle_of_glass(parts)
    for part in (part for part in parts if part.role == "frame"):
        outer, inner = coats(part)
        assert (outer.finish, inner.finish) == ("navy-paint", "smoked-oak")
        assert outer.solid.bounds[:, 2] == pytest.approx([at, 0])
        assert inner.solid.bounds[:, 2] == pytest.approx([part.solid.bounds[0, 2], at])
    others = [part for part in parts if part.role != "frame"]
    assert all(coats(part) == (part,) for part in others)


@pytest.mark.parametrize("seed", range(120 if IN_THE_LONG_RUN else 12))
def test_coats_of_any_unit_are_its_surface_on_both_sides_of_a_plane(seed):
    """Their areas against trimesh's, of the whole and of what it cuts off; nothing is on the wrong side; volumes add
    up, since together they are closed."""
    data, _ = remedied(any_unit(seed))
    parts = build(read_unit(data | {"finishes": OUTER, "inner": SIDED}))
    assert any(part.inner for part in parts)
    for part in parts:
        if part.inner is None:
            continue
        whole, normal = mesh_of(part.solid), np.array(part.inner.normal)
        pieces = {coat.finish: coat.solid for coat in coats(part)}
        areas = {key: mesh_of(piece).area for key, piece in pieces.items()}
        assert sum(areas.values()) == pytest.approx(whole.area, rel=1e-9), part.id
        assert sum(mesh_of(piece).volume for piece in pieces.values()) == pytest.approx(part.solid.volume, rel=1e-6)
        front = trimesh.intersections.slice_mesh_plane(whole, normal, normal * part.inner.offset)
        level = np.abs(part.solid.vertices @ normal - part.inner.offset).min() < 1e-6
        assert level or areas.get("navy-paint", 0.0) == pytest.approx(front.area, rel=1e-6, abs=1e-3), part.id
        for key, sign in (("navy-paint", 1), ("smoked-oak", -1)):
            if key in pieces:
                used = pieces[key].vertices[np.unique(pieces[key].triangles)]
                assert (sign * (used @ normal - part.inner.offset) > -1e-5).all(), part.id


def test_a_sash_takes_its_coats_along_when_it_opens():
    fill = {"kind": "sash", "opening": "side-hung"}
    shut, open_ = (
        build(two_toned(fill=fill | {"opened": opened}, inner={"sash": "smoked-oak"})) for opened in (0, 100)
    )
    for before, after in zip(shut, open_, strict=True):
        if before.role == "sash":
            areas = [[mesh_of(coat.solid).area for coat in coats(part)] for part in (before, after)]
            assert areas[0] == pytest.approx(areas[1])
            assert after.inner.normal != pytest.approx(before.inner.normal)


def test_every_sash_of_a_slider_has_its_own_middle():
    fill = {"kind": "sliders", "depth": "60"}
    parts = build(two_toned(fill=fill, inner={"sash": "smoked-oak"}, frame={"depth": "200"}))
    offsets = {round(part.inner.offset, 3) for part in parts if part.role == "sash"}
    assert len(offsets) == 2


def test_what_lies_on_one_side_has_one_coat():
    parts = build(two_toned(trim={"outside": {}, "inside": {}}, finishes=OUTER, inner=SIDED))
    told = {part.entry: {coat.finish for coat in coats(part)} for part in parts if part.role == "casing"}
    assert told["trim.outside"] == {"navy-paint"}
    assert told["trim.inside"] == {"smoked-oak"}


def test_a_part_with_a_finish_of_its_own_has_that_all_over():
    parts = build(two_toned(painted={"frame.head": "bone-paint"}))
    head = next(part for part in parts if part.id == "frame.head")
    assert [coat.finish for coat in coats(head)] == ["bone-paint"]


def test_grain_and_shading_of_a_bent_member_run_on_over_the_line():
    """At every corner of a coat they are what the whole has there, between its corners."""
    parts = build(two_toned(outline={"kind": "ellipse"}))
    (ring,) = [part for part in parts if part.role == "frame"]
    lengths = [np.linalg.norm(coat.solid.corner_normals, axis=1) for coat in coats(ring)]
    assert all(length == pytest.approx(1) for length in lengths)
    for coat in coats(ring):
        at = coat.solid.vertices[coat.solid.triangles.reshape(-1)]
        low, high = ring.solid.flow.values.min(axis=0), ring.solid.flow.values.max(axis=0)
        assert (coat.solid.flow.values > low - 1e-6).all()
        assert (coat.solid.flow.values < high + 1e-6).all()
        # Where faces look along the unit's plane, shading is that of an ellipse: its gradient.
        sides = np.abs(coat.solid.corner_normals[:, 2]) < 1e-6
        rim = at[sides, :2] - [700, 600]
        gradient = rim / [700**2, 600**2]
        outer = np.abs((rim / [700, 600]) ** 2 @ [1, 1] - 1) < 0.01
        told = (gradient / np.linalg.norm(gradient, axis=1, keepdims=True))[outer]
        assert np.einsum("ij,ij->i", coat.solid.corner_normals[sides, :2][outer], told).min() > 0.99


def test_a_plane_through_corners_and_edges_parts_as_any_other():
    solid = build(two_toned())[0].solid
    for normal in np.eye(3):
        for offset in np.unique(solid.vertices @ normal):
            front, back = parted(solid, normal, float(offset))
            assert mesh_of(front).area + mesh_of(back).area == pytest.approx(mesh_of(solid).area)


@pytest.mark.parametrize("role", ["glass", "gasket", "track"])
def test_what_has_no_sides_has_no_inner_finish(role):
    with pytest.raises(Refusal, match=f"“{role}” is no role; choose .*frame") as told:
        read_unit({"inner": {role: "smoked-oak"}})
    assert told.value.entry.startswith("inner")


def test_a_placement_has_an_inner_finish_of_its_own():
    wall = {"id": "a", "length": "6 m", "thickness": "300", "height": "3 m"}
    placed = {"wall": "a", "unit": "w", "sill": "900"}
    both = [
        placed | {"id": "p1", "offset": "500"},
        placed | {"id": "p2", "offset": "3000", "inner": {"frame": "larch-timber"}},
    ]
    unit = {"finishes": {"frame": "navy-paint"}, "inner": {"frame": "smoked-oak"}}
    scene = build_scene(read_site({"walls": [wall], "units": {"w": unit}, "placements": both}))
    told = {
        key: {coat.finish for part in parts for coat in coats(part) if part.role == "frame"}
        for key, parts in scene.definitions.items()
        if any(part.role == "frame" for part in parts)
    }
    assert sorted(map(sorted, told.values())) == [["larch-timber", "navy-paint"], ["navy-paint", "smoked-oak"]]
    rows = {row.finish: row for row in finish_rows(scene)}
    frames = [part for parts in scene.definitions.values() for part in parts if part.role == "frame"]
    whole = sum(mesh_of(part.solid).area for part in frames) / 1e6
    names = ("Deep navy paint", "Smoked oak", "Larch")
    seen = [row for name, row in rows.items() if "Frame" in row.roles]
    assert sum(row.area for row in seen) == pytest.approx(whole), (names, list(rows))
    assert sum(row.volume for row in seen) == pytest.approx(sum(part.solid.volume for part in frames) / 1e9)


def test_inner_finishes_are_found_and_replaced():
    data = {"inner": {"frame": "smoked-oak"}, "trim": {"inside": {"width": "60"}}}
    assert named(data) == {"smoked-oak": "inner.frame"}
    assert replaced(data, "smoked-oak", "larch-timber")["inner"] == {"frame": "larch-timber"}


def test_many_coats_are_made_together():
    parts = build(two_toned(columns={"lights": [{}] * 12, "bars": ["40"] * 11}, width="9000"))
    assert len([*coated(parts)]) == len(parts) + sum(part.inner is not None for part in parts)


def test_coats_of_a_scene_are_those_of_its_parts_where_they_stand():
    wall = {"id": "a", "length": "6 m", "thickness": "300", "height": "3 m", "angle": 30}
    placed = [
        {"id": f"p{n}", "wall": "a", "unit": "w", "sill": "900", "offset": str(500 + 2500 * n), "mirrored": bool(n)}
        for n in range(2)
    ]
    unit = {"inner": {"frame": "smoked-oak"}, "fill": {"kind": "sash", "opened": 40}}
    scene = build_scene(read_site({"walls": [wall], "units": {"w": unit}, "placements": placed}))
    for one, other in zip(scene.coats, coated(scene.parts), strict=True):
        assert (one.id, one.finish) == (other.id, other.finish)
        assert one.solid.bounds == pytest.approx(other.solid.bounds, abs=1e-6)
        assert mesh_of(one.solid).area == pytest.approx(mesh_of(other.solid).area)
