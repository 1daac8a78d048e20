"""Units in walls that fold: folded with them, mitred at every fold, or flat in a seat."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.solid.fold import Fold, facet_of
from ashfell.core.solid.plate import boxes

WALL = {"id": "w", "length": "8 m", "thickness": "300", "lining": "0", "height": "3 m"}
ARC = {"kind": "arc", "rise": "2 m", "facets": 8}
DIVIDED = {
    "width": "3600",
    "height": "1500",
    "frame": {"depth": "90"},
    "columns": {"lights": [{}] * 3, "bars": ["50"] * 2, "rule": "centres"},
}
WHOLE = {
    "width": "3600",
    "height": "1500",
    "frame": {"depth": "90", "face": "40"},
    "rows": {"lights": [{"size": "400"}, {}], "bars": ["40"]},
    "cells": {"c1r1": {"fill": {"kind": "panel"}}},
}
UNITS = {"divided": DIVIDED, "whole": WHOLE, "plain": {"width": "600", "height": "900", "frame": {"depth": "90"}}}


def built(*placements, curve=ARC, **wall):
    placed = [
        {"id": f"p{n}", "wall": "w", "measured": "centre", "recess": "60"} | own for n, own in enumerate(placements)
    ]
    return build_scene(read_site({"walls": [WALL | {"curve": curve} | wall], "placements": placed, "units": UNITS}))


def sound(scene):
    assert scene.refused == ()
    assert [one for one in audit_scene(scene) if one.level == "fault"] == []
    return scene


def parts_of(scene, key="p0"):
    return [part for part in scene.parts if part.id.startswith(f"{key}/")]


@pytest.mark.parametrize("slope", [0.4, -0.4])
def test_what_is_cut_at_a_fold_is_carried_on_to_its_mitre(slope):
    """A box 100 long, 50 high, from 10 behind the surface to 10 before it, folded at 40: its longer face gains what its
    shorter one loses, and about the pivot the volume stays."""
    (box,) = boxes(np.array([[0.0, 0.0, -10.0]]), np.array([[100.0, 50.0, 10.0]]))
    fold = Fold(40.0, slope)
    (before,), (behind,) = facet_of(box, None, fold), facet_of(box, fold.behind, None)
    assert before.volume == pytest.approx(40 * 50 * 20, rel=1e-9)
    assert behind.volume == pytest.approx(60 * 50 * 20, rel=1e-9)
    assert before.bounds[1, 0] == pytest.approx(40 + 10 * abs(slope))
    assert behind.bounds[0, 0] == pytest.approx(40 - 10 * abs(slope))
    off = Fold(40.0, slope, -10.0)
    assert facet_of(box, None, off)[0].volume == pytest.approx((40 + 10 * slope) * 50 * 20, rel=1e-9)


def test_what_does_not_reach_a_fold_stays_as_it_is():
    (box,) = boxes(np.array([[0.0, 0.0, -10.0]]), np.array([[30.0, 50.0, 10.0]]))
    assert facet_of(box, None, Fold(40.0, 0.4)) == [box]
    assert facet_of(box, Fold(40.0, 0.4), None) == []


@pytest.mark.parametrize("rise", ["2 m", "-2 m"])
@pytest.mark.parametrize("reference", ["outside", "centre", "inside"])
def test_a_unit_is_folded_with_its_wall(rise, reference):
    scene = sound(built({"unit": "divided"}, curve=ARC | {"rise": rise}, reference=reference))
    (divided,) = [one for one in scene.instances if one.host]
    assert divided.definition == "unit.divided@1"
    panes = [part for part in parts_of(scene) if part.role == "glass"]
    assert len(panes) == 6  # three lights, each over one fold
    for pane in panes:
        assert len(pane.solid.vertices) == 8  # flat


def test_clear_widths_along_the_facets_close_exactly():
    """With bars on the folds every facet between two of them has one light: what is clear is the facet less half a bar
    at either end, measured along the facet."""
    wall = WALL | {"curve": ARC}
    facets = facets_of(read_site({"walls": [wall]}).walls[0])
    facet = float(facets[0].length)
    width = 4 * facet
    unit = DIVIDED | {
        "width": f"{width:.9f}",
        "columns": {"lights": [{}] * 4, "bars": ["50"] * 3},
        "frame": {"depth": "90", "face": "25"},
    }
    placed = {"id": "p0", "wall": "w", "unit": "u", "measured": "centre", "recess": "0"}
    scene = sound(build_scene(read_site({"walls": [wall], "placements": [placed], "units": {"u": unit}})))
    found = []
    for pane in (part for part in parts_of(scene) if part.role == "glass"):
        corners = pane.solid.vertices[:, :2]
        along = np.linalg.svd(corners - corners.mean(axis=0))[2][0]
        found.append(float(np.ptp(corners @ along)))
    plain = build_scene(read_site({"walls": [WALL], "placements": [placed], "units": {"u": unit}}))
    flat = [float(np.ptp(part.solid.vertices[:, 0])) for part in parts_of(plain) if part.role == "glass"]
    assert len(found) == 4
    assert found[1:3] == pytest.approx(flat[1:3], abs=1e-6)  # the outer ones end in their frame, at its mitre
    assert facet - 50 == pytest.approx(float(scene.units["p0"].layout.columns.lights[1].size), abs=1e-6)


@pytest.mark.parametrize("hand", [{}, {"mirrored": True}, {"turned": True}, {"gaps": {"left": "15"}}])
@pytest.mark.parametrize("offset", ["0", "310"])
def test_posts_stand_on_the_folds_by_themselves(offset, hand):
    """A unit of one column over three folds becomes four, its posts as wide as its frame, their middles on the folds;
    what its rows hold is in every column, and every pane is flat."""
    scene = sound(built({"unit": "whole", "posts": True, "offset": offset} | hand))
    (host,) = (one.host for one in scene.standing.values())
    (opening,) = (one for standing in scene.standing.values() for one in standing.openings)
    layout = scene.units["p0"].layout
    middles = [layout.body.cells[0].left + bar.centre for bar in layout.columns.bars]
    left = float(opening.x) + (15 if "gaps" in hand else 0)
    other = "mirrored" in hand or "turned" in hand
    along = sorted(left + (3600 - float(at) if other else float(at)) for at in middles)
    folds = [float(facet.end) for facet in host.facets[:-1] if left < facet.end < left + 3600]
    assert along == pytest.approx(folds, abs=1e-4)
    assert len(folds) == 3
    assert {bar.size for bar in layout.columns.bars} == {40}
    panes = [part for part in parts_of(scene) if part.role == "glass"]
    panels = {part.entry for part in parts_of(scene) if part.role == "panel"}
    assert len(panes) == 4
    assert all(len(pane.solid.vertices) == 8 for pane in panes)
    assert len(panels) == 4


def test_posts_follow_when_the_wall_gets_other_facets():
    for facets, lights in ((4, 2), (8, 4), (16, 8)):
        scene = sound(built({"unit": "whole", "posts": True, "width": "3900"}, curve=ARC | {"facets": facets}))
        assert len(scene.units["p0"].layout.columns.lights) == lights


def test_posts_take_the_bars_that_a_unit_has_or_are_refused():
    """Of three columns over two folds the bars are moved onto them; over three folds there is one bar too few."""
    scene = sound(built({"unit": "divided", "posts": True, "width": "2600", "offset": "580"}))
    layout = scene.units["p0"].layout
    assert {bar.size for bar in layout.columns.bars} == {50}
    refused = built({"unit": "divided", "posts": True}).refused
    assert [(place, refusal.entry) for place, refusal in refused] == [("placements.p0", "posts")]
    assert "has 3 columns, and the wall folds it into 4" in refused[0][1].message
    sound(built({"unit": "divided", "posts": False}))


def test_a_unit_that_ends_on_folds_has_posts_on_those_between():
    """Four facets wide, from fold to fold, its size told to a thousandth: three posts, and none at its ends."""
    facet = float(facets_of(read_site({"walls": [WALL | {"curve": ARC}]}).walls[0])[0].length)
    for width in (4 * facet - 0.001, 4 * facet + 0.001):
        scene = sound(built({"unit": "whole", "posts": True, "width": f"{width:.3f}"}))
        assert len(scene.units["p0"].layout.columns.lights) == 4


def test_a_light_beside_a_fold_has_to_have_a_width():
    """The frame's face is 40: a fold 30 from its left runs through the jamb and needs no post; with one 50 from it
    nothing is left beside the post, with one 70 from it 10."""
    facet = float(facets_of(read_site({"walls": [WALL | {"curve": ARC}]}).walls[0])[0].length)
    placed = {"unit": "whole", "posts": True, "measured": "start", "offset": f"{facet - 30:.6f}"}
    assert (
        len(sound(built(placed | {"width": "3900"})).units["p0"].layout.columns.lights) == 4
    )  # three folds between its jambs
    ((_, refusal),) = built(placed | {"offset": f"{facet - 50:.6f}"}).refused
    assert "light 1 would be −10 mm wide" in refusal.message
    ((place, refusal),) = built(placed | {"offset": f"{facet - 70:.6f}"}).refused
    assert (place, refusal.entry) == ("placements.p0", "posts")
    assert "With a post on each fold: Light 1 is 10 mm wide." in refusal.message
    sound(built(placed | {"offset": f"{facet - 300:.6f}"}))
    sound(built(placed | {"posts": False}))


def test_units_that_fold_alike_are_one_definition():
    step = float(facets_of(read_site({"walls": [WALL | {"curve": ARC}]}).walls[0])[0].length)
    row = [
        {"unit": "divided", "measured": "start", "width": "1300", "offset": f"{n * 2 * step + 300:.9f}"}
        for n in range(3)
    ]
    scene = sound(built(*row))
    assert {one.definition for one in scene.instances if one.host} == {"unit.divided~2@1"}


def test_a_unit_within_a_facet_is_not_folded():
    scene = sound(built({"unit": "plain", "offset": "600"}))
    assert [one.definition for one in scene.instances if one.host] == ["unit.plain"]


@pytest.mark.parametrize("rise", ["2 m", "-2 m"])
def test_a_flat_unit_gets_a_seat(rise):
    """All of it is in one plane, and what the wall loses goes straight through."""
    scene = sound(built({"unit": "divided", "folded": False}, curve=ARC | {"rise": rise}))
    assert [one.definition for one in scene.instances if one.host] == ["unit.divided"]
    (glass, *more) = [part.solid for part in parts_of(scene) if part.role == "glass"]
    normal = np.cross(*np.diff(glass.vertices[glass.triangles[0]], axis=0))
    depths = np.concatenate([one.vertices for one in (glass, *more)]) @ (normal / np.linalg.norm(normal))
    assert len(set(depths.round(6))) == 2
    folded = built({"unit": "divided"}, curve=ARC | {"rise": rise})
    assert len(parts_of(scene)) < len(parts_of(folded))


def test_an_opening_over_folds_without_a_unit_is_cut():
    hole = {"unit": None, "width": "3000", "height": "1000"}
    before, after = built(), sound(built(hole))
    lost = sum(p.solid.volume for p in before.parts) - sum(p.solid.volume for p in after.parts)
    turn = 2 * np.arcsin(0.8) / 8
    folds = 3  # 1500 mm to either side of the middle fold, facets of 1156 mm
    assert lost == pytest.approx(1000 * (3000 * 300 - folds * np.tan(turn / 2) * 300**2), rel=1e-6)


def test_what_stands_flat_and_runs_into_the_wall_is_told():
    """Flush with the chord of a wall that bends inwards, its corners stand in the wall beside the seat only where they
    reach out of it."""
    cased = {
        "width": "3000",
        "height": "1200",
        "frame": {"depth": "90"},
        "trim": {"outside": {"forward": "-40", "lap": "0"}},
    }
    placed = [{"id": "p0", "wall": "w", "unit": "c", "measured": "centre", "folded": False, "recess": "60"}]
    document = read_site({"walls": [WALL | {"curve": ARC}], "placements": placed, "units": {"c": cased}})
    found = [one for one in audit_scene(build_scene(document)) if one.level == "fault"]
    assert {one.rule for one in found} == {"no overlap"}
