"""Tables in files, read back by what is not ours."""

import csv
import io

import openpyxl
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.formats.tables import LARGEST, read_csv, write_csv
from ashfell.formats.workbook import write_xlsx

LINES = [["mark", "size"], ["Wüste, “gross”", "3' 0 1/2\""], ["=1+1", "-40"], ["two\nlines", ""]]


def test_csv_is_read_by_the_standard_library():
    text = write_csv(LINES).decode("utf-8-sig")
    assert list(csv.reader(io.StringIO(text, newline=""))) == [*LINES[:2], ["'=1+1", "-40"], LINES[3]]
    assert read_csv(write_csv(LINES)) == LINES


@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252"])
def test_tables_of_other_programs_are_read(delimiter, encoding):
    out = io.StringIO()
    csv.writer(out, delimiter=delimiter).writerows([["mark", "wall"], ["Tür 1", "a, b; c"]])
    assert read_csv(out.getvalue().encode(encoding)) == [["mark", "wall"], ["Tür 1", "a, b; c"]]


@pytest.mark.parametrize("content", [b"", b"\n\n", b"PK\x03\x04\x00\x00", b"a" * (LARGEST + 1)])
def test_what_is_no_table_is_refused(content):
    with pytest.raises(Refusal):
        read_csv(content)


def test_a_workbook_keeps_text_as_text_and_numbers_as_numbers():
    content = write_xlsx([("Openings", LINES), ("Units", [["unit", "count"], ["a", 3]])])
    book = openpyxl.load_workbook(io.BytesIO(content))
    assert book.sheetnames == ["Openings", "Units"]
    assert book["Openings"]["A3"].value == "=1+1"
    assert book["Openings"]["A3"].data_type == "s"
    assert book["Openings"]["A1"].font.bold
    assert book["Units"]["B2"].value == 3
    assert book["Openings"].freeze_panes == "A2"


def test_text_stays_text_and_numbers_numbers():
    """A mark may begin as a formula or an error does."""
    values = ["=1+1", "#N/A", "#DIV/0!", "+3", "-3", "12", "true", "2020-01-01", 12, 2.5]
    content = write_xlsx([("Marks", [["mark"], *([value] for value in values)])])
    sheet = openpyxl.load_workbook(io.BytesIO(content))["Marks"]
    found = [(cell.value, cell.data_type) for (cell,) in sheet.iter_rows(min_row=2)]
    assert found == [(value, "s" if isinstance(value, str) else "n") for value in values]
