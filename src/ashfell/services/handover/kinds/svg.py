"""SVG of a unit's elevation."""

from ashfell.formats.svg import elevation_svg
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source


def _write(source: Source, chosen: Chosen) -> bytes:
    return elevation_svg(source.unit, source.style).encode()


FORMATS.register(
    Format(
        "svg",
        120,
        "SVG",
        "drawings",
        ("unit",),
        ".svg",
        "image/svg+xml",
        "The outer elevation with all its dimensions.",
        _write,
    )
)
