"""What the benchmark compares is the same: every part has the volume that manifold3d's booleans give it."""

import pytest
from bench.solids import WALL, check, many_openings, wall_by_booleans
from bench.units import UNITS
from manifold3d import Manifold

from ashfell.core.site.hosts.face import face_solids


@pytest.mark.parametrize("name", UNITS)
def test_parts_have_the_same_volumes_by_booleans(name):
    assert check(name) < 1e-6


def test_a_wall_with_openings_has_the_same_volume_by_booleans():
    openings = many_openings(60)
    (wall,) = face_solids(WALL, openings, -300, 0)
    assert wall.volume == pytest.approx(Manifold(wall_by_booleans(openings)).volume(), rel=1e-9)
