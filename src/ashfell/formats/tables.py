"""Tables in files: CSV written and read, XLSX written."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from collections.abc import Iterable, Mapping, Sequence

from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.drawing.image import Image as XlsxImage
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from ashfell.core.base.refusal import Refusal
from ashfell.formats.archive import packed

LARGEST = 4 * 2**20
"""The largest table that is read, bytes."""
DELIMITERS = ",;\t"
DRAWING = 110, 80
"""How wide and high a drawing in a table is at most, pixels."""
WRITTEN = re.compile(rb"(<dcterms:(created|modified)[^>]*>)[^<]*")
NEVER = rb"\g<1>1980-01-01T00:00:00Z"
"""The time at which every workbook is said to be written."""
FORMULA = re.compile(r"[=@]|[+-](?![\d.])")
"""What a spreadsheet would take for the beginning of a formula; a number with a sign is none."""


def write_csv(lines: Iterable[Sequence[str]]) -> bytes:
    """A table as CSV in UTF-8, with the mark by which spreadsheets know that; nothing in it is taken for a formula."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([[_harmless(cell) for cell in line] for line in lines])
    return out.getvalue().encode("utf-8-sig")


def _harmless(cell: str) -> str:
    return f"'{cell}" if FORMULA.match(cell) else cell


def _as_written(cell: str) -> str:
    return cell[1:] if cell[:1] == "'" and FORMULA.match(cell[1:]) else cell


def read_csv(content: bytes) -> list[list[str]]:
    """The rows of a CSV file, parted by commas, semicolons or tabs as its first row is.

    Raises
    ------
    Refusal
        When it is too large or no text.
    """
    if len(content) > LARGEST:
        told = f"The file is larger than {LARGEST // 2**20} MiB."
        raise Refusal("file", "a table", told, "Take it in in parts.")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    if "\0" in text or not text.strip():
        raise Refusal(
            "file", "a table", "The file holds no table.", "Choose a CSV file with headings in its first row."
        )
    first = text.lstrip().splitlines()[0]
    delimiter = max(DELIMITERS, key=first.count)
    try:
        lines = list(csv.reader(io.StringIO(text, newline=""), delimiter=delimiter))
    except csv.Error as error:
        raise Refusal("file", "a table", f"The file cannot be read: {error}.", "Save it as CSV again.") from error
    return [[_as_written(cell) for cell in line] for line in lines if line]


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
            sheet.append([_cell(sheet, value, bold=number == 0) for value in line])
            wide, high = max(wide, len(line)), number + 1
        if wide:
            sheet.auto_filter.ref = f"A1:{get_column_letter(wide)}{high}"
    out = io.BytesIO()
    book.save(out)
    with zipfile.ZipFile(out) as archive:
        return packed({one: WRITTEN.sub(NEVER, archive.read(one)) for one in archive.namelist()})


def _cell(sheet: object, value: str | float, bold: bool) -> WriteOnlyCell:
    cell = WriteOnlyCell(sheet, value=value)
    if isinstance(value, str):
        cell.data_type = "s"  # whatever it begins with, it is no formula
    if bold:
        cell.font = Font(bold=True)
    return cell
