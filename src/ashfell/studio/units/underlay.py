"""What lies under a unit's elevation, as its page draws it."""

from __future__ import annotations

from dataclasses import dataclass

from django.urls import reverse

from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Style, parse, show
from ashfell.services.kept.models import Record
from ashfell.services.underlays import PLACED
from ashfell.studio.units.sheet import DrawnSheet

LABELS = {"x": "Left of the underlay", "y": "Foot of the underlay", "width": "Width of the underlay"}


@dataclass(frozen=True)
class Laid:
    """An underlay on the sheet: its transform from unit millimetres, and its numbers as inputs."""

    name: str
    href: str
    d: str
    transform: str
    x: float
    top: float
    width: float
    height: float
    entries: tuple[tuple[str, str, str], ...]


def laid(record: Record, under: Data | None, sheet: DrawnSheet, style: Style) -> Laid | None:
    """An underlay as it lies on a sheet; None where there is none."""
    if under is None:
        return None
    x, y, width = (float(parse(under[name])) for name in PLACED)
    scale = width / under["across"]
    flip = -1 if sheet.mirrored else 1
    transform = f"matrix({flip * sheet.scale:g} 0 0 {sheet.scale:g} {sheet.left:g} {sheet.foot:g})"
    href = ""
    if under["image"]:
        href = reverse("unit-underlay", args=[record.project_id, record.key]) + f"?of={under['image'][:16]}"
    else:
        transform += f" translate({x:g} {-y:g}) scale({scale:g})"
    height = under["up"] * scale
    entries = tuple((f"underlay.{name}", show(parse(under[name]), style), LABELS[name]) for name in PLACED)
    return Laid(under["name"], href, under["lines"], transform, x, -y - height, width, height, entries)
