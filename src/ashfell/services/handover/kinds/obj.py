"""OBJ with MTL."""

from ashfell.formats.obj import write_obj
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source
from ashfell.services.textures import jpeg


def _write(source: Source, chosen: Chosen) -> bytes:
    return write_obj(source.model, jpeg)


FORMATS.register(
    Format(
        "obj",
        30,
        "OBJ",
        "models",
        ("site", "storey", "unit"),
        ".obj.zip",
        "application/zip",
        "OBJ, MTL and textures in a ZIP, grouped by unit and role; metres, y up.",
        _write,
    )
)
