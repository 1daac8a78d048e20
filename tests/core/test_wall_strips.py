"""A long wall with aligned openings is one closed solid, whatever lies in line."""

from fractions import Fraction as F

import pytest

from ashfell.core.site.fit import Opening
from ashfell.core.site.hosts.face import Face, face_solids


@pytest.mark.parametrize("count", [1, 13, 60])
def test_aligned_openings_leave_a_closed_wall(count):
    openings = [
        Opening(f"{k}.{storey}", F(500 + 1200 * k), F(900 + 3000 * storey), F(900), F(1500))
        for k in range(count)
        for storey in (0, 1)
    ]
    length = 600 + 1200 * count
    (wall,) = face_solids(Face(0.0, length, ((0.0, 6000.0), (length, 6000.0))), openings, -250, 0)
    assert wall.is_closed
    assert wall.volume == pytest.approx((length * 6000 - len(openings) * 900 * 1500) * 250, rel=1e-12)
