"""Underlays: an image or a drawing that lies under a unit to be traced over, placed to scale; values, without a
database.

An underlay is a dict: ``name``, ``image`` (key of the kept image, empty for a drawing), ``lines`` (path data of a
drawing, mm), ``across`` and ``up`` (its own size), ``x``, ``y`` and ``width`` (where it lies, lengths as typed).
"""

from __future__ import annotations

import io
from fractions import Fraction
from math import hypot
from typing import IO, Annotated, Any

from PIL import Image
from pydantic import Field

from ashfell.core.base.document import Data, Document, Place, Size, typed_length
from ashfell.core.base.lengths import Style, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.services.images import brought
from ashfell.services.reading import drawing


class Underlay(Document):
    """An underlay that somebody hands over."""

    name: Annotated[str, Field(max_length=80)]
    image: Annotated[str, Field(pattern="^(|[0-9a-f]{64})$")] = ""
    lines: Annotated[str, Field(max_length=4_000_000, pattern=r"^[MLZ0-9 .,e+-]*$")] = ""
    across: Annotated[float, Field(gt=0, lt=1e9)]
    up: Annotated[float, Field(gt=0, lt=1e9)]
    x: Place
    y: Place
    width: Size


LARGEST_FILE = 8 * 2**20
DRAWINGS = ("svg", "dxf")
PLACED = ("x", "y", "width")


def placed(under: Data | None, entry: str, value: str, style: Style) -> Data | None:
    """An underlay after a change: ``underlay.x``, ``.y`` and ``.width`` by typing, ``.moved`` by ``"x; y"``,
    ``.scaled`` by two points and their true distance, ``"u1; v1; u2; v2; length"``; ``.removed`` takes it away.

    Raises
    ------
    Refusal
        When there is none, or what was typed cannot be read.
    """
    what = entry.partition(".")[2]
    if under is None:
        raise Refusal(entry, "a known entry", "Nothing lies under it.", "Lay one under it with Trace.")
    if what == "removed":
        return None
    if what in PLACED:
        text = typed_length(entry, value, style.bare)
        if what == "width" and parse(text) <= 0:
            raise Refusal(
                entry, "a size above zero", f"A width of {text} cannot be shown.", "Type a length above zero."
            )
        return under | {what: text}
    if what == "moved":
        across, up = _lengths(entry, value, 2, style)
        return under | {"x": exact(parse(under["x"]) + across), "y": exact(parse(under["y"]) + up)}
    if what == "scaled":
        return _scaled(under, entry, value, style)
    raise Refusal(entry, "a known entry", f"There is no entry “{entry}”.")


def _scaled(under: Data, entry: str, value: str, style: Style) -> Data:
    """The first point stays where it is."""
    u1, v1, u2, v2, length = _lengths(entry, value, 5, style)
    distance = hypot(float(u2 - u1), float(v2 - v1))
    if distance < 0.01 or length <= 0:
        raise Refusal(
            entry, "two points apart", "Two points and a length above zero give the scale.", "Pick them again."
        )
    share = parse(f"{float(length) / distance:.9f}")
    x, y = (exact(at + (parse(under[name]) - at) * share) for at, name in ((u1, "x"), (v1, "y")))
    return under | {"x": x, "y": y, "width": exact(parse(under["width"]) * share)}


def _lengths(entry: str, value: str, count: int, style: Style) -> list[Fraction]:
    parts = value.split(";")
    if len(parts) != count:
        raise Refusal(entry, "a place", f"“{value}” is no place.", f"Give it as {count} lengths.")
    return [parse(typed_length(entry, part, style.bare)) for part in parts]


def read_underlay(file: IO[Any] | None, name: str, size: int, width: str) -> tuple[Data, bytes | None]:
    """An underlay from a file, and the image to keep for it: an image as wide as the unit until it is scaled, a drawing
    in its own size and without an image.

    Raises
    ------
    Refusal
        When it is too large or cannot be read.
    """
    if file is None or size > LARGEST_FILE:
        raise Refusal("file", "an image or a drawing", f"Choose a file of at most {LARGEST_FILE // 2**20} MiB.")
    made: dict[str, Any] = {"name": name[:80], "image": "", "lines": "", "x": "0", "y": "0", "width": width}
    if name.rpartition(".")[2].lower() in DRAWINGS:
        lines, across, up = drawing.lines(file.read(), name)
        return made | {"lines": lines, "across": across, "up": up, "width": f"{across:.10g}"}, None
    image, across, up = _read_image(file, size)
    return made | {"across": across, "up": up}, image


def _read_image(file: IO[Any], size: int) -> tuple[bytes, float, float]:
    """An image as PNG of at most the size that is kept, and its size in pixels."""
    content = brought(file, size, clear=True)
    with Image.open(io.BytesIO(content), formats=("PNG",)) as image:
        return content, float(image.width), float(image.height)
