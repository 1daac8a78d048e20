"""Recipes carried out with a boundary-representation kernel (Open CASCADE, through OCP), tessellation included."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_Transform
from OCP.BRepGProp import BRepGProp
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.collections import List_TopoDS_Shape
from OCP.gp import gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS_Shape, TopoDS_Wire

from bench.recipes import Frustum, Prism, Recipe, Stock

FAR = 1e5


def made(recipe: Recipe) -> TopoDS_Shape:
    shape = STOCK.of(recipe)
    if recipe.matrix is None:
        return shape
    motion = gp_Trsf()
    motion.SetValues(*recipe.matrix[:3].reshape(-1).tolist())
    return BRepBuilderAPI_Transform(shape, motion).Shape()


def _unplaced(recipe: Recipe) -> TopoDS_Shape:
    if recipe.within:
        return _joined(
            [
                BRepAlgoAPI_Common(solid_of(a), prism_of(b)).Shape()
                for a, b in zip(recipe.add, recipe.within, strict=False)
            ]
        )
    whole = _joined([solid_of(each) for each in recipe.add])
    return _less(whole, recipe.less) if recipe.less else whole


STOCK = Stock(_unplaced)


def solid_of(each: Prism | Frustum) -> TopoDS_Shape:
    if isinstance(each, Prism):
        return prism_of(each)
    through = BRepOffsetAPI_ThruSections(True, True)
    for level in (each.below, each.above):
        through.AddWire(_polygon(list(level)))
    through.Build()
    return through.Shape()


def _less(whole: TopoDS_Shape, prisms: Sequence[Prism]) -> TopoDS_Shape:
    """All taken away in one operation."""
    cut, kept, taken = BRepAlgoAPI_Cut(), List_TopoDS_Shape(), List_TopoDS_Shape()
    kept.Append(whole)
    for prism in prisms:
        taken.Append(prism_of(prism))
    cut.SetArguments(kept)
    cut.SetTools(taken)
    cut.Build()
    return cut.Shape()


def _joined(shapes: Sequence[TopoDS_Shape]) -> TopoDS_Shape:
    whole = shapes[0]
    for shape in shapes[1:]:
        whole = BRepAlgoAPI_Fuse(whole, shape).Shape()
    return whole


def prism_of(prism: Prism) -> TopoDS_Shape:
    shape = _extruded(
        [prism.origin + x * prism.x + y * prism.y for x, y in prism.polygon.tolist()], prism.z * prism.length
    )
    for normal, offset in prism.planes:
        shape = BRepAlgoAPI_Common(shape, _half_space(normal, offset, prism.origin)).Shape()
    return shape


def _extruded(points: Sequence[np.ndarray], by: np.ndarray) -> TopoDS_Shape:
    return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(_polygon(points)).Face(), gp_Vec(*by.tolist())).Shape()


def _polygon(points: Sequence[np.ndarray]) -> TopoDS_Wire:
    polygon = BRepBuilderAPI_MakePolygon()
    for point in points:
        polygon.Add(gp_Pnt(*point.tolist()))
    polygon.Close()
    return polygon.Wire()


def _half_space(normal: np.ndarray, offset: float, near: np.ndarray) -> TopoDS_Shape:
    """A large block on the kept side of a plane."""
    foot = near + normal * (offset - float(normal @ near))
    side = np.cross(normal, [0.0, 0.0, 1.0] if abs(normal[2]) < 0.9 else [1.0, 0.0, 0.0])
    side /= np.linalg.norm(side)
    up = np.cross(side, normal)
    corners = [foot + a * side * FAR + b * up * FAR for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    return _extruded(corners, normal * FAR)


def meshes(recipes: Sequence[Recipe]) -> list[object]:
    found = []
    for recipe in recipes:
        shape = made(recipe)
        BRepMesh_IncrementalMesh(shape, 0.1)
        found.append(shape)
    return found


def volumes(recipes: Sequence[Recipe]) -> list[float]:
    found = []
    for recipe in recipes:
        properties = GProp_GProps()
        BRepGProp.VolumeProperties_s(made(recipe), properties)
        found.append(properties.Mass())
    return found
