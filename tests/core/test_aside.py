"""Lamps and cameras beside the building: hung at their level, changed, moved on the plan, said, listed."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.base.lengths import STYLES
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.kinds.lamp import LAMPS
from ashfell.core.site import edit
from ashfell.core.site.aside import eye_and_aim, groups, hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.listing import listing, some
from ashfell.core.site.say.aside import say_camera, say_lamp
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.say.writer import Slot, Writer
from ashfell.services.documents import change_site

STOREYS = [{"id": "low", "name": "Low", "height": "3200"}, {"id": "high", "name": "High", "height": "2800"}]
LAMP = {"id": "l", "name": "Pendant", "x": "1 m", "y": "2 m", "z": "2400", "storey": "high", "group": "club room"}
CAMERA = {"id": "c", "x": "0", "y": "-8 m", "to_x": "1 m", "to_y": "0", "storey": "high", "lens": 24}
SITE = {
    "format": "ashfell/site/5",
    "name": "House",
    "storeys": STOREYS,
    "walls": [{"id": "w", "length": "5 m"}],
    "plates": [],
    "roofs": [],
    "placements": [],
    "lamps": [LAMP],
    "cameras": [CAMERA],
}


def full(**more):
    from ashfell.core.base.document import dump

    data = dump(read_site(SITE | more))
    return {name: value for name, value in data.items() if name not in ("units", "finishes")}


def test_a_lamp_hangs_above_its_storey_and_a_camera_stands_on_it():
    site = read_site(SITE)
    (lamp,) = hung(site)
    assert lamp.middle.tolist() == [1000, 2000, 3200 + 2400]
    eye, aim = eye_and_aim(site, site.cameras[0])
    assert (eye.tolist(), aim.tolist()) == ([0, -8000, 4850], [1000, 0, 4850])


def test_groups_come_once_in_their_order():
    lamps = [LAMP | {"id": str(n), "group": group} for n, group in enumerate("baba")]
    assert groups(read_site(SITE | {"lamps": lamps})) == ["b", "a"]


@pytest.mark.parametrize("kind", LAMPS)
def test_a_lamp_becomes_one_of_another_kind_and_says_what_that_has(kind):
    data = edit.change(full(), "lamps.l.kind", kind)
    lamp = data["lamps"][0]
    for name, value in LAMPS[kind].start.items():
        assert lamp[name] == (value if kind != "bulb" else lamp[name])
    sentence = say_lamp(Writer(STYLES["mm"], {}), read_site(data).lamps[0], {"high": "High"})
    slots = {part.entry for part in sentence.parts if isinstance(part, Slot)}
    assert {f"lamps.l.{name}" for name in (*LAMPS[kind].entries, "lumens", "kelvin", "x", "group")} <= slots


@pytest.mark.parametrize(
    ("entry", "value"),
    [
        ("lamps.l.lumens", "0"),
        ("lamps.l.lumens", "bright"),
        ("lamps.l.kelvin", "100"),
        ("lamps.l.kind", "candle"),
        ("lamps.l.group", ""),
        ("lamps.l.group", "a:b"),
        ("lamps.l.beam", "200"),
        ("lamps.l.place", "1 m"),
        ("lamps.l.place", "far; away"),
        ("lamps.gone.x", "1"),
        ("cameras.c.lens", "2"),
        ("cameras.c.clip", "-1"),
        ("cameras.c.aim", ""),
    ],
)
def test_what_no_lamp_or_camera_can_be_is_refused(entry, value):
    with pytest.raises(Refusal):
        read_site(edit.change(full(), entry, value))


def test_they_are_moved_on_the_plan_by_their_points():
    data = edit.change(full(), "lamps.l.place", "1.5 m; -2 m")
    data = edit.change(data, "cameras.c.aim", "3 m; 4 m")
    assert (data["lamps"][0]["x"], data["lamps"][0]["y"]) == ("1.5 m", "-2 m")
    assert (data["cameras"][0]["to_x"], data["cameras"][0]["to_y"]) == ("3 m", "4 m")
    assert data["cameras"][0]["x"] == "0"


@pytest.mark.parametrize(("do", "table"), [("add-lamp", "lamps"), ("add-camera", "cameras")])
def test_they_are_added_and_removed(do, table):
    data = change_site(full(), {}, {"do": do}).data
    assert len(data[table]) == 2
    asked = {"do": "remove", "table": table, "key": data[table][0]["id"]}
    assert len(change_site(data, {}, asked).data[table]) == 1


def test_a_storey_that_goes_leaves_them_above_the_ground():
    data = edit.remove(full(), "storeys", "high")
    assert (data["lamps"][0]["storey"], data["cameras"][0]["storey"]) == (None, None)
    (lamp,) = hung(read_site(data))
    assert lamp.middle[2] == 2400


def test_they_are_listed_and_picked():
    site = read_site(SITE)
    assert listing(site, "lamps.l").picked == "lamps.l"
    assert listing(site, "cameras.c").picked == "cameras.c"
    assert listing(site, "lamps.gone").picked == "walls.w"
    text = say_camera(Writer(STYLES["mm"], {}), site.cameras[0], {"high": "High"}).text
    assert text == (
        "Stands at 0, -8000, its eye 1650 above High, looks at 1000, 0, 1650 through 24 mm, verticals kept upright, "
        "rolled 0°, nothing nearer than 0."
    )


def test_the_plan_shows_those_of_its_storey_and_what_a_camera_sees():
    scene = build_scene(read_site(SITE))
    sheet = plan_sheet(scene, STYLES["mm"], "lamps.l")
    assert sheet.storey == "high"
    lamp, camera = sheet.aside
    assert (lamp.kind, camera.kind) == ("lamp", "camera")
    eye, one, other = (np.array(point) for point in camera.sight)
    ways = [(edge - eye) / np.linalg.norm(edge - eye) for edge in (one, other)]
    # A lens of 24 mm sees 2 atan(18 / 24) across.
    assert np.degrees(np.arccos(ways[0] @ ways[1])) == pytest.approx(2 * np.degrees(np.arctan(18 / 24)), abs=1e-3)
    entries = {handle.entry for handle in sheet.handles}
    assert {"lamps.l.place", "cameras.c.place", "cameras.c.aim"} <= entries
    assert plan_sheet(scene, STYLES["mm"], "storeys.low").aside == ()


def test_of_ten_thousand_lamps_some_are_listed_and_none_is_held():
    lamps = [LAMP | {"id": f"l{n}", "x": f"{n % 100} m", "y": f"{n // 100} m"} for n in range(10_000)]
    site = read_site(SITE | {"lamps": lamps})
    shown, more = some(site.lamps, "lamps.l5000")
    assert (len(shown), more, shown[-1].id) == (41, 9959, "l5000")
    assert some(site.lamps, "walls.w")[1] == 9960
    sheet = plan_sheet(build_scene(site), STYLES["mm"], "lamps.l5000")
    assert len(sheet.aside) == 10_001
    assert [one.entry for one in sheet.handles if one.entry.startswith("lamps")] == []
