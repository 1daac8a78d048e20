"""Level plates: floors, ceilings, flat roofs, the ground; rectangles, round corners, or what walls enclose."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import Floats, polygons
from ashfell.core.site.course import Facet, facets_of
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.hosts.chain import MEET, ends_of
from ashfell.core.site.hosts.wall import WallHost
from ashfell.core.solid.plate import extrusions
from ashfell.core.solid.plate import plate as plate_of

FEWEST = 3
"""Corners that go round something."""


def plate_part(plate: Plate, site: SiteDocument) -> Part:
    """A level plate, in the site's space.

    Raises
    ------
    Refusal
        When the walls that it lies within are not there, or enclose nothing, or it does not go round its corners.
    """
    top, thickness = float(plate.level.mm), float(plate.thickness.mm)
    if _is_shaped(plate):
        solid = plate_of(_shape(plate, site), top - thickness, top)
    else:
        solid = extrusions([_rectangle(plate)], top - thickness, top)
    return Part(f"plate.{plate.id}", Address("plates") / plate.id, "plate", plate.finish, ALONG_U, solid)


def _rectangle(plate: Plate) -> Floats:
    x, y, width, depth = (float(value.mm) for value in (plate.x, plate.y, plate.width, plate.depth))
    return np.array([(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)])


def plate_outline(plate: Plate, site: SiteDocument) -> Floats:
    """Its outline in plan, (c, 2) mm.

    Raises
    ------
    Refusal
        As :func:`plate_part`.
    """
    return np.array(_shape(plate, site).exterior.coords)[:-1] if _is_shaped(plate) else _rectangle(plate)


def _is_shaped(plate: Plate) -> bool:
    return bool(plate.corners or plate.walls or plate.bay is not None)


def _shape(plate: Plate, site: SiteDocument) -> Polygon:
    if plate.bay is not None:
        return _of_bay(plate, site)
    return _enclosed(plate, site) if plate.walls else _cornered(plate)


def _cornered(plate: Plate) -> Polygon:
    """What lies within the corners of a plate."""
    if len(plate.corners) < FEWEST:
        told = f"{len(plate.corners)} corners go round nothing."
        raise Refusal("corners", "three corners at least", told, "Add one, or give the plate sizes of its own.")
    shape = Polygon([(float(one.x.mm), float(one.y.mm)) for one in plate.corners])
    if not shape.is_valid or shape.area < MEET:
        told = "The edges between its corners cross, or go round nothing."
        raise Refusal("corners", "edges that do not cross", told, "Move or take away a corner.")
    return shape


def _of_bay(plate: Plate, site: SiteDocument) -> Polygon:
    """What lies between the first and the last corner of a wall that bends out, to its inner or outer face."""
    wall = site.wall(plate.bay or "")
    if wall is None:
        raise Refusal("bay", "a known wall", f"There is no wall “{plate.bay}”.", "Choose one that is there.")
    facets = facets_of(wall)
    if len(facets) < 4:
        raise Refusal(
            "bay",
            "a wall with a bay",
            f"“{wall.name}” has {len(facets) - 1} folds; a bay lies between three at least.",
            "Let the wall bend out and back, or give the plate sizes of its own.",
        )
    by = wall.before if plate.reach == "outside" else wall.before - wall.thickness.mm
    line = LineString([(one.x, one.y) for one in facets] + [_far_end(facets[-1])])
    moved = line.offset_curve(-float(by), join_style="mitre", mitre_limit=10.0) if by else line
    corners = Polygon(np.array(moved.coords)[1:-1])
    if not corners.is_valid or corners.area < MEET:
        raise Refusal(
            "bay",
            "a wall with a bay",
            f"The corners of “{wall.name}” enclose nothing at this face.",
            "Choose its other face, or give the plate sizes of its own.",
        )
    return corners


def _far_end(facet: Facet) -> tuple[float, float]:
    turn, length = radians(facet.heading), float(facet.length)
    return facet.x + length * cos(turn), facet.y + length * sin(turn)


def _enclosed(plate: Plate, site: SiteDocument) -> Polygon:
    """What the walls of a plate enclose, to their inner or outer faces."""
    missing = next((key for key in plate.walls if site.wall(key) is None), None)
    if missing is not None:
        raise Refusal("walls", "a known wall", f"There is no wall “{missing}”.", "Choose walls that are there.")
    ends = ends_of(site.walls)
    try:
        hosts = [WallHost(site.wall_by_id[key], ends[key]) for key in plate.walls]
    except Refusal as refusal:
        told = f"One of its walls cannot stand. {refusal.message}"
        raise Refusal("walls", "walls that stand", told, "Mend that wall first.") from None
    bodies = [Polygon(piece) for host in hosts for piece in host.plan([])]
    joined = shapely.union_all(bodies).buffer(MEET, join_style="mitre").buffer(-MEET, join_style="mitre")
    inside = [Polygon(ring) for piece in polygons(joined) for ring in piece.interiors]
    if not inside:
        names = ", ".join(f"“{host.name}”" for host in hosts)
        raise Refusal(
            "walls",
            "walls that enclose something",
            f"{names} do not close round a room.",
            "Name walls each of which begins where one ends, all round.",
        )
    room = max(inside, key=lambda one: one.area)
    if plate.reach == "outside":
        room = Polygon(max(polygons(joined), key=lambda one: one.area).exterior)
    return Polygon(shapely.simplify(room, 1e-3))
