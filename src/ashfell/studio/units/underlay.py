"""An image or a drawing that lies under a unit's elevation to be traced over, placed to scale and kept with the unit."""

from __future__ import annotations

import io
from dataclasses import dataclass
from math import hypot

from django.core.files.uploadedfile import UploadedFile
from django.urls import reverse
from PIL import Image, UnidentifiedImageError

from ashfell.core.base.document import typed_length
from ashfell.core.base.lengths import Style, exact, parse, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.sheet import UnitSheet
from ashfell.formats.paths import read_lines
from ashfell.studio.projects.models import Record, Underlay

LARGEST_FILE = 8 * 2**20
MOST_PIXELS, KEPT = 60_000_000, (2400, 2400)
"""The largest image that is opened, and the size it is kept in at most, pixels."""
DRAWINGS = ("svg", "dxf")
PLACED = ("x", "y", "width")


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


def laid(record: Record, sheet: UnitSheet, style: Style) -> Laid | None:
    """The underlay of a unit as it lies on a sheet; None where there is none."""
    under = underlay_of(record)
    if under is None:
        return None
    x, y, width = (float(parse(getattr(under, name))) for name in PLACED)
    scale = width / under.across
    flip = -1 if sheet.mirrored else 1
    labels = {"x": "Left of the underlay", "y": "Foot of the underlay", "width": "Width of the underlay"}
    return Laid(
        under.name,
        reverse("unit-underlay", args=[record.project_id, record.key]) + f"?of={under.pk}-{under.loaded}" if not under.lines else "",
        under.lines,
        f"matrix({flip * sheet.scale:g} 0 0 {sheet.scale:g} {sheet.left:g} {sheet.foot:g})"
        + ("" if not under.lines else f" translate({x:g} {-y:g}) scale({scale:g})"),
        x,
        -y - under.up * scale,
        width,
        under.up * scale,
        tuple((f"underlay.{name}", show(parse(getattr(under, name)), style), labels[name]) for name in PLACED),
    )  # fmt: skip


def underlay_of(record: Record) -> Underlay | None:
    """The underlay of a unit, its image left where it is until it is asked for; the same object all through a request."""
    if not hasattr(record, "under"):
        record.under = Underlay.objects.defer("image").filter(record=record).first()  # type: ignore[attr-defined]
    return record.under  # type: ignore[attr-defined, no-any-return]


def change_underlay(record: Record, entry: str, value: str, style: Style, keep: bool) -> None:
    """Place a unit's underlay: ``underlay.x``, ``.y`` and ``.width`` by typing, ``.moved`` by ``"x; y"``, ``.scaled`` by two
    points and their true distance, ``"u1; v1; u2; v2; length"``; ``.removed`` takes it away.

    Raises
    ------
    Refusal
        When there is none, or what was typed cannot be read.
    """
    under = underlay_of(record)
    what = entry.partition(".")[2]
    if under is None:
        raise Refusal(entry, "a known entry", "This unit has no underlay.", "Lay one under it with Trace.")
    if what == "removed":
        if keep:
            under.delete()
        record.under = None  # type: ignore[attr-defined]
        return
    if what in PLACED:
        text = typed_length(entry, value, style.bare)
        if what == "width" and parse(text) <= 0:
            raise Refusal(
                entry, "a size above zero", f"A width of {text} cannot be shown.", "Type a length above zero."
            )
        setattr(under, what, text)
    elif what == "moved":
        across, up = _lengths(entry, value, 2, style)
        under.x, under.y = exact(parse(under.x) + across), exact(parse(under.y) + up)
    elif what == "scaled":
        _scale(under, entry, value, style)
    else:
        raise Refusal(entry, "a known entry", f"There is no entry “{entry}”.")
    if keep:
        under.save(update_fields=PLACED)


def _scale(under: Underlay, entry: str, value: str, style: Style) -> None:
    """The first point stays where it is."""
    u1, v1, u2, v2, length = _lengths(entry, value, 5, style)
    distance = hypot(float(u2 - u1), float(v2 - v1))
    if distance < 0.01 or length <= 0:
        raise Refusal(
            entry, "two points apart", "Two points and a length above zero give the scale.", "Pick them again."
        )
    share = parse(f"{float(length) / distance:.9f}")
    under.x, under.y = (exact(at + (parse(now) - at) * share) for at, now in ((u1, under.x), (v1, under.y)))
    under.width = exact(parse(under.width) * share)


def _lengths(entry: str, value: str, count: int, style: Style) -> list[object]:
    parts = value.split(";")
    if len(parts) != count:
        raise Refusal(entry, "a place", f"“{value}” is no place.", f"Give it as {count} lengths.")
    return [parse(typed_length(entry, part, style.bare)) for part in parts]


def lay(record: Record, file: UploadedFile | None, width: str) -> None:
    """Keep a file as the unit's underlay: an image as wide as the unit until it is scaled, a drawing in its own size."""
    if file is None or file.size is None or file.size > LARGEST_FILE:
        raise Refusal("file", "an image or a drawing", f"Choose a file of at most {LARGEST_FILE // 2**20} MiB.")
    name = (file.name or "underlay")[:80]
    if name.rpartition(".")[2].lower() in DRAWINGS:
        lines, across, up = read_lines(file.read(), name)
        made = {"image": None, "lines": lines, "across": across, "up": up, "width": f"{across:.10g}"}
    else:
        image, across, up = _read_image(file)
        made = {"image": image, "lines": "", "across": across, "up": up, "width": width}
    under, fresh = Underlay.objects.update_or_create(record=record, defaults={"name": name, "x": "0", "y": "0", **made})
    if not fresh:
        under.loaded += 1
        under.save(update_fields=["loaded"])
    record.under = under  # type: ignore[attr-defined]


def _read_image(file: UploadedFile) -> tuple[bytes, float, float]:
    """An image as PNG of at most the size that is kept, and its size in pixels."""
    try:
        with Image.open(file) as image:
            if image.width * image.height > MOST_PIXELS:
                raise Refusal(
                    "file",
                    "an image of a sensible size",
                    f"{image.width} by {image.height} pixels are too many.",
                    "Make it smaller.",
                )
            image.thumbnail(KEPT)
            kept = io.BytesIO()
            image.convert("RGBA" if "A" in image.getbands() else "RGB").save(kept, "PNG")
            return kept.getvalue(), float(image.width), float(image.height)
    except (UnidentifiedImageError, OSError, SyntaxError, Image.DecompressionBombError) as error:
        raise Refusal(
            "file", "an image or a drawing", "The file is no image that can be read.", "Choose PNG, JPEG, SVG or DXF.",
        ) from error  # fmt: skip
