"""A solid that does not close is told as a fault, and never taken for nothing."""

from dataclasses import replace

import numpy as np
import pytest

from ashfell.core.audit.solids import audit_parts
from ashfell.core.parts import Part
from ashfell.core.solid.plate import boxes
from ashfell.core.solid.topology import Solid, Topology


def opened(solid):
    """Without its last triangle."""
    topology = solid.topology
    return Solid(solid.vertices, Topology(topology.triangles[:-1], topology.face_of_triangle[:-1]))


def part(name, solid):
    return Part(name, name, "frame", "white-paint", (0.0, 0.0, 1.0), solid)


def test_nothing_is_made_of_a_solid_that_does_not_close():
    (whole,) = boxes(np.zeros((1, 3)), np.array([(10.0, 20.0, 30.0)]))
    assert whole.manifold().volume() == pytest.approx(6000)
    with pytest.raises(ValueError, match="11 triangles does not close: NotManifold"):
        opened(whole).manifold()


def test_the_audit_tells_it_and_goes_on():
    """Beside it, two that overlap are told as well."""
    (whole,) = boxes(np.zeros((1, 3)), np.array([(10.0, 20.0, 30.0)]))
    beside = replace(whole, vertices=whole.vertices + np.array([5.0, 0, 0]))
    found = audit_parts((part("open", opened(whole)), part("a", whole), part("b", beside)))
    assert [(one.rule, one.place) for one in found] == [("closed", "open"), ("no overlap", "a, b")]
