"""Walls, openings and scenes."""

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import add, change, place_unit, refuse_worse, remove
from ashfell.core.site.plan import plan
from ashfell.core.site.scene import build_scene

WALL = {"id": "w", "length": "6 m", "height": "3 m", "thickness": "300", "lining": "100"}
UNIT = {"width": "2000", "height": "1600"}


def site(placements=(), walls=(WALL,), unit=UNIT):
    placed = [{"id": f"p{n}", "wall": "w", "unit": "u", "sill": "500"} | p for n, p in enumerate(placements)]
    return read_site({"walls": list(walls), "placements": placed, "units": {"u": unit}})


def wall_volume(scene, key="w"):
    return sum(part.solid.volume for part in scene.definitions[f"wall.{key}"])


def test_opening_goes_through_the_whole_thickness_with_body_and_lining():
    scene = build_scene(site([{"offset": "1000"}]))
    assert wall_volume(scene) == pytest.approx((6000 * 3000 - 2000 * 1600) * 300)
    assert all(part.solid.is_closed for part in scene.parts)


def test_openings_may_reach_the_foot_and_the_head_of_the_wall():
    scene = build_scene(site([{"offset": "1000", "sill": "0"}, {"offset": "3500", "sill": "1400"}]))
    assert wall_volume(scene) == pytest.approx((6000 * 3000 - 2 * 2000 * 1600) * 300)
    assert all(part.solid.is_closed and part.solid.volume > 0 for part in scene.parts)


def test_touching_openings_and_a_wall_in_pieces():
    high = {"width": "1000", "height": "3000"}
    scene = build_scene(site([{"offset": "1000", "sill": "0"}, {"offset": "2000", "sill": "0"}], unit=high))
    pieces = [part for part in scene.definitions["wall.w"] if part.id.startswith("body")]
    assert len(pieces) == 2
    assert wall_volume(scene) == pytest.approx((6000 - 2000) * 3000 * 300)


def test_offset_from_either_end_and_the_centre():
    for measured, offset, x in (
        ("start", "1000", 1000),
        ("end", "1000", 3000),
        ("centre", "0", 2000),
        ("centre", "-50", 1950),
    ):
        scene = build_scene(site([{"measured": measured, "offset": offset}]))
        assert scene.openings["p0"].x == x


def test_the_unit_stands_recessed_in_its_opening():
    scene = build_scene(site([{"offset": "1000", "recess": "40", "gap": "10"}]))
    frame = np.array([part.solid.bounds for part in scene.parts if part.role == "frame"])
    assert frame[:, 0].min(axis=0) == pytest.approx([1010, 40, 510])
    assert frame[:, 1].max(axis=0) == pytest.approx([3010, 120, 2110])


def test_a_unit_turns_with_its_wall():
    turned = WALL | {"angle": 90, "x": "1000", "y": "500"}
    scene = build_scene(site([{"offset": "1000", "recess": "0"}], walls=[turned]))
    frame = np.array([part.solid.bounds for part in scene.parts if part.role == "frame"])
    assert frame[:, 0].min(axis=0) == pytest.approx([920, 1500, 500])
    assert frame[:, 1].max(axis=0) == pytest.approx([1000, 3500, 2100])


def test_walls_that_meet_are_mitred_and_share_no_volume():
    second = WALL | {"id": "v", "x": "6 m", "angle": 90}
    scene = build_scene(site(walls=[WALL, second]))
    assert wall_volume(scene) + wall_volume(scene, "v") == pytest.approx((6000 * 2 - 300) * 300 * 3000)
    assert not [finding for finding in audit_scene(scene) if finding.level == "fault"]
    corner = plan(scene)[0].solid[0]
    assert [5700, 300] in corner.round(6).tolist()


def test_walls_that_run_into_each_other_are_found():
    crossing = WALL | {"id": "v", "x": "3 m", "y": "-1 m", "angle": 90}
    document = site(walls=[WALL, crossing])
    assert "no overlap" in {finding.rule for finding in audit_scene(build_scene(document))}


@pytest.mark.parametrize(
    ("placement", "words"),
    [
        ({"offset": "4500"}, "passes the end of “Wall”"),
        ({"offset": "-10"}, "passes the start"),
        ({"offset": "0", "sill": "1500"}, "sill can be at most 1400 mm"),
        ({"unit": "none"}, "no unit"),
        ({"wall": "none"}, "no wall"),
    ],
)
def test_what_does_not_fit_is_left_out_with_its_reason(placement, words):
    document = site([{"offset": "0"} | placement])
    scene = build_scene(document)
    findings = [finding for finding in audit_scene(scene) if finding.level == "fault"]
    assert words in " ".join(finding.reason + finding.remedy for finding in findings)
    assert wall_volume(scene) == pytest.approx(6000 * 3000 * 300)


def test_overlapping_openings_are_refused_with_the_overlap():
    scene = build_scene(site([{"offset": "1000"}, {"offset": "2500"}]))
    assert "by 500 mm along the wall" in str(scene.refused[0][1])
    assert list(scene.openings) == ["p0"]


def test_a_unit_wider_than_its_wall_says_so():
    scene = build_scene(site([{"offset": "0"}], unit={"width": "7000", "height": "1600"}))
    assert "7000 mm wide and “Wall” only 6000 mm long" in str(scene.refused[0][1])


def test_a_frame_out_of_the_wall_is_found():
    document = site([{"offset": "1000", "recess": "250"}])
    found = audit_scene(build_scene(document))
    assert "stands 30 mm out of the wall's inner face" in " ".join(finding.reason for finding in found)


def test_changes_to_the_site():
    data = dump(site([{"offset": "1000"}]))
    assert change(data, "walls.w.length", "20 ft")["walls"][0]["length"] == "20 ft"
    more = add(data, "walls")
    assert [wall["id"] for wall in more["walls"]] == ["w", "wall-1"]
    assert not remove(more, "walls", "w")["placements"]
    with pytest.raises(Refusal, match="no “x” to remove"):
        remove(data, "walls", "x")
    with pytest.raises(Refusal, match="not an angle"):
        change(data, "walls.w.angle", "steep")


def test_a_change_that_leaves_a_window_out_is_refused():
    before = site([{"offset": "1000"}])
    shorter = read_site(change(dump(before), "walls.w.length", "2500"))
    with pytest.raises(Refusal, match=r"by 500 mm") as caught:
        refuse_worse(build_scene(before), build_scene(shorter))
    assert caught.value.entry == "placements.p0.offset"


def test_a_unit_is_placed_where_there_is_room():
    document = site([{"offset": "500"}])
    data = place_unit(dump(document), document, "w", "u")
    assert data["placements"][1] | {"id": ""} == data["placements"][1] | {
        "id": "",
        "offset": "3250 mm",
        "measured": "start",
        "sill": "900 mm",
    }
    assert len(build_scene(read_site(data)).openings) == 2
    tall = site(unit={"width": "1000", "height": "2500"})
    assert place_unit(dump(tall), tall, "w", "u")["placements"][0]["sill"] == "500 mm"
    assert place_unit(dump(tall), tall, "w", "u")["placements"][0]["measured"] == "centre"


def test_no_room_says_how_much_there_is():
    full = site([{"offset": "1000"}, {"offset": "3500"}])
    with pytest.raises(Refusal, match="widest free stretch of “Wall” is 1000 mm; the unit is 2000 mm wide"):
        place_unit(dump(full), full, "w", "u")
