"""Tables of openings: CSV, read here, and workbooks (XLSX), whose first sheet is read in a process with limits.

Run as a module it reads a workbook on its standard input and writes its rows as JSON.
"""

from __future__ import annotations

import io
import json
import sys
import zipfile
from datetime import date, time

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.schedule import MOST_ROWS
from ashfell.formats.tables import LARGEST, read_csv
from ashfell.services import bounded

WORKBOOK = b"PK\x03\x04"
"""What a workbook begins with."""
MOST_COLUMNS = 100
MEMORY = 480 * 2**20
"""What reading a workbook may take, bytes."""
DIGITS = 10
"""Of a number in a cell."""


def rows(content: bytes) -> list[list[str]]:
    """The rows of a table, its headings first.

    Raises
    ------
    Refusal
        When it is too large, or no table that can be read.
    """
    if not content.startswith(WORKBOOK):
        return read_csv(content)
    if len(content) > LARGEST:
        message = f"The file is larger than {LARGEST // 2**20} MiB."
        raise Refusal("file", "a table", message, "Take it in in parts.")
    found: list[list[str]] = json.loads(bounded.run("ashfell.services.reading.table", content, memory=MEMORY))
    return found


def _read(content: bytes) -> list[list[str]]:
    from openpyxl import load_workbook  # not for who only asks

    book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
    if not book.worksheets:
        raise _refused("The workbook has no sheet.")
    found = []
    for row in book.worksheets[0].iter_rows(max_col=MOST_COLUMNS + 1, values_only=True):
        cells = [_text(cell) for cell in row]
        while cells and not cells[-1]:
            cells.pop()
        if len(cells) > MOST_COLUMNS:
            raise _refused(f"The sheet has more than {MOST_COLUMNS} columns.", "Take out those that are no headings.")
        if cells:
            found.append(cells)
        if len(found) > MOST_ROWS + 1:
            raise _refused(f"The sheet has more than {MOST_ROWS} rows.", "Take it in in parts.")
    if not found:
        raise _refused("The first sheet of the workbook is empty.")
    wide = len(found[0])
    return [[*cells, *[""] * (wide - len(cells))] for cells in found]


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, float):
        return f"{value:.{DIGITS}g}"
    if isinstance(value, (date, time)):  # what a spreadsheet makes of 1/2, for one
        raise _refused(f"A cell holds the date or time {value}.", "Format its column as text, and type it again.")
    return str(value).strip()


def _refused(message: str, remedy: str = "Choose one with headings in the first row of its first sheet.") -> Refusal:
    return Refusal("file", "a table", message, remedy)


def main() -> int:
    """Read a workbook on standard input, write its rows."""
    try:
        made = _read(sys.stdin.buffer.read())
    except Refusal as refusal:
        return bounded.tell(refusal)
    except (ValueError, LookupError, TypeError, AttributeError, OSError, SyntaxError, zipfile.BadZipFile) as error:
        # Whatever a stranger's file does to the library that reads it.
        message = f"The file cannot be read as a workbook: {type(error).__name__}."
        return bounded.tell(_refused(message, "Save it again as XLSX, or as CSV."))
    sys.stdout.write(json.dumps(made))
    return 0


if __name__ == "__main__":
    sys.exit(main())
