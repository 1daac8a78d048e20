"""What stands round a building: blocks and trees of exact sizes, once for all alike, moved, said and listed."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.finish import LIBRARY
from ashfell.core.kinds.surrounding import SURROUNDINGS
from ashfell.core.site import edit
from ashfell.core.site.document.site import read_site
from ashfell.core.site.listing import listing
from ashfell.core.site.lists import finish_rows
from ashfell.core.site.say.aside import say_surrounding
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.say.writer import Slot, Writer
from ashfell.pictures.framing import first_look
from ashfell.services.documents import change_site

WALL = {"id": "w", "length": "5 m"}
GROWN = [key for key, kind in SURROUNDINGS.items() if "mesh" not in kind.entries]
"""What is made from its sizes alone; models are brought: test_model_in.py."""


def built(*surroundings, walls=()):
    placed = [{"id": f"s{n}"} | one for n, one in enumerate(surroundings)]
    return build_scene(read_site({"walls": list(walls), "surroundings": placed}))


def box(scene):
    bounds = np.array([part.solid.bounds for part in scene.parts])
    return bounds[:, 0].min(axis=0), bounds[:, 1].max(axis=0)


@pytest.mark.parametrize("kind", GROWN)
@pytest.mark.parametrize("seed", [1, 2, 77])
def test_each_is_as_large_as_it_says_and_sound(kind, seed):
    scene = built(
        {
            "kind": kind,
            "x": "10 m",
            "y": "-2 m",
            "level": "500",
            "width": "5 m",
            "depth": "5 m",
            "height": "7 m",
            "seed": seed,
        }
    )
    low, high = box(scene)
    assert low == pytest.approx([7500, -4500, 500], abs=0.02)
    assert high == pytest.approx([12500, 500, 7500], abs=0.02)
    assert audit_scene(scene) == []
    assert all(part.finish in LIBRARY for part in scene.parts)


def test_a_block_with_a_ridge_has_the_volume_of_a_gable_drawn_out():
    """10 by 6 by 4 m of walls and half of 10 by 6 by 2 m of roof: 240 + 60 m³."""
    scene = built({"kind": "block", "width": "10 m", "depth": "6 m", "height": "6 m", "ridge": "2 m"})
    (part,) = scene.parts
    assert part.solid.volume / 1e9 == pytest.approx(300)


def test_a_block_is_turned_about_its_middle():
    scene = built({"kind": "block", "x": "1 m", "y": "2 m", "width": "10 m", "depth": "4 m", "turn": 90})
    low, high = box(scene)
    assert (low[:2].round(6).tolist(), high[:2].round(6).tolist()) == ([-1000, -3000], [3000, 7000])


def test_crown_and_trunk_share_nothing_and_meet():
    crown, trunk = built({"kind": "tree", "seed": 5}).parts
    assert (crown.solid.manifold() ^ trunk.solid.manifold()).volume() < 1
    assert trunk.solid.bounds[1, 2] > crown.solid.bounds[0, 2]
    assert (crown.finish, trunk.finish) == ("foliage", "bark")


def test_the_same_number_grows_the_same_tree_and_another_another():
    one, same, other = (built({"kind": "tree", "seed": seed}).parts[0].solid for seed in (3, 3, 4))
    assert np.array_equal(one.vertices, same.vertices)
    assert one.volume != other.volume


def test_those_that_are_alike_are_made_once():
    scene = built(
        *({"kind": "tree", "x": str(9000 * n), "turn": 30 * n} for n in range(5)), {"kind": "tree", "seed": 2}
    )
    assert len(scene.instances) == 6
    assert len({one.definition for one in scene.instances}) == 2
    assert [one.entry for one in scene.instances[:2]] == ["surroundings.s0", "surroundings.s1"]


@pytest.mark.parametrize(
    ("one", "entry"), [({"kind": "tree", "trunk": "9 m"}, "trunk"), ({"kind": "block", "ridge": "6 m"}, "ridge")]
)
def test_what_leaves_nothing_is_refused_with_what_leaves_something(one, entry):
    ((place, refusal),) = built(one).refused
    assert (place, refusal.entry) == ("surroundings.s0", entry)
    assert built(one | {entry: str(float(refusal.nearest))}).refused == ()


def test_it_is_not_of_the_building():
    """It takes no part in the first look, the areas of finishes, or what runs into what."""
    tree = {"kind": "tree", "x": "60 m", "y": "40 m"}
    bare, with_tree, within = (
        built(walls=[WALL]),
        built(tree, walls=[WALL]),
        built(tree | {"x": "1 m", "y": "0"}, walls=[WALL]),
    )
    assert first_look(with_tree) == first_look(bare)
    assert finish_rows(with_tree) == finish_rows(bare)
    assert audit_scene(within) == audit_scene(bare)


def data(**more):
    return {
        name: value
        for name, value in dump(read_site({"walls": [WALL]} | more)).items()
        if name not in ("units", "finishes")
    }


@pytest.mark.parametrize("kind", GROWN)
def test_one_is_added_beside_what_stands_and_becomes_another_kind(kind):
    first = change_site(data(), {}, {"do": "add-surrounding", "kind": kind}).site
    again = change_site(dump(first), {}, {"do": "add-surrounding", "kind": kind}).site
    one, other = again.surroundings
    assert (one.kind, other.kind) == (kind, kind)
    assert float(other.x.mm) - float(one.x.mm) > float(one.width.mm) / 2
    assert one.x.mm > 5000
    for into in GROWN:
        changed = edit.change(dump(again), f"surroundings.{one.id}.kind", into)["surroundings"][0]
        assert changed["finish"] == (SURROUNDINGS[into].start["finish"] if into != kind else one.finish)
    with pytest.raises(Refusal, match="block, tree, conifer"):
        edit.change(dump(again), f"surroundings.{one.id}.kind", "statue")


def test_one_is_moved_on_the_plan_and_removed():
    whole = data(surroundings=[{"id": "t", "kind": "tree"}])
    moved = edit.change(whole, "surroundings.t.place", "3 m; -20 ft")
    assert (moved["surroundings"][0]["x"], moved["surroundings"][0]["y"]) == ("3 m", "-20 ft")
    assert edit.remove(whole, "surroundings", "t")["surroundings"] == []


@pytest.mark.parametrize("kind", GROWN)
def test_its_sentence_has_an_input_for_each_of_its_sizes(kind):
    site = read_site({"surroundings": [{"id": "s", "kind": kind}]})
    (one,) = site.surroundings
    said = say_surrounding(Writer(Style(), {}), one)
    entries = {part.entry.rpartition(".")[2] for part in said.parts if isinstance(part, Slot)}
    assert entries == {"kind", "height", "x", "y", "level", "turn", "finish", *one.of.entries}
    assert listing(site, "surroundings.s").picked == "surroundings.s"


def test_it_is_on_the_plan_and_comes_into_view_when_it_is_picked():
    scene = built({"kind": "tree", "x": "40 m"}, walls=[WALL])
    far, picked = (plan_sheet(scene, Style(), at) for at in ("walls.w", "surroundings.s0"))
    assert far.extent[2] < 10_000 < 43_000 <= picked.extent[2] + 1
    (aside,) = picked.aside
    across = [x for x, _ in aside.outlines[0]]
    assert (max(across) - min(across)) / picked.paper.scale == pytest.approx(6000, rel=0.01)
    assert any(handle.entry == "surroundings.s0.place" for handle in picked.handles)


def test_ten_thousand_trees_of_a_few_kinds_are_a_few_definitions():
    scene = built(
        *(
            {"kind": "tree", "x": str(10_000 * (n % 100)), "y": str(10_000 * (n // 100)), "seed": n % 5 + 1}
            for n in range(10_000)
        )
    )
    assert len(scene.instances) == 10_000
    assert len(scene.definitions) == 5
    sheet = plan_sheet(scene, Style(), "surroundings.s7")
    rest, one = sheet.aside
    assert (len(rest.outlines), rest.entry, one.entry) == (10_000, "", "surroundings.s7")
