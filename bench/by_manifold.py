"""Recipes carried out with manifold3d's booleans."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from manifold3d import CrossSection, Manifold, OpType

from ashfell.core.plane.points import area
from bench.recipes import Frustum, Prism, Recipe, Stock


def made(recipe: Recipe) -> Manifold:
    """The part as a solid."""
    solid = STOCK.of(recipe)
    return solid if recipe.matrix is None else solid.transform(recipe.matrix[:3])


def _unplaced(recipe: Recipe) -> Manifold:
    if recipe.within:
        return _joined([solid_of(a) ^ prism_of(b) for a, b in zip(recipe.add, recipe.within, strict=False)])
    whole = _joined([solid_of(each) for each in recipe.add])
    return Manifold.batch_boolean([whole, *map(prism_of, recipe.less)], OpType.Subtract) if recipe.less else whole


STOCK = Stock(_unplaced)


def solid_of(each: Prism | Frustum) -> Manifold:
    if isinstance(each, Prism):
        return prism_of(each)
    return Manifold.hull_points(np.concatenate([each.below, each.above]))


def _joined(solids: Sequence[Manifold]) -> Manifold:
    return solids[0] if len(solids) == 1 else Manifold.batch_boolean(list(solids), OpType.Add)


def prism_of(prism: Prism) -> Manifold:
    polygon = prism.polygon if area(prism.polygon) > 0 else prism.polygon[::-1]
    solid = CrossSection([polygon.tolist()]).extrude(prism.length)
    solid = solid.transform(np.column_stack([prism.x, prism.y, prism.z, prism.origin]))
    for normal, offset in prism.planes:
        solid = solid.trim_by_plane(normal.tolist(), offset)
    return solid


def meshes(recipes: Sequence[Recipe]) -> list[object]:
    """Every part, down to its triangles."""
    return [made(recipe).to_mesh() for recipe in recipes]


def volumes(recipes: Sequence[Recipe]) -> list[float]:
    return [_volume(recipe) for recipe in recipes]


def _volume(recipe: Recipe) -> float:
    """Pieces that only touch are added up: their union loses a little where many meet."""
    if recipe.less or recipe.within:
        return made(recipe).volume()
    return sum(solid_of(each).volume() for each in recipe.add)
