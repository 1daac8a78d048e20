"""What leaves strike in a site, told with the angle: by the sine of the leaf's width and the room before it."""

import re
from math import asin, degrees

import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.swings import audit_swings
from ashfell.core.base.document import dump
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.starts import start_from

LEAF = dump(start_from("panelled-leaf", "Door"))


def site(apart=None, turns=90, **own):
    """A door in a wall, and where ``apart`` says so a wall in front of it, so far from its face."""
    walls = [{"id": "own", "name": "Own wall", "length": "4 m", "thickness": "120", "height": "2600", "lining": "0"}]
    if apart is not None:
        other = {"id": "other", "name": "Other wall", "y": str(-apart - 100), "thickness": "100", "lining": "0"}
        walls.append(walls[0] | other)
    fill = LEAF["fill"] | {"turns": turns, "hardware": []}
    placement = {"id": "door", "wall": "own", "unit": "door", "offset": "1500", "sill": "0", "stands": "flush outside"}
    return {
        "name": "Site",
        "walls": walls,
        "placements": [placement | own],
        "units": {"door": LEAF | {"fill": fill}},
    }


def told(data):
    scene = build_scene(read_site(data))
    assert scene.refused == ()
    return [*audit_swings(scene)]


@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("apart", [250, 500, 700])
def test_a_wall_before_a_leaf_is_struck_where_the_leaf_reaches_it(apart, mirrored):
    (finding,) = told(site(apart, mirrored=mirrored))
    assert (finding.level, finding.rule, finding.place) == ("warning", "room to open", "placements.door")
    assert "strikes Other wall" in finding.reason
    angle = float(re.search(r"by ([\d.]+)°", finding.reason)[1])
    # 900 wide, hung 1.5 before its edge: its far corner is as far off the wall as the sine says.
    assert angle == pytest.approx(degrees(asin(apart / 901.5)), abs=3)


def test_with_room_for_its_width_it_strikes_nothing():
    assert told(site(920)) == []
    assert told(site()) == []
    assert audit_scene(build_scene(read_site(site(920)))) == []


def test_turned_inwards_the_wall_before_it_is_out_of_its_way():
    assert told(site(300, turned=True, stands="flush inside")) == []


def test_two_leaves_that_open_towards_each_other_strike_as_they_stand():
    data = site(1400)
    own = data["placements"][0]
    other = own | {"id": "facing", "wall": "other", "turned": True, "stands": "flush inside", "opened": 90}
    data["placements"] = [own, other]
    found = told(data)
    assert any(
        "strikes the leaf of facing" in finding.reason and finding.place == "placements.door" for finding in found
    )


def test_it_is_turned_further_than_a_quarter_only_where_there_is_room():
    assert told(site(turns=180)) == []
    beside = site(turns=180)
    wall = beside["walls"][0] | {"id": "wing", "name": "Wing", "x": "1200", "y": "-2000", "angle": 90, "length": "1990"}
    beside["walls"].append(wall)
    (finding,) = told(beside)
    assert "strikes Wing" in finding.reason
    assert float(re.search(r"by ([\d.]+)°", finding.reason)[1]) > 90
