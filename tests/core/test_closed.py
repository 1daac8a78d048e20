"""A solid that does not close is told as a fault, and never taken for nothing."""

from dataclasses import replace

import numpy as np
import pytest

from ashfell.core.audit.solids import audit_overlaps, audit_parts
from ashfell.core.parts import Part
from ashfell.core.solid.plate import boxes
from ashfell.core.solid.topology import Solid, Topology
from ashfell.core.unit import read_unit, solve
from ashfell.core.unit.build import build


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


def test_a_solid_is_taken_over_for_booleans_as_it_is():
    """A stile of 3 mm between a sloping head and a rail, both of which run through: some of its corners lie exactly
    over others, and were joined otherwise when it was taken over."""
    leaf = {
        "kind": "leaf",
        "face": "51.5",
        "sides": {"sill": "63.5"},
        "depth": "60.75",
        "clearance": "7.75",
        "foot": "9.5",
    }
    leaf |= {
        "edge": {"kind": "round", "size": "4.5"},
        "joint": "head",
        "opening": "fixed",
        "swing": "out",
        "stop": "12",
    }
    places = (("0", "0"), ("880", "0"), ("880", "826"), ("440", "660.8000000000001"), ("0", "826"))
    unit = {
        "width": "880",
        "height": "826",
        "outline": {"kind": "path", "nodes": [{"x": x, "y": y} for x, y in places]},
        "frame": {"face": "38.1", "depth": "152.75"},
        "columns": {"lights": [{}, {}, {"share": 2}], "bars": ["56.5", "41.75"]},
        "rows": {"rule": "centres", "lights": [{"share": 2}, {}], "bars": ["61.5"]},
        "bars": {"setback": "3"},
        "cells": {"c3r2": {"fill": leaf}},
    }
    document = read_unit(unit)
    parts = build(document, solve(document))
    for made in parts:
        assert made.solid.manifold().volume() == pytest.approx(made.solid.volume, rel=1e-6), made.id
    assert not [*audit_overlaps(parts)]
