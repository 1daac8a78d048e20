"""Level plates: floors, ceilings, flat roofs, the ground; rectangles, round corners, or what walls enclose."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from math import cos, radians, sin

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ashfell.core.base.address import Address
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import ALONG_U, Part
from ashfell.core.plane.points import polygons
from ashfell.core.site.course import Facet, facets_of
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.hosts.chain import MEET
from ashfell.core.site.hosts.host import Host
from ashfell.core.solid.plate import plate as plate_of

FEWEST = 3
"""Corners that go round something."""


def plate_shape(plate: Plate, site: SiteDocument, hosts: Mapping[str, Host]) -> Polygon:
    """What a plate covers in plan, mm; ``hosts`` are the walls that stand, by id.

    Raises
    ------
    Refusal
        When the walls that it lies within are not there, or enclose nothing, or it does not go round its corners.
    """
    if plate.bay is not None:
        return _of_bay(plate, site)
    if plate.walls:
        return _enclosed(plate, site, hosts)
    return _cornered(plate) if plate.corners else _rectangle(plate)


def plate_part(plate: Plate, shape: Polygon) -> Part:
    """A level plate of a shape, in the site's space."""
    top, thickness = float(plate.level.mm), float(plate.thickness.mm)
    solid = plate_of(shape, top - thickness, top)
    return Part(f"plate.{plate.id}", Address("plates") / plate.id, "plate", plate.finish, ALONG_U, solid)


def _rectangle(plate: Plate) -> Polygon:
    x, y, width, depth = (float(value.mm) for value in (plate.x, plate.y, plate.width, plate.depth))
    return Polygon([(x, y), (x + width, y), (x + width, y + depth), (x, y + depth)])


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


def _enclosed(plate: Plate, site: SiteDocument, hosts: Mapping[str, Host]) -> Polygon:
    """What the walls of a plate enclose, to their inner or outer faces."""
    for key in plate.walls:
        wall = site.wall(key)
        if wall is None:
            raise Refusal("walls", "a known wall", f"There is no wall “{key}”.", "Choose walls that are there.")
        if key not in hosts:
            told = f"One of its walls, “{wall.name}”, cannot stand."
            raise Refusal("walls", "walls that stand", told, "Mend that wall first.")
    return _room(tuple(hosts[key] for key in plate.walls), plate.reach == "outside")


@lru_cache(maxsize=256)
def _room(hosts: tuple[Host, ...], to_outside: bool) -> Polygon:
    """What walls enclose; the same walls are asked once."""
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
    if to_outside:
        room = Polygon(max(polygons(joined), key=lambda one: one.area).exterior)
    return Polygon(shapely.simplify(room, 1e-3))
