"""Lamps and cameras beside the building: hung at their level, changed, moved on the plan, said, listed."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.base.lengths import STYLES, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.drawing.wall_sheet import wall_sheet
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


# --- hung where somebody points, moved along the site's axes, drawn before a wall


def test_a_lamp_is_moved_by_so_much_exactly():
    data = full()
    moved = change_site(data, {}, {"entry": "lamps.l.moved", "value": "10 mm; -1/3 mm; 1 in"}).data["lamps"][0]
    assert (moved["x"], moved["y"], moved["z"]) == ("1010 mm", "1999 2/3 mm", "2425.4 mm")
    for wrong, told in (("1; 2", "not three lengths"), ("1; 2; far", "far")):
        with pytest.raises(Refusal, match=told):
            change_site(data, {}, {"entry": "lamps.l.moved", "value": wrong})
    with pytest.raises(Refusal, match="nobody"):
        change_site(data, {}, {"entry": "lamps.nobody.moved", "value": "1; 2; 3"})


@pytest.mark.parametrize(
    ("place", "storey", "z"),
    [
        ("1 m; 2 m; 5 m", "high", 1800),
        ("1 m; 2 m; 3.2 m", "high", 0),
        ("1 m; 2 m; 3 m", "low", 3000),
        ("0; 0; -1 m", "low", -1000),
    ],
)
def test_a_lamp_is_hung_at_a_place_on_the_storey_that_it_is_on(place, storey, z):
    made = change_site(full(lamps=[]), {}, {"do": "add-lamp", "place": place})
    (lamp,) = made.site.lamps
    assert (lamp.storey, lamp.z.mm) == (storey, z)
    (one,) = hung(made.site)
    wanted = [float(parse(text)) for text in place.split(";")]
    assert one.middle.tolist() == wanted
    without = change_site(full(lamps=[], storeys=[]), {}, {"do": "add-lamp", "place": "0; 0; 5 m"})
    assert [(one.storey, one.z.mm) for one in without.site.lamps] == [(None, 5000)]


@pytest.mark.parametrize("angle", [0, 90, 217.5])
@pytest.mark.parametrize("looks", ["outside", "inside"])
def test_lamps_before_a_wall_are_drawn_on_its_elevation(angle, looks):
    """1.5 m along it and 2 m up, 400 mm before either face; those far off, past its end and below it are not."""
    ahead, out = (np.array([np.cos(t), np.sin(t)]) for t in np.radians([angle, angle - 90]))
    wall = {"id": "w", "x": "700", "y": "-300", "length": "5 m", "angle": angle, "thickness": "300", "height": "3 m"}
    spots = {
        "o": (1500, 400, 2000),
        "i": (1500, -700, 2000),
        "far": (1500, 3100, 2000),
        "past": (5200, 400, 2000),
        "low": (1500, 400, -100),
    }
    lamps = []
    for key, (u, w, z) in spots.items():
        x, y = np.array([700, -300]) + u * ahead + w * out
        lamps.append({"id": key, "x": f"{x:.9f}", "y": f"{y:.9f}", "z": str(z)})
    sheet = wall_sheet(build_scene(read_site({"walls": [wall], "lamps": lamps})), STYLES["mm"], "w", looks=looks)
    (shown,) = sheet.lamps
    assert shown.entry == ("lamps.o" if looks == "outside" else "lamps.i")
    along = 1500 if looks == "outside" else 3500
    left = min(x for x, _ in sheet.wall)
    foot = max(y for _, y in sheet.wall)
    assert (shown.x - left) / sheet.paper.scale == pytest.approx(along, abs=0.01)
    assert (foot - shown.y) / sheet.paper.scale == pytest.approx(2000, abs=0.01)
    assert shown.along == pytest.approx(tuple(ahead), abs=1e-9)


def test_too_many_lamps_are_not_drawn_before_a_wall():
    many = [{"id": f"l{n}", "x": "1 m", "y": "-500", "z": "1 m"} for n in range(201)]
    for count, shown in ((200, 200), (201, 0)):
        site = read_site({"walls": [{"id": "w", "length": "5 m"}], "lamps": many[:count]})
        assert len(wall_sheet(build_scene(site), STYLES["mm"], "w").lamps) == shown
