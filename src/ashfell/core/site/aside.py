"""What stands beside the building in a site document: lamps and cameras, each at its level."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Length, exact
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import Registry
from ashfell.core.plane.points import Floats
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.settle import Levels


@dataclass(frozen=True, eq=False)
class Hung:
    """A lamp where it hangs, its middle in the site (3,), mm."""

    lamp: Lamp
    middle: Floats


def hung(site: SiteDocument) -> Iterator[Hung]:
    """Every lamp at its level; one of a storey that is not there hangs above 0."""
    levels = Levels(site.storeys)
    for lamp in site.lamps:
        yield Hung(lamp, _place(levels, lamp.storey, lamp.x, lamp.y, lamp.z))


def eye_and_aim(site: SiteDocument, camera: Camera) -> tuple[Floats, Floats]:
    """Where the eye of a camera is and what it looks at, (3,) each in the site, mm."""
    levels = Levels(site.storeys)
    eye = _place(levels, camera.storey, camera.x, camera.y, camera.z)
    return eye, _place(levels, camera.storey, camera.to_x, camera.to_y, camera.to_z)


def _place(levels: Levels, storey: str | None, x: Length, y: Length, z: Length) -> Floats:
    level = levels.of.get(storey, 0) if storey else 0
    return np.array([float(x.mm), float(y.mm), float(z.mm + level)])


def groups(site: SiteDocument) -> list[str]:
    """The groups that lamps are switched by, in the order in which they come."""
    return list(dict.fromkeys(lamp.group for lamp in site.lamps))


def with_kind(entry: Data, kind: str, kinds: Registry[Any]) -> Data:
    """A lamp, or what stands round the building, as one of another kind, with what that begins as.

    Raises
    ------
    Refusal
        When there is no such kind.
    """
    if kind not in kinds:
        raise Refusal("kind", "one of a list", f"“{kind}” is no {kinds.noun}.", f"Choose {', '.join(kinds)}.")
    return entry if entry["kind"] == kind else entry | {"kind": kind} | dict(kinds[kind].start)


def middle_of(site: SiteDocument) -> tuple[str, str]:
    """Where a lamp is put when nobody says so: amid the starts of the walls, x and y as lengths."""
    if not site.walls:
        return "0", "0"
    spots = [(wall.x.mm, wall.y.mm) for wall in site.walls]
    across, up = zip(*spots, strict=True)
    return exact(sum(across) / len(spots)), exact(sum(up) / len(spots))
