"""The schedule's files, tables taken in by request, and the fit bench by request."""

import csv
import datetime
import io

import openpyxl
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

pytestmark = pytest.mark.django_db


def address(name, project):
    return reverse(name, args=[project.pk])


def placements(project):
    project.site.refresh_from_db()
    return {one["id"]: one for one in project.site.data["placements"]}


def test_it_is_handed_over_as_csv_and_xlsx(signed_in, project):
    answer = signed_in.get(address("schedule-csv", project))
    assert "schedule.csv" in answer["Content-Disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert [row["mark"] for row in rows] == ["clubroom-window", "stair-window", "changing-room-window"]
    assert rows[2]["opening width"] == "1828.8 mm"
    book = openpyxl.load_workbook(io.BytesIO(signed_in.get(address("schedule-xlsx", project)).content))
    assert [book["Units"].cell(2, column).value for column in (1, 3, 4, 5)] == [
        "changing-room-window",
        1828.8,
        609.6,
        1,
    ]


def test_a_table_is_kept_only_when_that_is_asked_and_all_of_it_stands(signed_in, project):
    def sent(text, **more):
        file = SimpleUploadedFile("t.csv", text.encode())
        return signed_in.post(address("schedule-in", project), {"file": file} | more)

    before = placements(project)
    good = "mark,wall,unit,offset\nW9,landing,porthole,600\n"
    assert b"1 opening will be added" in sent(good).content
    assert placements(project) == before
    bad = sent(good + "W10,landing,porthole,700\n", keep="1", base=project.site.current_id)
    assert b"cannot be taken in, so nothing is" in bad.content
    assert placements(project) == before
    kept = signed_in.post(
        address("schedule-in", project), {"content": good, "keep": "1", "base": project.site.current_id}
    )
    assert kept.status_code == 302
    assert placements(project)["w9"]["offset"] == "600"
    before = project.site.current_id
    again = sent(good, keep="1", base=before).content.decode()
    assert "All that the table says is there already." in again
    assert "Take them in" not in again
    assert project.site.current_id == before
    stale = signed_in.post(
        address("schedule-in", project), {"content": good.replace("600", "900"), "keep": "1", "base": 1}
    )
    assert stale.status_code == 302
    assert placements(project)["w9"]["offset"] == "600"


@pytest.mark.parametrize("content", [b"", b"\x00\x01", b"colour\nred\n"])
def test_what_is_no_schedule_is_told(signed_in, project, content):
    file = SimpleUploadedFile("t.csv", content)
    answer = signed_in.post(address("schedule-in", project), {"file": file}, follow=True)
    assert answer.status_code == 200
    assert b'class="refusal' in answer.content or b"Nothing was taken in" in answer.content


def test_the_bench_shows_and_keeps(signed_in, project):
    page = signed_in.get(address("fit", project)).content.decode()
    assert page.count('type="checkbox"') == 3
    asked = {"at": ["clubroom-window"], "unit": "kitchen-window", "way": "unit", "gap-all": "5"}
    shown = signed_in.post(address("fit", project), asked).content.decode()
    assert "3190 by 1890 mm" in shown
    assert placements(project)["clubroom-window"]["unit"] == "clubroom-window"
    kept = signed_in.post(address("fit", project), asked | {"keep": "1", "base": project.site.current_id})
    assert kept.status_code == 302
    own = placements(project)["clubroom-window"]
    assert (own["unit"], own["fits"], own["gap"], own["width"]) == ("kitchen-window", True, "5", "3200 mm")
    for wrong in ({"gap-all": "wide"}, {"way": "over"}, {"unit": "gone"}):
        assert signed_in.post(address("fit", project), asked | wrong).status_code == 200


def test_a_schedule_of_many_is_shown_page_by_page(signed_in, project):
    from ashfell.services.kept.models import Record

    data = project.site.data
    many = [data["placements"][0] | {"id": f"o{n}", "unit": None, "wall": "long", "width": "70", "height": "500",
            "measured": "start", "offset": str(50 + 90 * n), "sill": "0"} for n in range(1000)]  # fmt: skip
    wall = data["walls"][0] | {"id": "long", "length": "100 m", "y": "-50 m"}
    record = Record.objects.get(pk=project.site.pk)
    record.save_change(data | {"walls": [*data["walls"], wall], "placements": many}, record.current_id, None, "many")
    base = {"base": record.current_id, "keep": "0", "look": "1", "side": "schedule", "at": "walls.gable"}
    first = signed_in.post(address("site-edit", project), base).content.decode()
    later = signed_in.post(address("site-edit", project), base | {"first": "960"}).content.decode()
    assert first.count('id="row-placements.') == later.count('id="row-placements.') == 40
    assert "961 to 1000 of 1000" in later
    assert len(first) < 200_000


def workbook(*lines, title="Openings"):
    book = openpyxl.Workbook()
    book.active.title = title
    for line in lines:
        book.active.append(line)
    book.create_sheet("Notes").append(["nothing of this is read"])
    held = io.BytesIO()
    book.save(held)
    return SimpleUploadedFile("t.xlsx", held.getvalue())


def test_a_workbook_is_taken_in_with_its_numbers(signed_in, project):
    """Numbers as a spreadsheet keeps them, whole or not; empty cells and rows, and what is true, are what they are."""
    file = workbook(
        ["mark", "wall", "unit", "offset", "sill", "turned"],
        ["W9", "landing", "porthole", 600, 1250.5, None],
        [None] * 6,
        ["W10", "landing", "porthole", "6' 0\"", 900, True],
    )
    page = signed_in.post(address("schedule-in", project), {"file": file})
    assert b"2 openings will be added" in page.content
    content = page.context["content"]
    signed_in.post(address("schedule-in", project), {"content": content, "keep": "1", "base": project.site.current_id})
    made = placements(project)
    assert (made["w9"]["offset"], made["w9"]["sill"]) == ("600", "1250.5")
    assert (made["w10"]["offset"], made["w10"]["turned"]) == ("6' 0\"", True)


def test_the_workbook_that_is_handed_over_changes_nothing_when_it_is_taken_in(signed_in, project):
    content = signed_in.get(address("schedule-xlsx", project)).content
    page = signed_in.post(address("schedule-in", project), {"file": SimpleUploadedFile("s.xlsx", content)})
    assert page.status_code == 200
    assert page.context["wrong"] == 0
    assert not page.context["taken"].added
    before = placements(project)
    signed_in.post(
        address("schedule-in", project),
        {"content": page.context["content"], "keep": "1", "base": project.site.current_id},
    )
    assert placements(project) == before


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"PK\x03\x04 no archive", "cannot be read as a workbook"),
        (workbook().read(), "is empty"),
        (workbook(["mark", *range(100)]).read(), "more than 100 columns"),
        (workbook(["mark"], *([f"w{n}"] for n in range(20_001))).read(), "more than 20000 rows"),
        (workbook(["mark", "offset"], ["W9", datetime.date(2026, 2, 1)]).read(), "date or time 2026-02-01"),
    ],
)
def test_what_is_no_workbook_is_told(signed_in, project, content, words):
    before = placements(project)
    file = SimpleUploadedFile("t.xlsx", content)
    page = signed_in.post(address("schedule-in", project), {"file": file}, follow=True)
    assert words in page.content.decode()
    assert placements(project) == before
