"""The benchmark compares like with like: the same solids made by manifold3d's booleans."""

from bench.solids import check


def test_each_part_has_the_volume_manifold3d_gives_it():
    assert check() < 1e-6
