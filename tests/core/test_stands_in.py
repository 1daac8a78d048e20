"""Models that stand in an opening as they were brought: boxes whose corners are counted by hand."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.audit.site import audit_scene
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.drafts import wall_draft
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.drawing.wall_sheet import wall_sheet
from ashfell.core.site import edit
from ashfell.core.site.document.site import read_site
from ashfell.core.site.say.aside import say_surrounding
from ashfell.core.site.scene import build_scene
from ashfell.core.site.stands_in import vacant
from ashfell.core.unit.say.writer import Slot, Writer
from tests.formats.test_model_in import obj, one_of, taken

OPENING = {"id": "o", "wall": "w", "offset": "1000", "width": "1200", "height": "1500", "sill": "900"}


def built(size=(1.2, 1.5, 0.1), wall=None, placement=None, units=None, **own):
    model = one_of(taken("window.obj", obj(size), unit="m")) | {"opening": "o"} | own
    walls = [{"id": "w", "x": "1000", "y": "2000", "length": "5000", "thickness": "300"} | (wall or {})]
    data = {"walls": walls, "placements": [OPENING | (placement or {})], "surroundings": [model]}
    return build_scene(read_site(data | {"units": units or {}}))


def corners(scene):
    (one,) = (one for one in scene.instances if one.entry.startswith("surroundings."))
    points = np.concatenate([part.moved(one.matrix).solid.vertices for part in scene.definitions[one.definition]])
    return [*points.min(axis=0), *points.max(axis=0)]


@pytest.mark.parametrize(
    ("angle", "expected"),
    [
        (0, (2000, 2050, 900, 3200, 2150, 2400)),  # along x; outside is y below the wall's
        (90, (850, 3000, 900, 950, 4200, 2400)),  # along y; outside is x beyond the wall's
        (180, (-1200, 1850, 900, 0, 1950, 2400)),
    ],
)
def test_it_stands_on_the_sill_behind_the_outer_face(angle, expected):
    scene = built(wall={"angle": angle}, recess="50")
    assert scene.refused == ()
    assert corners(scene) == pytest.approx(expected, abs=1e-3)
    assert audit_scene(scene) == []


def test_it_is_turned_round_in_its_opening():
    """0.1 deep and 1.2 wide: turned by a quarter it is 100 wide, its middle still in the middle."""
    scene = built(turn=90)
    assert corners(scene) == pytest.approx((2550, 2000, 900, 2650, 3200, 2400), abs=1e-3)


def test_along_a_bent_wall_it_stands_in_its_stretch():
    """A stretch by 4 and 3: from (1000, 2000) along (0.8, -0.6), outside (-0.6, -0.8) of it."""
    scene = built(wall={"length": "8000", "curve": {"kind": "bent", "points": [{"along": "4000", "out": "3000"}]}})
    (one,) = (one for one in scene.instances if one.entry.startswith("surroundings."))
    along, out = np.array([0.8, -0.6]), np.array([-0.6, -0.8])
    points = np.concatenate([part.moved(one.matrix).solid.vertices for part in scene.definitions[one.definition]])
    flat = points[:, :2] - (1000, 2000)
    assert [(flat @ along).min(), (flat @ along).max()] == pytest.approx([1000, 2200], abs=1e-3)
    assert [(flat @ out).min(), (flat @ out).max()] == pytest.approx([-100, 0], abs=1e-3)


def test_what_does_not_fit_is_told_with_both_sizes():
    (fault,) = audit_scene(built((1.21, 1.52, 0.1)))
    assert (fault.level, fault.place) == ("fault", "surroundings.model")
    told = "“Model” is 1210 mm wide and 1520 mm high; its opening is 1200 mm by 1500 mm: "
    told += "10 mm too wide and 20 mm too high."
    assert fault.reason == told
    (note,) = audit_scene(built((1.18, 1.49, 0.1)))
    assert note.level == "note"
    assert "10 mm are left on each side, 10 mm above" in note.reason


def test_the_remedy_of_one_that_is_too_wide_works():
    scene = built((1.21, 1.52, 0.1), placement={"width": "1210", "height": "1520"})
    assert audit_scene(scene) == []


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"opening": "p"}, "There is no opening “p”."),
        ({"placement": {"unit": "u"}, "units": {"u": {"width": "900", "height": "900"}}}, "A unit stands in"),
    ],
)
def test_an_opening_that_is_not_free_is_told(change, words):
    scene = built(**change)
    ((place, refusal),) = scene.refused
    assert place.startswith("surroundings.")
    assert words in refusal.message
    assert not any(one.entry.startswith("surroundings.") for one in scene.instances)
    assert build_scene(scene.document).refused  # the document keeps what was typed


def test_only_a_model_stands_in_an_opening():
    with pytest.raises(Refusal, match="tree cannot stand in an opening"):
        read_site({"surroundings": [{"id": "t", "kind": "tree", "opening": "o"}]})


def test_equal_models_in_several_openings_are_made_once():
    model = one_of(taken("window.obj", obj((1.2, 1.5, 0.1)), unit="m"))
    placements = [OPENING | {"id": f"o{n}", "offset": f"{500 + 1400 * n}"} for n in range(3)]
    beside = [model | {"id": f"m{n}", "opening": f"o{n}", "turn": 180 * (n % 2)} for n in range(3)]
    scene = build_scene(
        read_site({"walls": [{"id": "w", "length": "6000"}], "placements": placements, "surroundings": beside})
    )
    shown = [one for one in scene.instances if one.entry.startswith("surroundings.")]
    assert len(shown) == 3
    assert len({one.definition for one in shown}) == 1


def test_its_sentence_offers_what_is_free_and_its_recess_instead_of_a_place():
    scene = built()
    free = vacant(scene.openings, scene.site, scene.units)
    assert free == {"o": "in o"}
    (own,) = scene.document.surroundings
    slots = {one.entry.rpartition(".")[2]: one for one in say_surrounding(Writer(Style(), {}), own, free).parts
             if isinstance(one, Slot)}  # fmt: skip
    assert dict(slots["opening"].options) == {"": "in no opening", "o": "in o"}
    assert "recess" in slots
    assert {"x", "y", "level"}.isdisjoint(slots)
    out = edit.change({"surroundings": [own.model_dump(mode="json")]}, f"surroundings.{own.id}.opening", "")
    assert out["surroundings"][0]["opening"] == ""


def test_on_the_plan_it_is_where_it_stands_and_has_no_handle():
    scene = built()
    sheet = plan_sheet(scene, Style(), "walls.w")
    (aside,) = sheet.aside
    across = [x for x, _ in aside.outlines[0]]
    assert (max(across) - min(across)) / sheet.paper.scale == pytest.approx(1200, rel=0.01)
    assert not any("surroundings" in handle.entry for handle in sheet.handles)


@pytest.mark.parametrize("looks", ["outside", "inside"])
def test_in_its_wall_it_is_drawn_where_it_stands(looks):
    """On the page and in files: 1180 by 1490 on the sill, its middle 1600 from the start; from inside, to the left."""
    scene = built((1.18, 1.49, 0.1))
    sheet = wall_sheet(scene, Style(), "w", looks=looks)
    (hole,), (placed,) = sheet.holes, sheet.placed
    assert hole.filled
    points = np.concatenate([loop for shape in sheet.drawings[placed.drawing] for loop in shape.loops])
    assert np.ptp(points, axis=0) == pytest.approx([1180, 1490], abs=1e-3)
    middle = placed.x + points[:, 0].mean() * sheet.paper.scale
    assert middle == pytest.approx(sum(x for x, _ in hole.points) / len(hole.points), abs=0.01)
    draft = wall_draft(scene, Style(), "w", looks)
    (use,) = draft.uses
    left, foot, right, head = draft.used[use.draft].extent
    assert (foot + use.at[1], head + use.at[1]) == pytest.approx((900, 2390), abs=1e-3)
    ends = sorted(abs(end + use.at[0]) for end in (left, right))
    assert ends == pytest.approx([1010, 2190], abs=1e-3)
