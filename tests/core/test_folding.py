"""Folding leaves: how wide they are, where their joints are on the way, and that nothing touches."""

import numpy as np
import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.symbol import symbols
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.make import make
from ashfell.core.unit.say.build_up import build_up

WIDTH, FACE, DEPTH, RADIUS, BEHIND = 3600, 50, 44, 5, 120
ACROSS = DEPTH + 2 * RADIUS
THIN = {"thickness": "16", "setback": "12", "cover": "10", "clearance": "2"} | {
    "gasket": {"thickness": "2", "shows": "1"},
    "bead": {"edge": {"kind": "chamfer", "size": "1"}},
}


def doors(**own):
    fill = {"kind": "folding", "joint": "mitred", "glazing": THIN, "hinges": {"radius": str(RADIUS)}} | own
    fill = {"content": {"fill": {"kind": "flush"}}} | fill
    frame = {"face": str(FACE), "depth": "120", "sides": {"sill": "0"}}
    return {"width": str(WIDTH), "height": "2200", "frame": frame, "fill": fill}


def leaves(data):
    """The leaves of a unit with their corners where they are, (8, 3)."""
    back = -BEHIND if data["fill"].get("swing") == "in" else -DEPTH
    found = []
    for sash in make(read_unit(data)).layout.body.lights[0].sashes:
        left, foot, right, head = sash.body.ring.loop.bounds
        corners = [(u, v, w, 1.0) for u in (left, right) for v in (foot, head) for w in (back, back + DEPTH)]
        motion = np.eye(4) if sash.motion is None else sash.motion
        found.append((np.array(corners) @ motion.T)[:, :3])
    return found


@pytest.mark.parametrize(("count", "to_right"), [(2, 0), (3, 3), (4, 0), (5, 2), (6, 3)])
def test_widths_gaps_and_clearances_close_the_sum(count, to_right):
    found = leaves(doors(leaves=count, to_right=to_right, gap="3", clearance="4", end="40"))
    chains = 2 if 0 < to_right < count else 1
    gaps = (count - chains) * 3 + 40 + (8 if chains == 2 else 4)
    assert [np.ptp(leaf[:, 0]) for leaf in found] == pytest.approx([(WIDTH - 2 * FACE - gaps) / count] * count)


@pytest.mark.parametrize("swing", ["out", "in"])
@pytest.mark.parametrize(("count", "to_right"), [(4, 4), (5, 2)])
def test_nothing_touches_and_every_second_joint_stays_in_line(count, to_right, swing):
    """The joints are on one face and on the other by turns, ``ACROSS`` from each other across a leaf."""
    shut = leaves(doors(leaves=count, to_right=to_right, swing=swing))
    step = np.ptp(shut[0][:, 0]) + 3
    line, out = (RADIUS, 1.0) if swing == "out" else (-BEHIND - RADIUS, -1.0)
    for opened in (0, 5, 50, 100):
        data = doors(leaves=count, to_right=to_right, swing=swing, opened=opened)
        assert not audit_unit(make(read_unit(data)))
        angle = np.radians(0.9 * opened)
        along = step * np.cos(angle) + ACROSS * np.sin(angle)
        apex = step * np.sin(angle) - ACROSS * np.cos(angle)
        found = leaves(data)
        chains = [(1.0, FACE + 4 - 1.5, found[: count - to_right])]
        chains.append((-1.0, WIDTH - FACE - 4 + 1.5, found[count - to_right :][::-1]))
        for away, jamb, chain in chains:
            for number, leaf in enumerate(chain):
                u, _, w = leaf.mean(axis=0)
                assert u == pytest.approx(jamb + away * (number + 0.5) * along, abs=1e-6)
                assert w == pytest.approx(line + out * apex / 2, abs=1e-6)


def test_folded_flat_a_chain_is_as_wide_as_its_leaves_are_thick_and_stands_before_the_frame():
    found = np.concatenate(leaves(doors(leaves=4, opened=100)))
    assert np.ptp(found[:, 0]) == pytest.approx(4 * DEPTH + 3 * 2 * RADIUS)
    assert found[:, 2].min() == pytest.approx(RADIUS + 1.5)
    assert found[:, 0].min() == pytest.approx(FACE + 4 - 1.5 + RADIUS)


def test_the_free_end_is_clear_by_what_folding_takes():
    """Between two joints in line a leaf is longer than its step, as a diagonal is than a side."""
    shut = leaves(doors(leaves=6))
    step = np.ptp(shut[0][:, 0]) + 3
    grown = 6 * (np.hypot(step, ACROSS) - step)
    clear = WIDTH - FACE - shut[-1][:, 0].max()
    assert grown - 1.5 < clear < grown + 1
    with pytest.raises(Refusal) as told:
        solve(read_unit(doors(leaves=6, end="4")))
    assert (told.value.entry, told.value.rule) == ("fill.end", "room to fold")
    solve(read_unit(doors(leaves=6, end=str(float(told.value.nearest)))))


@pytest.mark.parametrize(
    ("own", "entry"),
    [
        ({"leaves": 3, "to_right": 4}, "fill.to_right"),
        ({"setback": "10"}, "fill.hinges"),
        ({"each": {"leaf-2": {"opened": 50}}}, "fill.each.leaf-2.opened"),
        ({"each": {"leaf-9": {}}}, "fill.each.leaf-9"),
        ({"leaves": 16, "face": "40"}, None),
        ({"hardware": [{"kind": "lever", "of": "leaf-2", "faces": "inside"}], "opened": 10}, "fill.hardware.0"),
    ],
)
def test_what_cannot_fold_is_refused(own, entry):
    if entry is None:
        assert len(solve(read_unit(doors(**own))).body.lights[0].sashes) == 16
        return
    with pytest.raises(Refusal) as told:
        make(read_unit(doors(**own)))
    assert told.value.entry == entry


def test_too_many_leaves_are_told_how_many_there_may_be():
    data = doors(leaves=16, face="20", gap="3") | {"width": "1200"}
    with pytest.raises(Refusal) as told:
        solve(read_unit(data))
    assert told.value.entry == "fill.leaves"
    most = int(told.value.rule.split()[2])
    fewer = doors(leaves=most, face="20", hinges=None) | {"width": "1200"}
    assert len(solve(read_unit(fewer)).body.lights[0].sashes) == most


def test_it_is_chosen_drawn_and_said():
    data = change(dump(read_unit({"width": "3000", "height": "2200"})), "fill.kind", "folding")
    unit = make(read_unit(data))
    assert len(unit.layout.body.lights[0].sashes) == 4
    assert [symbol.kind for symbol in symbols(unit.layout)] == ["swings"] * 4
    said = [sentence.text for sentence in build_up(unit, Style(), {}, "")]
    assert any("4 leaves fold out" in text for text in said)
