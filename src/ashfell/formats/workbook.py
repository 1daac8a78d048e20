"""Tables in workbooks: XLSX written."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterable, Mapping, Sequence

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.drawing.image import Image as XlsxImage
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from ashfell.formats.archive import packed

DRAWING = 110, 80
"""How wide and high a drawing in a table is at most, pixels."""
WRITTEN = re.compile(rb"(<dcterms:(created|modified)[^>]*>)[^<]*")
TOLD = ("=", "#")
"""What text begins with that a workbook would take for something else."""
NEVER = rb"\g<1>1980-01-01T00:00:00Z"
"""The time at which every workbook is said to be written."""


def write_xlsx(
    sheets: Sequence[tuple[str, Iterable[Sequence[str | float]]]], drawings: Mapping[str, Sequence[bytes]] = {}
) -> bytes:
    """Tables as the sheets of a workbook: a heading in bold over each column, its first row kept in sight, and a
    filter. ``drawings`` are PNG images for the rows of a sheet, one for each, in a column behind the others. The same
    tables give the same bytes."""
    book = Workbook(write_only=True)
    for name, lines in sheets:
        sheet = book.create_sheet(name)
        sheet.freeze_panes = "A2"
        wide = high = 0
        drawn = drawings.get(name, ())
        rows = list(lines)
        if drawn:
            rows[0] = [*rows[0], "drawing"]
            sheet.column_dimensions[get_column_letter(len(rows[0]))].width = DRAWING[0] / 7
            for number, image in enumerate(drawn, 2):
                sheet.row_dimensions[number].height = DRAWING[1] * 0.78
                sheet.add_image(XlsxImage(io.BytesIO(image)), f"{get_column_letter(len(rows[0]))}{number}")
        for number, line in enumerate(rows):
            sheet.append([_cell(sheet, value, bold=True) for value in line] if number == 0 else _plain(sheet, line))
            wide, high = max(wide, len(line)), number + 1
        if wide:
            sheet.auto_filter.ref = f"A1:{get_column_letter(wide)}{high}"
    out = io.BytesIO()
    book.save(out)
    with zipfile.ZipFile(out) as archive:
        return packed({one: WRITTEN.sub(NEVER, archive.read(one)) for one in archive.namelist()})


def _plain(sheet: object, line: Sequence[str | float]) -> list[object]:
    """A row of values; those that would be taken for a formula or an error as cells, which take several times as long,
    and nothing where nothing is said, which takes none."""
    return [
        None if one == "" else _cell(sheet, one, bold=False) if isinstance(one, str) and one[0] in TOLD else one
        for one in line
    ]


def _cell(sheet: object, value: str | float, bold: bool) -> WriteOnlyCell:
    cell = WriteOnlyCell(sheet, value=value)
    if isinstance(value, str):
        cell.data_type = "s"  # whatever it begins with, it is no formula
    if bold:
        cell.font = Font(bold=True)
    return cell
