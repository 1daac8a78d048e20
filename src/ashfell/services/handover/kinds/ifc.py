"""IFC4."""

from ashfell.formats.ifc import write_ifc
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source


def _write(source: Source, chosen: Chosen) -> bytes:
    return write_ifc(source.name, source.scene, source.own, source.only)


FORMATS.register(
    Format(
        "ifc",
        5,
        "IFC4",
        "models",
        ("site", "storey"),
        ".ifc",
        "application/x-step",
        "Storeys, walls, openings, windows and doors with their types, properties, quantities and materials; mm.",
        _write,
    )
)
