"""Trees: a trunk, and a crown of clumps of leaves, or of tiers. The same number grows the same tree."""

from __future__ import annotations

from functools import lru_cache
from math import pi

import manifold3d
import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.kinds.surrounding import SURROUNDINGS, Pieces, Sizes, SurroundingKind
from ashfell.core.plane.points import Floats
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.topology import Solid

BARK = "bark"
CLUMPS, TIERS = 34, 6
"""How many clumps or tiers a crown has; common practice, no source."""
ROUND = 16
"""How many sides what is round has."""
ROUGH = 0.09
"""By how much of its size the leaves of a clump stand out, or lie in."""
GOLDEN = pi * (3 - 5**0.5)
"""By how much each of points spread over a ball is turned from the one before it."""
INTO = 0.5
"""How far into its crown a trunk reaches, of the height of that."""
SLENDER = 45.0
"""How many times as high a tree is as its trunk is thick at the foot."""


def _outline(one: Sizes) -> Floats:
    turns = np.linspace(0, 2 * pi, 2 * ROUND, endpoint=False)
    return float(one.width.mm) / 2 * np.stack([np.cos(turns), np.sin(turns)], axis=1)


def _made(one: Sizes, pointed: bool) -> Pieces:
    if one.trunk.mm >= one.height.mm:
        raise Refusal(
            "trunk",
            "a crown above the trunk",
            f"A trunk {exact_mm(one.trunk.mm)} high leaves no crown of a tree {exact_mm(one.height.mm)} high.",
            f"Make it less than {exact_mm(one.height.mm)}.",
            one.height.mm * 9 / 10,
        )
    sizes = (float(one.width.mm), float(one.height.mm), float(one.trunk.mm))
    crown, trunk = _grown(*sizes, one.seed, pointed)
    pieces = [("crown", one.finish, crown)]
    return pieces if trunk is None else [*pieces, ("trunk", BARK, trunk)]


@lru_cache(maxsize=256)
def _grown(width: float, height: float, trunk: float, seed: int, pointed: bool) -> tuple[Solid, Solid | None]:
    """Crown and trunk; no trunk where the crown begins at the ground."""
    crown = _crown(seed, pointed)
    low, high = np.array(crown.bounding_box()).reshape(2, 3)
    size = np.array([width, width, height - trunk])
    crown = crown.translate(tuple(-(low + high) / 2)).scale(tuple(size / (high - low)))
    crown = crown.translate((0.0, 0.0, trunk + (height - trunk) / 2))
    (whole, *_) = sorted(of_manifold(crown), key=lambda solid: -solid.volume)
    if not trunk:
        return whole, None
    thick, reach = height / SLENDER, trunk + (height - trunk) * INTO
    stem = manifold3d.Manifold.cylinder(reach, thick / 2, thick / 5, ROUND) - whole.manifold()
    (below, *_) = sorted(of_manifold(stem), key=lambda solid: float(solid.bounds[0, 2]))
    return whole, below


@lru_cache(maxsize=64)
def _crown(seed: int, pointed: bool) -> manifold3d.Manifold:
    """How a crown has grown; trees of one seed have the same, larger or smaller."""
    own = np.random.default_rng(seed)
    crown = _tiers(own) if pointed else _clumps(own)
    crown.status()  # which lets it be made once, and not for each that is made of it
    return crown


def _clumps(own: np.random.Generator) -> manifold3d.Manifold:
    """Balls of different sizes spread over a ball and one within them, all joined; about 2 across."""
    numbers = np.arange(CLUMPS)
    up = 1 - (2 * numbers + 1) / CLUMPS
    turns = numbers * GOLDEN + own.uniform(-0.3, 0.3, CLUMPS)
    out = np.sqrt(1 - up**2)
    middles = np.stack([out * np.cos(turns), out * np.sin(turns), up], axis=1) * own.uniform(0.55, 0.72, (CLUMPS, 1))
    sizes = own.uniform(0.22, 0.38, CLUMPS)
    balls = [_leafy(own, 0.66)]
    for middle, size, turn in zip(middles, sizes, own.uniform(0, 360, (CLUMPS, 3)), strict=True):
        ball = _leafy(own, float(size)).rotate(tuple(turn.tolist()))
        balls.append(ball.translate(tuple(middle.tolist())))
    return manifold3d.Manifold.batch_boolean(balls, manifold3d.OpType.Add)


def _leafy(own: np.random.Generator, size: float) -> manifold3d.Manifold:
    """A ball whose corners stand out and lie in."""
    ball = manifold3d.Manifold.sphere(size, ROUND)
    return ball.warp_batch(lambda corners: corners * own.uniform(1 - ROUGH, 1 + ROUGH, (len(corners), 1)))


def _tiers(own: np.random.Generator) -> manifold3d.Manifold:
    """Cones one above the other, each narrower than that below it, all joined; 2 across and 2 high."""
    cones = []
    for tier in range(TIERS):
        share = tier / TIERS
        wide = (1 - share) ** 0.9 * own.uniform(0.92, 1.0)
        high = 2 * (1 - share) if tier == TIERS - 1 else 2.0 / TIERS * 1.9
        cone = manifold3d.Manifold.cylinder(high, float(wide), float(wide) * 0.12, 2 * ROUND)
        cones.append(cone.rotate((0.0, 0.0, float(own.uniform(0, 360)))).translate((0.0, 0.0, 2 * share)))
    return manifold3d.Manifold.batch_boolean(cones, manifold3d.OpType.Add)


for _key, _label, _order, _pointed, _width, _height, _trunk in (
    ("tree", "broad tree", 20, False, "6 m", "9 m", "2200 mm"),
    ("conifer", "conifer", 30, True, "4 m", "11 m", "900 mm"),
):
    SURROUNDINGS.register(
        SurroundingKind(
            _key,
            _label,
            _order,
            ("width", "trunk", "seed"),
            lambda one, pointed=_pointed: _made(one, pointed),  # type: ignore[misc]
            _outline,
            {"width": _width, "height": _height, "trunk": _trunk, "finish": "foliage"},
        )
    )
