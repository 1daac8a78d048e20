"""Stacks: closed, without a triangle that has no area, and what booleans make of the same blocks."""

import manifold3d
import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from ashfell.core.solid.stack import OUTWARDS, Stack
from ashfell.core.unit.members.butted import Joints, butted
from ashfell.core.unit.members.ring import ring_profile
from ashfell.core.unit.promise import solve
from ashfell.core.unit.starts import STARTS, start_from

STEPS = st.sampled_from([0.0, 0.0, 0.0, 3.0, 7.0, -4.0, -9.0])


@st.composite
def stacks(draw):
    """Zones one on the other whose sides go in and out, slanted and by steps, none narrower than 20 mm."""
    out, zones, height = np.array([50.0, 60.0, 40.0, 30.0]), [], 0.0
    heights = []
    for _ in range(draw(st.integers(1, 5))):
        start = out + [draw(STEPS) for _ in range(4)]
        end = start + [draw(STEPS) for _ in range(4)]
        zones.append((start * OUTWARDS, end * OUTWARDS))
        heights.append((height, height := height + draw(st.sampled_from([1.0, 10.0, 25.0]))))
        out = end
    made = Stack(np.array(heights), np.array(zones))
    assume(made.is_sound)
    return made


def by_hulls(stack):
    """The same by manifold3d: the union of the hulls of its zones."""
    hulls = []
    for heights, sides in zip(stack.heights, stack.sides, strict=True):
        corners = [
            (u, v, w)
            for w, (foot, right, head, left) in zip(heights, sides, strict=True)
            for u in (left, right)
            for v in (foot, head)
        ]
        hulls.append(manifold3d.Manifold.hull_points(np.array(corners)))
    return manifold3d.Manifold.batch_boolean(hulls, manifold3d.OpType.Add)


def check(solid, theirs):
    assert solid.is_closed
    a, b, c = (solid.vertices[solid.triangles[:, k]] for k in range(3))
    across = np.cross(b - a, c - a)
    assert np.linalg.norm(across, axis=1).min() > 1e-6
    for face in np.unique(solid.topology.face_of_triangle):
        own = solid.topology.face_of_triangle == face
        normals = solid.normals[own]
        assert np.abs(normals - normals[0]).max() < 1e-9
        levels = solid.vertices[solid.triangles[own]] @ normals[0]
        assert np.ptp(levels) < 1e-9
    ours = solid.manifold()
    assert solid.volume == pytest.approx(theirs.volume(), rel=1e-9)
    assert (ours - theirs).volume() + (theirs - ours).volume() < 1e-6 * solid.volume


@given(stacks())
def test_a_stack_is_the_union_of_its_zones(stack):
    (solid,) = stack.solids()
    check(solid, by_hulls(stack))


@given(
    stacks(), st.booleans(), st.sampled_from([-10.0, 0.0, 5.0, 31.5]), st.tuples(st.integers(0, 6), st.integers(7, 90))
)
def test_beside_a_block_is_what_booleans_leave(stack, from_left, edge, deep):
    low, high = (-1e4, edge) if from_left else (edge, 1e4)
    bottom, top = map(float, deep)
    left = stack.beside(low, high, bottom, top)
    assume(left is not None and len(left.heights))
    block = manifold3d.Manifold.cube([high - low, 2e4, top - bottom]).translate([low, -1e4, bottom])
    check(left.solids()[0], by_hulls(stack) - block)


def test_nothing_is_left_of_what_a_block_covers():
    whole = Stack(np.array([[0.0, 10.0]]), np.array([[[0.0, 50.0, 20.0, 0.0]] * 2]))
    left = whole.beside(-1e4, 60.0, -1.0, 11.0)
    assert left is not None
    assert left.solids() == []


def rings(body):
    yield body.ring
    for light in body.lights:
        for sash in light.sashes:
            yield from rings(sash.body)


@pytest.mark.parametrize("bare", ["mm", "ft"])
def test_members_of_every_butted_ring_are_what_booleans_make_of_them(bare):
    checked = 0
    for key in STARTS:
        for ring in rings(solve(start_from(key, "x", bare)).body):
            if ring.joint == "mitred" or not ring.faces.any():
                continue
            profile, section = ring_profile(ring)
            by_booleans = Joints(ring, profile, section).solids
            for form, other, face in zip(butted(ring, profile, section), by_booleans, ring.faces, strict=True):
                if face:
                    assert isinstance(form, Stack)
                    check(form.solids()[0], other[0].manifold())
                    checked += 1
    assert checked > 100
