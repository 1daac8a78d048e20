"""The lists of a site as one workbook, or each as CSV in a ZIP."""

from collections.abc import Iterable, Sequence

from ashfell.core.site import lists, schedule
from ashfell.core.site.scene import Scene
from ashfell.formats import tables, workbook
from ashfell.formats.archive import packed
from ashfell.formats.raster import elevation_png
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source

Rows = Iterable[Sequence[str | float]]


def _tables(source: Source) -> list[tuple[str, Rows]]:
    scene = source.shown
    return [
        ("Openings", schedule.counted_table(scene, source.style.bare)),
        ("Units", schedule.unit_table(scene)),
        ("Glass", lists.glass_table(scene, source.names)),
        ("Members", lists.member_table(scene, source.names)),
        ("Finishes", lists.finish_table(scene, source.own)),
    ]


def _workbook(source: Source, chosen: Chosen) -> bytes:
    return workbook.write_xlsx(_tables(source), {"Units": unit_drawings(source.shown)})


def unit_drawings(scene: Scene) -> list[bytes]:
    """A small elevation of each unit of a scene, as they are listed."""
    return [elevation_png(one.made.shapes, *workbook.DRAWING) for one in schedule.uses(scene)]


def _texts(source: Source, chosen: Chosen) -> bytes:
    return packed(
        {
            f"{name.lower()}.csv": tables.write_csv([str(cell) for cell in row] for row in rows)
            for name, rows in _tables(source)
        }
    )


HOLDS = "Openings, units, the glass list, the cutting list with mitres, areas of finishes"
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
FORMATS.register(
    Format(
        "xlsx",
        200,
        "XLSX",
        "lists",
        ("site", "storey"),
        ".xlsx",
        XLSX,
        f"{HOLDS}; a sheet each, numbers as numbers, a drawing for each unit.",
        _workbook,
    )
)
FORMATS.register(
    Format(
        "csv", 210, "CSV", "lists", ("site", "storey"), ".csv.zip", "application/zip", f"{HOLDS}; a file each.", _texts
    )
)
