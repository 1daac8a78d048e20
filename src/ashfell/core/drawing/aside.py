"""Lamps, cameras and what stands round the building on the plan, and what they are taken hold of by."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import atan2, cos, hypot, sin

from ashfell.core.base.address import Address
from ashfell.core.drawing.paper import Sheet
from ashfell.core.drawing.sheet import Points
from ashfell.core.drawing.wall_face import Elevation
from ashfell.core.site.aside import eye_and_aim, hung
from ashfell.core.site.document.camera import FRAME, Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.surroundings import outline_of

HANDLED = 200
"""With more of them than this they cannot be taken hold of on the plan; they are typed then."""
SIGHT = 12.0
"""How far the sight of a camera is drawn at least, mm of paper."""


@dataclass(frozen=True)
class Handle:
    """An end of a wall, which can be taken hold of: the address that it is moved by, where it is on the sheet, and
    where in the site, across and up in mm."""

    entry: str
    label: str
    x: float
    y: float
    place: str


@dataclass(frozen=True)
class Aside:
    """A lamp, a camera or what stands round the building: its address and what it is called, where it is on the sheet;
    ``sight`` are the corners of what a camera sees, from its eye, ``outlines`` those of what stands there, or of all
    that does where that is too much to be told apart."""

    kind: str
    entry: str
    label: str
    x: float
    y: float
    sight: Points = ()
    outlines: tuple[Points, ...] = ()


NEAR = 3000.0
"""How far before a wall a lamp is drawn on its elevation, mm."""


@dataclass(frozen=True)
class Before:
    """A lamp before a wall, as one looks at that: its address, what it is called, where it is on the sheet, and the way
    along the wall in the site, across and up."""

    entry: str
    label: str
    x: float
    y: float
    along: tuple[float, float]


def lamps_before(site: SiteDocument, seen: Elevation) -> Iterator[Before]:
    """The lamps that hang before a wall that does not bend, on the side that one looks at; none where they are too many
    to be told apart."""
    host = seen.host
    if host.folds or host.slope != 90 or len(site.lamps) > HANDLED:
        return
    frame = host.frame()
    flat, start = frame[:3, :3], frame[:3, 3]
    for one in hung(site):
        u, v, w = flat.T @ (one.middle - start)
        off = w if seen.looks == "outside" else -w - float(host.thickness)
        if 0 <= off <= NEAR and 0 <= u <= host.length and 0 <= v <= host.height:
            along = float(flat[0, 0]), float(flat[1, 0])
            yield Before(Address("lamps") / one.lamp.id, one.lamp.name, seen.x(u), seen.y(v), along)


def asides(
    site: SiteDocument, sheet: Sheet, storey: str, picked: str = ""
) -> tuple[tuple[Aside, ...], tuple[Handle, ...]]:
    """The lamps and cameras of the storey that is shown, all that stands round the building, and the points that they
    are moved by."""
    found, held = list[Aside](), list[Handle]()
    lowest = site.storeys[0].id if site.storeys else ""

    def is_shown(one: Lamp | Camera) -> bool:
        return not site.storeys or (one.storey or lowest) == storey

    for one in hung(site):
        if is_shown(one.lamp):
            entry, (x, y, _) = Address("lamps") / one.lamp.id, one.middle.tolist()
            found.append(Aside("lamp", entry, one.lamp.name, sheet.x(x), sheet.y(y)))
            held.append(_handle(entry / "place", one.lamp.name, sheet, (x, y)))
    for camera in filter(is_shown, site.cameras):
        entry, (eye, aim) = Address("cameras") / camera.id, eye_and_aim(site, camera)
        at, to = (eye[0], eye[1]), (aim[0], aim[1])
        found.append(Aside("camera", entry, camera.name, sheet.x(at[0]), sheet.y(at[1]), _sight(camera, sheet, at, to)))
        held.append(_handle(entry / "place", f"Eye of {camera.name}", sheet, at))
        held.append(_handle(entry / "aim", f"Target of {camera.name}", sheet, to))
    for beside in _told(site.surroundings, picked):
        entry, (x, y) = Address("surroundings") / beside.id, (float(beside.x.mm), float(beside.y.mm))
        outlines = (_outline(beside, sheet),)
        found.append(Aside("surrounding", entry, beside.name, sheet.x(x), sheet.y(y), outlines=outlines))
        if not beside.opening:
            held.append(_handle(entry / "place", beside.name, sheet, (x, y)))
    held += _corners(site, sheet, picked)
    if len(site.surroundings) > HANDLED:
        rest = tuple(_outline(one, sheet) for one in site.surroundings)
        found.insert(0, Aside("surrounding", "", "What stands round the building", 0.0, 0.0, outlines=rest))
    return tuple(found), tuple(held) if len(found) <= HANDLED else ()


def _corners(site: SiteDocument, sheet: Sheet, picked: str) -> list[Handle]:
    """The corners of the plate that is worked on."""
    plate = next((one for one in site.plates if Address("plates") / one.id == picked), None)
    return (
        [
            _handle(
                Address(picked) / "corners" / str(index) / "place", f"Corner {index + 1} of {plate.name}", sheet, at
            )
            for index, at in enumerate((float(one.x.mm), float(one.y.mm)) for one in plate.corners)
        ]
        if plate
        else []
    )


def _told(surroundings: Sequence[Surrounding], picked: str) -> Sequence[Surrounding]:
    """Those that are drawn by themselves: all of them, or the one that is picked where they are many."""
    if len(surroundings) <= HANDLED:
        return surroundings
    return [one for one in surroundings if Address("surroundings") / one.id == picked]


def _outline(one: Surrounding, sheet: Sheet) -> Points:
    return tuple((sheet.x(u), sheet.y(v)) for u, v in outline_of(one).tolist())


def _handle(entry: str, label: str, sheet: Sheet, at: tuple[float, float]) -> Handle:
    return Handle(entry, label, sheet.x(at[0]), sheet.y(at[1]), f"{at[0]:.10g} {at[1]:.10g}")


def _sight(camera: Camera, sheet: Sheet, at: tuple[float, float], to: tuple[float, float]) -> Points:
    """The corners of what a camera sees on the plan: its eye, and both edges of its picture as far as its target."""
    ahead, half = atan2(to[1] - at[1], to[0] - at[0]), atan2(FRAME / 2, camera.lens)
    far = max(hypot(to[0] - at[0], to[1] - at[1]) / cos(half), SIGHT / sheet.scale)
    edges = [(at[0] + far * cos(ahead + turn), at[1] + far * sin(ahead + turn)) for turn in (-half, half)]
    return tuple((sheet.x(x), sheet.y(y)) for x, y in (at, *edges))
