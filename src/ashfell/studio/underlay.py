"""What lies under a drawing to be traced over, as its page draws it, and the requests that lay it there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Style, parse, show
from ashfell.services.kept.models import Asset, Record
from ashfell.services.underlays import PLACED, read_underlay

AS_KEPT: Data = {"as": "kept"}
"""Stands for the underlay that is kept."""
LABELS = {"x": "Left of the underlay", "y": "Foot of the underlay", "width": "Width of the underlay"}


class Sheet(Protocol):
    """Where a drawing stands on its page."""

    @property
    def scale(self) -> float: ...
    @property
    def left(self) -> float: ...
    @property
    def foot(self) -> float: ...


@dataclass(frozen=True)
class Laid:
    """An underlay on the sheet: its transform from millimetres, and its numbers as inputs."""

    name: str
    href: str
    d: str
    transform: str
    x: float
    top: float
    width: float
    height: float
    entries: tuple[tuple[str, str, str], ...]


def laid(under: Data | None, address: str, sheet: Sheet, style: Style, flip: bool = False) -> Laid | None:
    """An underlay as it lies on a sheet; None where there is none. ``address`` is where its image is to be had;
    ``flip`` is whether it is seen from behind."""
    if under is None:
        return None
    x, y, width = (float(parse(under[name])) for name in PLACED)
    scale = width / under["across"]
    across = -sheet.scale if flip else sheet.scale
    transform = f"matrix({across:g} 0 0 {sheet.scale:g} {sheet.left:g} {sheet.foot:g})"
    href = ""
    if under["image"]:
        href = f"{address}?of={under['image'][:16]}"
    else:
        transform += f" translate({x:g} {-y:g}) scale({scale:g})"
    height = under["up"] * scale
    entries = tuple((f"underlay.{name}", show(parse(under[name]), style), LABELS[name]) for name in PLACED)
    return Laid(under["name"], href, under["lines"], transform, x, -y - height, width, height, entries)


def image_of(record: Record) -> HttpResponse:
    """The image that lies under a record's drawing."""
    asset = get_object_or_404(Asset, pk=(record.underlay or {}).get("image") or "none")
    return HttpResponse(bytes(asset.content), content_type="image/png")


def brought(request: HttpRequest, width: str) -> tuple[Data, str]:
    """The underlay in the file that somebody brings, and that file's name; an image is ``width`` wide until it is
    scaled.

    Raises
    ------
    Refusal
        When it is too large or cannot be read.
    """
    file = request.FILES.get("file")
    name, size = (file.name or "underlay", file.size or 0) if file else ("", 0)
    under, image = read_underlay(file.file if file else None, name, size, width)
    return (under | {"image": Asset.keep(image)} if image is not None else under), name
