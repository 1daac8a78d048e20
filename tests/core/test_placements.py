"""What a placement has of its own: where its unit stands in the thickness, its head, gaps, hand, size, finishes, and
openings without a unit. What stands where is read back from the site's GLB by another library's eyes."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import change
from ashfell.core.site.scene import build_scene
from ashfell.formats import glb
from tests.formats.reading import Glb

HANDED = {
    "width": "1000",
    "height": "1200",
    "frame": {"depth": "90"},
    "columns": {"lights": [{"size": "200"}, {}], "bars": ["50"]},
    "fill": {"kind": "glass"},
}
"""Its narrow light is at the left."""
SASHES = {"u": HANDED | {"frame": {"depth": "120"}, "fill": {"kind": "sash", "depth": "70", "clearance": "14"}}}
ROUND = {"width": "900", "height": "900", "outline": {"kind": "ellipse"}, "frame": {"depth": "90"}}


def site(*placements, units=None, **wall):
    wall = {"id": "w", "length": "6000", "height": "3000", "thickness": "300", "lining": "0"} | wall
    placed = [{"id": f"p{n}", "wall": "w", "unit": "u", "offset": "1000"} | own for n, own in enumerate(placements)]
    return read_site({"walls": [wall], "placements": placed, "units": {"u": HANDED} | (units or {})})


def boxes(document):
    """The bounds of every part of every placement, in the wall's space (u along, v up, w out), mm, from the GLB."""
    read, found = Glb(glb.write_scene("Site", build_scene(document))), {}
    parents = {child: node for node in read.table["nodes"] for child in node.get("children", ())}
    for index, node in enumerate(read.table["nodes"]):
        if node["name"].startswith("placements."):
            matrix = np.array(node.get("matrix", np.eye(4).reshape(-1))).reshape(4, 4).T
            if "translation" in node:
                matrix[:3, 3] = node["translation"]
            assert parents[index]["name"] == "walls.w"
            own = {}
            for told, corners in read.parts(node["mesh"]):
                placed = (corners.reshape(-1, 3) @ matrix[:3, :3].T + matrix[:3, 3]) * 1000
                own[told["part"]] = np.array([placed.min(axis=0), placed.max(axis=0)])
            found[node["name"].removeprefix("placements.")] = own
    return found


def frame_of(own):
    held = np.array([box for key, box in own.items() if key.startswith("frame.")])
    return np.array([held[:, 0].min(axis=0), held[:, 1].max(axis=0)])


def clean(document):
    assert audit_scene(build_scene(document)) == []


@pytest.mark.parametrize(
    ("own", "front", "back"),
    [
        ({"recess": "40"}, -40, -130),
        ({"stands": "flush outside"}, 0, -90),
        ({"stands": "flush inside"}, -210, -300),
        ({"stands": "centred"}, -105, -195),
        ({"recess": "40", "turned": True}, -170, -260),
        ({"stands": "flush outside", "turned": True}, 0, -90),
        ({"stands": "flush inside", "turned": True}, -210, -300),
    ],
)
def test_where_a_frame_stands_in_the_thickness(own, front, back):
    """A frame of 90 in a wall of 300."""
    document = site(own)
    clean(document)
    box = frame_of(boxes(document)["p0"])
    assert [box[1][2], box[0][2]] == pytest.approx([front, back], abs=1e-3)
    assert [box[0][0], box[1][0]] == pytest.approx([1000, 2000], abs=1e-3)


@pytest.mark.parametrize(
    ("own", "left"),
    [({}, True), ({"mirrored": True}, False), ({"turned": True}, False), ({"mirrored": True, "turned": True}, True)],
)
def test_the_other_hand_and_the_other_face(own, left):
    """The narrow light of 200 begins 50 from one edge; its glass goes 12 behind the frame and the bar."""
    document = site(own)
    clean(document)
    narrow = boxes(document)["p0"]["glass.c1r1"]
    start = 1000 + 50 - 12 if left else 2000 - 50 - 200 - 12
    assert [narrow[0][0], narrow[1][0]] == pytest.approx([start, start + 224], abs=1e-3)


def test_a_mirrored_part_is_closed_and_outward():
    scene = build_scene(site({"mirrored": True, "opened": 30}, units=SASHES))
    parts = [part for part in scene.parts if part.id.startswith("p0/")]
    assert parts
    assert all(part.solid.is_closed and part.solid.volume > 0 for part in parts)


def test_a_head_says_where_an_opening_ends():
    document = site({"head": "2100"}, {"offset": "3000", "sill": "500"})
    tops = [opening.head for opening in build_scene(document).openings.values()]
    assert tops == [2100, 1700]
    assert frame_of(boxes(document)["p0"])[1][1] == pytest.approx(2100, abs=1e-3)


def test_gaps_by_side_and_their_mirror_image():
    for own, left in (({}, 5), ({"mirrored": True}, 20)):
        document = site(own | {"gaps": {"left": "5", "right": "20", "sill": "10"}})
        clean(document)
        opening = build_scene(document).openings["p0"]
        assert (opening.width, opening.height, opening.x) == (1025, 1210, 1000)
        assert frame_of(boxes(document)["p0"])[0][:2].tolist() == pytest.approx([1000 + left, 910], abs=1e-3)


def test_a_round_opening_keeps_its_outline_when_it_is_mirrored():
    document = site({"unit": "r", "mirrored": True, "gap": "10"}, units={"r": ROUND})
    clean(document)
    opening = build_scene(document).openings["p0"]
    assert opening.polygon.bounds == pytest.approx((1000, 900, 1920, 1820), abs=0.5)
    assert opening.area == pytest.approx(np.pi * 460**2, rel=2e-3)


def test_a_size_of_its_own_is_solved_again_and_not_stretched():
    document = site({"width": "1600", "height": "800"}, {"offset": "3500"})
    clean(document)
    scene = build_scene(document)
    lights = scene.units["p0"].layout.columns.lights
    assert [light.size for light in lights] == [200, 1600 - 100 - 50 - 200]
    assert scene.units["p1"].layout.outer.width == 1000
    assert scene.openings["p0"].width == 1600


def test_finishes_and_opened_of_its_own():
    document = site({"finishes": {"frame": "oiled-oak"}, "opened": 50}, {"offset": "3000"}, units=SASHES)
    scene = build_scene(document)
    first, second = scene.units["p0"], scene.units["p1"]
    assert {part.finish for part in first.parts if part.role == "frame"} == {"oiled-oak"}
    assert {part.finish for part in second.parts if part.role == "frame"} != {"oiled-oak"}
    assert first.layout.lights[0].sashes[0].motion is not None
    assert second.layout.lights[0].sashes[0].motion is None


def test_placements_alike_share_what_they_place():
    placed = ({"offset": str(100 + 1400 * k), "width": "1200", "opened": k % 2 * 20} for k in range(4))
    document = site(*placed, units=SASHES)
    scene = build_scene(document)
    assert len({id(unit) for unit in scene.units.values()}) == 2
    assert len([name for name in scene.definitions if name.startswith("unit.")]) == 2


def test_casings_stand_on_the_faces_of_the_wall_that_they_are_in():
    cased = {"u": HANDED | {"trim": {"outside": {}, "inside": {}}}}
    for own, recess in (({"recess": "70"}, 70), ({"stands": "centred"}, 105)):
        document = site(own, units=cased)
        clean(document)
        placed = boxes(document)["p0"]
        assert placed["casing.outside.left"][0][2] == pytest.approx(0, abs=1e-3)
        assert placed["casing.inside.left"][1][2] == pytest.approx(-300, abs=1e-3)
        assert frame_of(placed)[1][2] == pytest.approx(-recess, abs=1e-3)


def test_an_opening_without_a_unit():
    document = site({"unit": None, "width": "1200", "height": "2100", "sill": "0"})
    clean(document)
    scene = build_scene(document)
    assert scene.openings["p0"].area == 1200 * 2100
    assert "p0" not in scene.units
    wall = sum(part.solid.volume for part in scene.parts)
    assert wall == pytest.approx((6000 * 3000 - 1200 * 2100) * 300)


def test_an_opening_without_a_unit_needs_a_size():
    scene = build_scene(site({"unit": None, "height": "2100"}))
    ((place, refusal),) = scene.refused
    assert place == "placements.p0"
    assert (refusal.entry, refusal.nearest) == ("width", 1000)


def test_a_placement_that_no_longer_fits_stays_as_an_empty_opening():
    """A size at which its lights have no room, and a unit that is not there."""
    for own in ({"width": "260", "height": "900"}, {"unit": "gone", "width": "800", "height": "900"}):
        scene = build_scene(site(own))
        assert len(scene.refused) == 1
        assert scene.openings["p0"].area == float(own["width"]) * 900
        assert "p0" not in scene.units


def test_an_unknown_role_is_refused():
    with pytest.raises(Refusal) as refused:
        site({"finishes": {"handle": "brushed-metal"}})
    assert "“handle” is no role" in refused.value.message


def test_a_unit_that_fits_its_opening_is_what_the_gaps_leave():
    own = {"width": "1500", "height": "1400", "gap": "12", "gaps": {"sill": "20"}, "fits": True}
    document = site(own)
    clean(document)
    scene = build_scene(document)
    assert (scene.openings["p0"].width, scene.openings["p0"].height) == (1500, 1400)
    outer = scene.units["p0"].layout.outer
    assert (outer.width, outer.height) == (1500 - 24, 1400 - 32)
    assert [light.size for light in scene.units["p0"].layout.columns.lights] == [200, 1476 - 100 - 50 - 200]


def test_an_opening_that_gets_a_unit_keeps_its_size():
    data = dump(site({"unit": None, "width": "1300", "height": "1500", "gap": "10"}))
    document = read_site(change(data, "placements.p0.unit", "u"))
    opening = build_scene(document).openings["p0"]
    assert (opening.width, opening.height) == (1300, 1500)
    clean(document)


@pytest.mark.parametrize(
    ("place", "offset", "sill"),
    [("2 m; 1.5 m", 1500, 900), ("2004; 1552", 1500, 1000), ("2 m; 1630", 1500, 1000), ("1 m; 100", 500, 0)],
)
def test_a_unit_is_put_at_a_place_in_line_with_what_is_near(place, offset, sill):
    """Its middle there, in steps of 10 mm; the other window's sill is at 1 m."""
    from ashfell.core.site.edit import place_unit

    document = site({"offset": "4 m", "sill": "1 m"})
    put = place_unit(dump(document), document, "w", "u", place)["placements"][-1]
    opening = build_scene(read_site(dump(document) | {"placements": [put]})).openings[put["id"]]
    assert (opening.x, opening.z) == (offset, sill)
