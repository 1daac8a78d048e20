"""Tables in files: CSV written and read."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Sequence

from ashfell.core.base.refusal import Refusal

LARGEST = 4 * 2**20
"""The largest table that is read, bytes."""
DELIMITERS = ",;\t"
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
