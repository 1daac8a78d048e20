"""Solids compared in tiles: what shares volume is found, however large one is and however many are beside it."""

from __future__ import annotations

import random

import numpy as np
import pytest
from manifold3d import Manifold
from shapely.affinity import rotate
from shapely.geometry import Point, Polygon, box

from ashfell.core.audit.solids import audit_overlaps, near_pairs
from ashfell.core.audit.tiles import MANY, OFTEN, crossings
from ashfell.core.parts import Part
from ashfell.core.solid.plate import plate

ACROSS, PITCH = 24, 50.0


def part(name, region, low, high):
    return Part(name, name, "glass", "clear-glass", (0.0, 1.0, 0.0), plate(region, low, high))


def net():
    """A plate with round holes, far more triangles than a tile has."""
    centres = [((i + 0.5) * PITCH, (j + 0.5) * PITCH) for i in range(ACROSS) for j in range(ACROSS)]
    size = ACROSS * PITCH
    holes = [Point(centre).buffer(20, quad_segs=4).exterior.coords[:] for centre in centres]
    return part("net", Polygon(box(0, 0, size, size).exterior.coords, holes), 0, 10), centres


def test_each_of_many_in_a_net_is_compared_with_it():
    whole, centres = net()
    assert len(whole.solid.triangles) > 4 * MANY
    panes = [part(f"pane.{k}", box(x - 10, y - 10, x + 10, y + 10), 2, 8) for k, (x, y) in enumerate(centres)]
    assert not [*audit_overlaps([whole, *panes])]
    # Two panes go on to the middle of their holes' neighbours: over the bar between holes of 20 at a pitch of 50.
    for k in (5, 300):
        x, y = centres[k]
        panes[k] = part(f"pane.{k}", box(x - 10, y - 1, x + PITCH / 2 + 10, y + 1), 2, 8)
    told = {finding.place: finding.reason for finding in audit_overlaps([whole, *panes])}
    assert told.keys() == {"net, pane.5", "net, pane.300"}
    hole = Point(0, 0).buffer(20, quad_segs=4)
    beyond = box(-10, -1, PITCH / 2 + 10, 1).difference(hole).difference(Point(PITCH, 0).buffer(20, quad_segs=4))
    assert set(told.values()) == {f"They share {beyond.area * 6:.2f} mm³."}


def test_two_nets_in_each_other_are_told_once():
    one, _ = net()
    other = part("other", rotate(box(100, 100, 1100, 1100), 20), 4, 6)
    holes = [Point((i + 1) * PITCH, (j + 1) * PITCH).buffer(12, quad_segs=4) for i in range(6) for j in range(6)]
    region = Polygon(
        box(0, 0, ACROSS * PITCH, ACROSS * PITCH).exterior.coords, [hole.exterior.coords[:] for hole in holes]
    )
    second = part("second", region, 9, 19)
    assert len(second.solid.triangles) > MANY
    panes = [part(f"pane.{k}", box(60 * k, -200, 60 * k + 50, -100), 0, 10) for k in range(OFTEN)]
    told = [finding.place for finding in audit_overlaps([one, second, other, *panes])]
    assert sorted(told) == ["net, other", "net, second"]


@pytest.mark.parametrize("seed", range(20))
def test_no_pair_that_shares_volume_is_left_out(seed):
    """Against booleans between all of them."""
    draw = random.Random(seed)
    found = []
    for k in range(40):
        x, y, long, turn = draw.uniform(0, 400), draw.uniform(0, 400), draw.uniform(20, 200), draw.uniform(0, 180)
        low = draw.uniform(0, 30)
        found.append(part(f"p{k}", rotate(box(x, y, x + long, y + 8), turn), low, low + draw.uniform(2, 20)))
    solids = [one.solid for one in found]
    pairs = near_pairs(np.array([one.bounds for one in solids]))
    kept = crossings(solids, pairs, 0.005)
    shared = {(a, b): (solids[a].manifold() ^ solids[b].manifold()).volume() for a, b in pairs}
    assert {pair for pair, volume in shared.items() if volume > 0.005} <= kept.keys()
    assert len(kept) < len(pairs)


def test_the_tiles_of_a_solid_make_it_up():
    whole, centres = net()
    pins = [part(f"pin.{k}", Point(x + 20, y).buffer(5), -5, 15) for k, (x, y) in enumerate(centres[:20])]
    solids = [one.solid for one in (whole, *pins)]
    kept = crossings(solids, [(0, k) for k in range(1, 21)], 0.005)
    tiles = {id(one): one for met in kept.values() for one, _ in met}
    assert len(tiles) > 1
    assert all(tile.solid.num_tri() <= MANY for tile in tiles.values())
    for (_, k), met in kept.items():
        parts = sum((one.solid ^ other.solid).volume() for one, other in met)
        assert parts == pytest.approx((whole.solid.manifold() ^ solids[k].manifold()).volume(), rel=1e-9)
        assert isinstance(met[0][0].solid, Manifold)
