"""What the benchmark compares is the same: every part has the volume that manifold3d's booleans give it."""

import pytest
from bench.solids import check
from bench.units import UNITS


@pytest.mark.parametrize("name", UNITS)
def test_parts_have_the_same_volumes_by_booleans(name):
    assert check(name) < 1e-6
