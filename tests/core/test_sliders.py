"""Panels on tracks: any order of tracks, opened as far as there is room."""

from __future__ import annotations

import random

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit

GLAZING = {
    "thickness": "6",
    "setback": "10",
    "cover": "8",
    "clearance": "2",
    "gasket": {"thickness": "3", "shows": "1"},
    "bead": {"edge": {"kind": "square"}},
}


def slider(tracks, **more):
    fill = {"kind": "sliders", "slide": "across", "panels": len(tracks), "tracks": tracks, "depth": "30"}
    fill |= {"glazing": GLAZING} | more
    return {"width": "4200", "height": "1400", "frame": {"depth": "120"}, "fill": fill}


def moved(unit):
    return [float(sash.slides[0]) for sash in unit.layout.lights[0].sashes]


@pytest.mark.parametrize("seed", range(40))
def test_panels_on_any_tracks_open_without_meeting(seed):
    draw = random.Random(seed)
    tracks = [draw.randint(1, 3) for _ in range(draw.randint(2, 5))]
    for opened in (37, 100):
        assert audit_unit(make(read_unit(slider(tracks, opened=opened)))) == []


def test_two_panels_do_not_go_to_one_place():
    """Of two panels with one place between them one takes it, as far as the other leaves room."""
    left, middle, right = moved(make(read_unit(slider([2, 1, 2], opened=100))))
    assert left > 0
    assert (middle, right) == (0, 0)
    both = moved(make(read_unit(slider([1, 2, 2, 1], opened=100))))
    assert both[1] == pytest.approx(-both[2])
    assert both[1] < 0


@pytest.mark.parametrize(
    ("unit", "entry", "nearest"),
    [
        ({"bars": {"depth": "300"}, "frame": {"depth": "80"}}, "bars.depth", 80),
        ({"bars": {"depth": "78", "setback": "5"}, "frame": {"depth": "80"}}, "bars.depth", 75),
        ({"columns": {"lights": [{}, {}], "bars": [{"face": "60", "depth": "90"}]}}, "columns.bars.0.depth", 80),
    ],
)
def test_a_bar_deeper_than_its_frame_is_refused(unit, entry, nearest):
    divided = {"frame": {"depth": "80"}, "columns": {"lights": [{}, {}], "bars": ["60"]}} | unit
    with pytest.raises(Refusal) as refused:
        make(read_unit(divided))
    assert (refused.value.entry, refused.value.nearest) == (entry, nearest)


def test_muntins_stand_out_of_neither_side_of_the_frame():
    for face, nearest in (("outer", 24), ("inner", 28)):
        muntins = {"proud": "40", "faces": face}
        unit = {"frame": {"depth": "80"}, "glazing": {"setback": "24", "thickness": "28"}, "fill": {"kind": "glass"}}
        unit["fill"]["muntins"] = muntins
        with pytest.raises(Refusal) as refused:
            make(read_unit(unit))
        assert (refused.value.entry, refused.value.nearest) == ("fill.muntins.proud", nearest)


@pytest.mark.parametrize("seed", range(40))
def test_panels_slide_to_their_hand_without_meeting(seed):
    draw = random.Random(f"hands {seed}")
    tracks = [draw.randint(1, 3) for _ in range(draw.randint(2, 5))]
    each = {
        f"panel-{k + 1}": {"hand": draw.choice(("left", "right"))} for k in range(len(tracks)) if draw.random() < 0.5
    }
    for _ in range(len(tracks) + 1):
        try:
            unit = make(read_unit(slider(tracks, opened=100, each=each)))
            break
        except Refusal as refusal:
            assert refusal.rule == "a panel to slide past"
            del each[refusal.entry.split(".")[2]]
    assert audit_unit(unit) == []
    for name, own in each.items():
        assert moved(unit)[int(name[-1]) - 1] * (1 if own["hand"] == "right" else -1) >= 0


def test_the_panel_of_the_first_track_may_be_the_one_that_slides():
    unit = make(read_unit(slider([1, 2], opened=100, each={"panel-1": {"hand": "right"}, "panel-2": {"opened": 0}})))
    left, right = unit.layout.lights[0].sashes
    assert left.motion[0, 3] == pytest.approx(right.body.ring.loop.bounds[0] - left.body.ring.loop.bounds[0])
    assert right.motion is None


def test_a_hand_up_and_down_means_nothing():
    with pytest.raises(Refusal) as refused:
        make(read_unit(slider([1, 2], slide="up", each={"upper": {"hand": "left"}})))
    assert refused.value.entry == "fill.each.upper.hand"
