"""USD."""

from ashfell.formats.usd import write_usd
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source
from ashfell.services.textures import jpeg


def _write(source: Source, chosen: Chosen) -> bytes:
    return write_usd(source.model, jpeg)


FORMATS.register(
    Format(
        "usdz",
        20,
        "USDZ",
        "models",
        ("site", "storey", "unit"),
        ".usdz",
        "model/vnd.usdz+zip",
        "Every unit as a class with its instances, finishes as preview surfaces; metres, z up.",
        _write,
    )
)
