"""STL, as it is or for a print."""

from ashfell.formats.stl import write_stl, write_stl_parts
from ashfell.services.handover.format import FORMATS, Chosen, Format, Option
from ashfell.services.handover.source import Source

PRINT = Option("print", "Scale", {"1": "1 : 1", **{str(one): f"1 : {one}" for one in (5, 10, 20, 50, 100, 200)}})


def _write(source: Source, chosen: Chosen) -> bytes:
    return write_stl(source.model, 1 / float(chosen["print"]))


def _write_parts(source: Source, chosen: Chosen) -> bytes:
    return write_stl_parts(source.model, 1 / float(chosen["print"]))


FORMATS.register(
    Format(
        "stl",
        40,
        "STL",
        "models",
        ("site", "storey", "unit"),
        ".stl",
        "model/stl",
        "Closed solids as triangles, millimetres, z up; also smaller, for a print.",
        _write,
        (PRINT,),
    )
)
FORMATS.register(
    Format(
        "stl-parts",
        41,
        "STL, part by part",
        "models",
        ("site", "storey", "unit"),
        ".stl.zip",
        "application/zip",
        "A ZIP with an STL of every part.",
        _write_parts,
        (PRINT,),
    )
)
