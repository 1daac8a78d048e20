"""How much may stand on one site: counted before it is made, and told with what mends it."""

from __future__ import annotations

from importlib import import_module

import pytest

from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.site import budget
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.services.documents import change_site

WALL = {"id": "w", "x": "0", "y": "0", "length": "900 m", "height": "99 m"}
HOLE = {"id": "p", "wall": "w", "width": "500", "height": "500", "offset": "10", "sill": "100"}


def repeated(along, up, **own):
    return HOLE | {"repeat": {"along": along, "up": up, "rise": "600", "gap": "50"}} | own


def refusals(scene):
    return {place: refusal for place, refusal in scene.refused if refusal.rule == budget.RULE}


def test_a_repeat_of_millions_is_counted_and_not_made():
    scene = build_scene(read_site({"walls": [WALL], "placements": [repeated(10_000, 200)]}))
    told = refusals(scene)["placements.p"]
    assert (told.entry, told.nearest) == ("repeat.along", budget.PLACED // 200)
    assert "2,000,000 openings" in told.message
    assert [*scene.openings] == ["p"]


def test_repeats_are_counted_together(monkeypatch):
    monkeypatch.setattr(budget, "PLACED", 60)
    first, second = repeated(10, 4, id="a"), repeated(7, 3, id="b", offset="200 m")
    told = refusals(build_scene(read_site({"walls": [WALL], "placements": [first, second]})))
    assert told.keys() == {"placements.b"}
    assert told["placements.b"].nearest == 6
    mended = refusals(build_scene(read_site({"walls": [WALL], "placements": [first, repeated(6, 3, id="b")]})))
    assert not mended
    third = repeated(1, 21, id="c", offset="400 m")
    full = refusals(build_scene(read_site({"walls": [WALL], "placements": [first, third]})))
    assert full["placements.c"].nearest is None
    assert full["placements.c"].remedy == "Repeat it less often going up."


def test_a_change_that_makes_too_many_is_refused(monkeypatch):
    monkeypatch.setattr(budget, "PLACED", 60)
    site = dump(read_site({"walls": [WALL], "placements": [repeated(10, 4)]}))
    with pytest.raises(Refusal, match="there are at most 60 on one site") as refused:
        change_site(site, {}, {"entry": "placements.p.repeat.up", "value": "7"})
    assert (refused.value.rule, str(refused.value.entry)) == (budget.RULE, "placements.p.repeat.along")


def test_units_that_differ_are_counted_and_those_alike_are_not(monkeypatch):
    monkeypatch.setattr(budget, "PIECES", 45)
    unit = {"width": "900", "height": "900"}

    def placed(widths):
        own = [
            {"id": f"p{k}", "wall": "w", "unit": "u", "width": str(width), "offset": str(300 + 1500 * k), "sill": "200"}
            for k, width in enumerate(widths)
        ]
        return build_scene(read_site({"walls": [WALL], "units": {"u": unit}, "placements": own}))

    assert not refusals(placed([700] * 50))
    scene = placed([700, 710, 720, 730, 740, 750, 700, 710])
    told = refusals(scene)
    # Two pieces and eleven parts each: 8 and 5. With the fourth they come to more than 45.
    assert told.keys() == {"placements.p4", "placements.p5"}
    assert {one.entry for one in told.values()} == {"unit"}
    assert scene.units.keys() == {"p0", "p1", "p2", "p3", "p6", "p7"}


def test_shapes_round_the_building_and_ways_to_grow_are_counted(monkeypatch):
    monkeypatch.setattr(budget, "SHAPES", 6)
    monkeypatch.setattr(budget, "GROWN", 3)

    def beside(kind, **own):
        made = [
            {"id": f"s{k}", "kind": kind, "x": str(9000 * k)} | {name: values[k] for name, values in own.items()}
            for k in range(len(next(iter(own.values()))))
        ]
        scene = build_scene(read_site({"surroundings": made}))
        return {place: refusal.entry for place, refusal in refusals(scene).items()}

    heights = [str(5000 + 100 * k) for k in range(8)]
    assert beside("block", height=heights) == {"surroundings.s6": "height", "surroundings.s7": "height"}
    assert beside("tree", seed=[1, 2, 3, 3, 4, 1]) == {"surroundings.s4": "seed"}
    assert beside("block", height=heights[:6]) == beside("tree", seed=[1, 1, 2, 2, 3, 3]) == {}


def test_trees_of_one_number_have_grown_alike():
    """A taller one is the same crown, drawn out."""
    trees = [
        {"id": key, "kind": "tree", "x": x, "height": h} for key, x, h in (("a", "0", "6 m"), ("b", "9 m", "12 m"))
    ]
    scene = build_scene(read_site({"surroundings": trees}))
    crowns = [scene.definitions[one.definition][0].solid for one in scene.instances]
    assert crowns[0].triangles.shape == crowns[1].triangles.shape
    (low, high), (deep, top) = crowns[0].bounds, crowns[1].bounds
    assert (high - low)[0] == pytest.approx((top - deep)[0])
    stretched = (crowns[0].vertices[:, 2] - low[2]) / (high - low)[2] * (top - deep)[2] + deep[2]
    assert sorted(stretched) == pytest.approx(sorted(crowns[1].vertices[:, 2]), abs=1e-3)


def test_a_unit_for_which_there_is_no_room_is_not_built(monkeypatch):
    """Four lights, then 64, for which there is no room whether it was made before or not, and one."""
    making = import_module("ashfell.core.unit.make")
    monkeypatch.setattr(budget, "PIECES", 60)
    built, build = [], making.build
    monkeypatch.setattr(making, "build", lambda *args: built.append(args[0].name) or build(*args))

    def grid(name, count, **more):
        lights = {"lights": [{}] * count, "bars": ["40"] * (count - 1)}
        return {"name": name, "width": "900", "height": "900", "columns": lights, "rows": lights} | more

    units = {"first": grid("First", 2), "second": grid("Second", 8), "third": grid("Third", 1, width="905")}
    own = [
        {"id": key, "wall": "w", "unit": key, "offset": str(300 + 1500 * k), "sill": "200"}
        for k, key in enumerate(units)
    ]
    for once_more in (False, True):
        scene = build_scene(read_site({"walls": [WALL], "units": units, "placements": own}))
        assert refusals(scene).keys() == {"units.second"}
        assert "Second" not in built
        assert scene.units.keys() == {"first", "third"}
        if not once_more:
            monkeypatch.setattr(budget, "PIECES", 10_000)
            assert not refusals(build_scene(read_site({"walls": [WALL], "units": units, "placements": own})))
            built.clear()
            monkeypatch.setattr(budget, "PIECES", 60)
