"""Handing over: the registry of formats, files by the worker, a project in one file out and in again."""

import io
import json
import sys
import time
import zipfile
from dataclasses import replace
from pathlib import Path

import ifcopenshell
import numpy as np
import openpyxl
import pytest
from django.urls import reverse
from PIL import Image
from pypdf import PdfReader

from ashfell.core.base.document import dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.services.documents import load_site
from ashfell.services.handover import FORMATS, chosen, of_site, of_unit, told
from ashfell.services.handover.format import GROUPS
from ashfell.services.handover.project_file import read_project, write_project
from ashfell.services.kept.models import Asset, Record
from ashfell.studio.handover import tasks
from ashfell.studio.handover.management.commands.hand_over import _Kept
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.pictures.management.commands.work import work
from tests.conftest import ROOM
from tests.formats.building import SITE

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(scope="module")
def site():
    return of_site(load_site(ROOM))


@pytest.fixture
def no_signals(monkeypatch):
    monkeypatch.setattr("django_tasks_db.management.commands.db_worker.Worker.configure_signals", lambda self: None)


# --- formats


BEGINNINGS = {
    "ifc": b"ISO-10303-21;",
    "glb": b"glTF",
    "usdz": b"PK",
    "obj": b"PK",
    "stl": b"mm, z up",
    "stl-parts": b"PK",
    "pdf": b"%PDF-",
    "unit-pdf": b"%PDF-",
    "dxf": b"  0\nSECTION",
    "unit-dxf": b"  0\nSECTION",
    "svg": b"<svg",
    "svg-drawings": b"PK",
    "xlsx": b"PK",
    "csv": b"PK",
    "json": b"{",
    "audit": b"{",
    "project": b"PK",
}


@pytest.mark.parametrize("key", BEGINNINGS)
def test_every_format_writes_what_it_says(site, key):
    kind = FORMATS[key]
    source = site if "site" in kind.of else of_unit(load_site(ROOM)["units"]["clubroom-window"])
    content = kind.write(source, chosen(kind, {}))
    assert content.startswith(BEGINNINGS[key])
    assert kind.name(source).endswith(kind.suffix)
    assert kind.group in GROUPS
    assert kind.write(source, chosen(kind, {})) == content or key == "xlsx"


def test_every_format_is_in_the_table_above_and_has_choices_that_work(site):
    assert set(BEGINNINGS) == set(FORMATS)
    unit = of_unit(load_site(ROOM)["units"]["clubroom-window"])
    held = io.BytesIO()
    Image.new("RGB", (8, 5)).save(held, "PNG")
    site = replace(site, pictures=lambda: [("River side", held.getvalue())])
    for kind in FORMATS.values():
        for option in kind.options:
            values = [*option.words][-1:]
            for value in values:
                assert kind.write(site if "site" in kind.of else unit, chosen(kind, {option.key: value}))


def test_the_documents_name_a_test_of_every_format():
    """In the table of what keeps it there is a row for each, and every test that it names is there."""
    text = Path("docs/handing-over.md").read_text().partition("## What keeps it")[2].partition("\n## ")[0]
    table = [
        [cell.strip() for cell in line.strip("| ").split(" | ")] for line in text.splitlines() if line[:3] == "| `"
    ]
    assert {row[0].strip("`") for row in table} == set(FORMATS)
    for _, *cells in table:
        assert len(cells) == 4
        assert "—" not in cells[:2]
        for module, _, name in (cell.strip("`").partition(".") for cell in cells if cell != "—"):
            assert any(f"def {name}(" in file.read_text() for file in Path("tests").rglob(f"{module}.py"))


def test_what_is_not_offered_is_refused_with_what_is():
    with pytest.raises(Refusal, match="no paper of PDF") as refusal:
        chosen(FORMATS["pdf"], {"paper": "A9"})
    assert "A3" in refusal.value.remedy
    assert chosen(FORMATS["pdf"], {"paper": "A4"})["paper"] == "A4"
    with pytest.raises(Refusal, match="no format “ifc” for a unit"):
        told("ifc", "unit")
    with pytest.raises(Refusal, match="no storey “cellar”"):
        of_site(load_site(ROOM), storey="cellar")
    with pytest.raises(Refusal, match="Nothing stands"):
        of_site({"name": "Empty"})


def test_lists_are_numbers_in_the_workbook(site):
    book = openpyxl.load_workbook(io.BytesIO(FORMATS["xlsx"].write(site, {})))
    assert book.sheetnames == ["Openings", "Units", "Glass", "Members", "Finishes"]
    glass = book["Glass"]
    head = [cell.value for cell in glass[1]]
    assert glass.freeze_panes == "A2"
    assert glass.auto_filter.ref == glass.dimensions
    for name in ("width mm", "number", "area m²"):
        assert all(isinstance(row[head.index(name)].value, int | float) for row in glass.iter_rows(min_row=2))


def test_lists_of_a_part_are_those_of_the_whole_without_the_rest():
    """Two walls that are all that stands: what each lists adds up to what both do, number by number."""
    site = {"walls": [wall for wall in SITE["walls"] if wall["id"] in ("front", "above")], "units": SITE["units"]}
    site["placements"] = [one for one in SITE["placements"] if one["wall"] in ("front", "above")]
    whole, front, above = (of_site(site, selected=some) for some in (None, ["front"], ["above"]))
    books = [openpyxl.load_workbook(io.BytesIO(FORMATS["xlsx"].write(one, {}))) for one in (whole, front, above)]
    marks = [[row[0] for row in book["Openings"].iter_rows(min_row=2, values_only=True)] for book in books]
    assert marks[1] == ["W1", "D1", "D2", "a1"]
    assert marks[0] == marks[1] + marks[2]
    for name, column in (("Units", "count"), ("Glass", "number"), ("Members", "number"), ("Finishes", "surface m²")):
        heads = [cell.value for cell in books[0][name][1]]
        sums = [sum(row[heads.index(column)].value for row in book[name].iter_rows(min_row=2)) for book in books]
        assert sums[0] == pytest.approx(sums[1] + sums[2])
        assert min(sums) > 0


def test_the_workbook_shows_each_unit_and_is_the_same_every_time(site):
    """A drawing beside each unit, in its proportions; a third of it at least is no paper."""
    content = FORMATS["xlsx"].write(site, {})
    time.sleep(1.1)  # a workbook says to the second when it was written
    assert FORMATS["xlsx"].write(site, {}) == content
    sheet = openpyxl.load_workbook(io.BytesIO(content))["Units"]
    column = [cell.value for cell in sheet[1]].index("drawing")
    rows = list(sheet.iter_rows(min_row=2, values_only=True))
    assert len(sheet._images) == len(rows) > 0
    for held in sheet._images:
        row = held.anchor._from.row
        assert held.anchor._from.col == column
        width, height = rows[row - 1][2:4]
        image = Image.open(io.BytesIO(held._data())).convert("L")
        assert image.width / image.height == pytest.approx(width / height, rel=0.1)
        assert (np.asarray(image) < 250).mean() > 0.3


# --- a project in one file


@pytest.fixture
def with_image(project, person):
    """The project with a finish that shows an image."""
    held = io.BytesIO()
    Image.new("RGB", (8, 8), (120, 60, 30)).save(held, "PNG")
    key = Asset.keep(held.getvalue())
    texture = {"pattern": "image", "width": "500", "height": "500", "maps": {"colour": key}}
    finish = read(Finish, {"name": "Tiles", "kind": "tile", "colour": "#a0a0a0", "texture": texture})
    Record.start(project, "finish", "tiles", dump(finish), person)
    return project


def handed(project):
    source = of_site(project.composed_site(), images=lambda key: bytes(Asset.objects.get(pk=key).content))
    return FORMATS["project"].write(source, {"revisions": "none"})


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda files: files.pop("site.json"), "no site.json"),
        (lambda files: files.update({"project.json": b'{"format": "else/1"}'}), "else/1"),
        (lambda files: files.update({"site.json": b"[" * 90_000}), "site.json is not JSON"),
        (lambda files: files.update({"site.json": b"[]"}), "no JSON object"),
        (lambda files: [files.pop(name) for name in [*files] if name.startswith("images/")], "is not in the file"),
        (lambda files: files.update({"units/x.json": b'{"width": "-3"}'}), "size of -3"),
    ],
)
def test_broken_projects_are_refused(with_image, change, words):
    with zipfile.ZipFile(io.BytesIO(handed(with_image))) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    change(files)
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    with pytest.raises(Refusal) as refusal:
        read_project(held.getvalue())
    assert words in str(refusal.value)
    assert refusal.value.remedy


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b"no zip at all", b"PK" + bytes(2000)])
def test_what_is_no_project_is_refused(content):
    with pytest.raises(Refusal, match="no project"):
        read_project(content)


def test_a_bomb_is_refused_before_it_is_unpacked():
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        for number in range(3):
            archive.writestr(f"{number}.json", bytes(100 * 2**20))
    assert len(held.getvalue()) < 2**20
    with pytest.raises(Refusal, match="holds more than"):
        read_project(held.getvalue())


def test_a_project_cut_off_anywhere_is_refused(with_image):
    content = handed(with_image)
    for share in range(1, 12):
        with pytest.raises(Refusal):
            read_project(content[: len(content) * share // 12])


def test_writing_it_twice_is_the_same_to_the_byte(project):
    data = project.composed_site()
    taken = read_project(write_project(data, lambda key: None))
    assert write_project(taken.site, lambda key: None) == write_project(data, lambda key: None)


# --- the page and the worker


@pytest.fixture
def ask(signed_in, project):
    def asked(**typed):
        return signed_in.post(reverse("handover-start", args=[project.pk]), {"what": "site", "format": "ifc"} | typed)

    return asked


def test_a_file_is_written_by_the_worker_and_fetched(ask, signed_in, project, no_signals):
    assert b'data-state="waiting"' in ask().content
    work(batch=True)
    (made,) = Handover.objects.all()
    assert made.state == "done", made.reason
    answer = signed_in.get(reverse("handover-file", args=[project.pk, made.pk]))
    content = b"".join(answer.streaming_content)
    assert made.size == len(content)
    assert 'filename="heron-reach-boathouse.ifc"' in answer["Content-Disposition"]
    assert len(ifcopenshell.file.from_string(content.decode()).by_type("IfcWindow")) == 3
    listed = signed_in.get(reverse("handover-list", args=[project.pk])).content.decode()
    assert "hx-trigger" not in listed
    assert made.name in listed


def test_how_far_it_has_come_is_shown(ask, signed_in, project, no_signals, monkeypatch):
    """While it is written; what is listed then is looked at from within the writing."""
    seen = []

    def looked(number, heard=_Kept.hear):
        def hear(kept, what, done, of):
            heard(kept, what, done, of)
            seen.append(signed_in.get(reverse("handover-list", args=[project.pk])).content.decode())

        return hear

    monkeypatch.setattr(f"{_Kept.__module__}.CALM", 0)
    monkeypatch.setattr(_Kept, "hear", looked(0))
    ask()
    work(batch=True)
    made = Handover.objects.get()
    assert (made.doing, made.done) == ("walls and plates written", made.of)
    assert made.of > 4
    told = (
        f'value="{{0}}" max="{made.of}"></progress><br><span class="small">{{0}} of {made.of} walls and plates written'
    )
    assert all(any(told.format(done) in page for page in seen) for done in range(made.of + 1))


def test_what_is_selected_alone_is_in_the_file(ask, signed_in, project, no_signals):
    """One wall of the room and its floor: of three windows one, and one plate."""
    walls = [one["id"] for one in project.site.data["walls"]]
    wanted = [project.site.data["placements"][0]["wall"], project.site.data["plates"][0]["id"]]
    page = signed_in.get(reverse("handover", args=[project.pk]), {"what": "selected", "selected": wanted})
    told = page.content.decode()
    assert "1 wall, 1 plate, 1 window" in told
    assert told.count('name="selected"') == len(walls) + len(project.site.data["plates"])
    assert told.count("checked hx-get") >= 2
    ask(what="selected", selected=wanted)
    work(batch=True)
    (made,) = Handover.objects.all()
    assert made.state == "done", made.reason
    file = ifcopenshell.file.from_string(made.file.read_text())
    counts = [len(file.by_type(kind)) for kind in ("IfcWall", "IfcSlab", "IfcWindow")]
    assert counts == [1, 1, 1]
    assert made.in_words == f"2 selected: {', '.join(wanted)}"
    again = signed_in.get(reverse("handover", args=[project.pk])).content.decode()
    assert "1 wall, 1 plate, 1 window" in again  # what was chosen last


@pytest.mark.parametrize(("wanted", "words"), [([], "Nothing is selected"), (["nowhere"], "“nowhere”")])
def test_a_selection_of_nothing_is_refused(ask, wanted, words):
    answer = ask(what="selected", selected=wanted)
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert not Handover.objects.exists()


def test_last_choices_are_kept(ask, signed_in, project):
    ask(format="pdf", paper="A1", scale="50", sheets="drawings")
    page = signed_in.get(reverse("handover", args=[project.pk])).content.decode()
    for words in ('value="pdf" checked', 'value="A1" selected', 'value="50" selected', 'value="drawings" selected'):
        assert words in page
    other = signed_in.get(reverse("handover", args=[project.pk]), {"what": "unit:clubroom-window"}).content.decode()
    assert 'value="unit-pdf"' in other
    assert 'value="ifc"' not in other


def test_what_will_be_in_it_is_told(signed_in, project):
    page = signed_in.get(reverse("handover", args=[project.pk])).content.decode()
    assert "3 windows" in page
    nonsense = signed_in.get(reverse("handover", args=[project.pk]), {"what": "\0'", "format": "x" * 9000})
    assert nonsense.status_code == 200


@pytest.mark.parametrize(
    "typed",
    [
        {"format": "exe"},
        {"format": "pdf", "paper": "A9"},
        {"what": "unit:none", "format": "glb"},
        {"what": "unit:clubroom-window", "format": "ifc"},
        {"what": "nonsense"},
    ],
)
def test_what_cannot_be_written_is_refused(ask, typed):
    answer = ask(**typed)
    assert answer.status_code == 422
    assert 'role="alert"' in answer.content.decode()
    assert not Handover.objects.exists()


def test_a_refusal_while_it_is_written_is_told(ask, signed_in, project, no_signals):
    ask(what="unit:clubroom-window", format="unit-pdf", paper="A4", scale="1")
    work(batch=True)
    (made,) = Handover.objects.all()
    assert made.state == "failed"
    assert "no room on A4" in made.reason
    assert made.reason in signed_in.get(reverse("handover-list", args=[project.pk])).content.decode().replace(
        "&#x27;", "'"
    )


def test_it_is_cancelled_before_it_begins(ask, signed_in, project, no_signals):
    ask()
    (made,) = Handover.objects.all()
    signed_in.post(reverse("handover-cancel", args=[project.pk, made.pk]))
    work(batch=True)
    made.refresh_from_db()
    assert made.state == "cancelled"
    assert signed_in.get(reverse("handover-file", args=[project.pk, made.pk])).status_code == 404


@pytest.fixture
def done(project):
    """Three pictures that are done, each of one colour, and one that is not."""
    from ashfell.studio.pictures.models import Picture

    made = []
    for colour in ((200, 40, 20), (30, 160, 60), (40, 60, 190)):
        picture = Picture.objects.create(project=project, settings={}, site={}, state="done", passes_done=4)
        picture.folder.mkdir(parents=True)
        Image.new("RGB", (64, 40), colour).save(picture.image, "PNG")
        made.append(colour)
    Picture.objects.create(project=project, settings={}, site={}, state="tracing", passes_done=1)
    return made


@pytest.mark.parametrize(("pictures", "count"), [("1", 1), ("6", 3), ("40", 3), ("0", 3)])
def test_pictures_are_pages_of_the_sheets(ask, signed_in, project, done, no_signals, pictures, count):
    """Read back by another library: the latest first, each alone on its page."""
    ask(format="pdf", sheets="pictures", pictures=pictures, paper="A4")
    work(batch=True)
    (made,) = Handover.objects.all()
    assert made.state == "done", made.reason
    pages = PdfReader(io.BytesIO(made.file.read_bytes())).pages
    assert len(pages) == count
    shown = [page.images[0].image.convert("RGB").getpixel((8, 8)) for page in pages]
    assert np.abs(np.array(shown) - np.array(done[::-1][:count])).max() <= 3


@pytest.mark.parametrize("typed", [{"pictures": "1"}, {"sheets": "pictures"}])
def test_pages_of_no_picture_are_told(ask, project, no_signals, typed):
    ask(format="pdf", **typed)
    work(batch=True)
    (made,) = Handover.objects.all()
    assert made.state == "failed"
    assert "No picture is done yet" in made.reason


@pytest.fixture
def large(project, monkeypatch):
    """A hand-over that is written by a process of its own, which does as it is told."""
    monkeypatch.setattr(Handover, "is_small", False)
    made = Handover.objects.create(project=project, what="site", kind="ifc", document=project.composed_site())

    def running(code):
        monkeypatch.setattr(tasks, "command", lambda number: [sys.executable, "-c", code])
        return made

    return running


def test_a_large_one_that_takes_too_long_is_stopped(large, monkeypatch):
    monkeypatch.setattr(tasks, "SECONDS", 1)
    made = large("import time; time.sleep(60)")
    assert write_file.call(made.pk) == "stopped"
    made.refresh_from_db()
    assert made.state == "failed"
    assert "one storey or one unit at a time" in made.reason


def test_a_large_one_is_stopped_when_it_is_cancelled(large, monkeypatch):
    made = large("import time; time.sleep(60)")
    calls = []
    monkeypatch.setattr(
        tasks.time, "sleep", lambda seconds: calls.append(made.settle("cancelled")) if len(calls) < 1 else None
    )
    assert write_file.call(made.pk) == "stopped"
    made.refresh_from_db()
    assert made.state == "cancelled"


def test_what_is_raised_is_told(large):
    made = large("raise ValueError('a bad day')")
    assert write_file.call(made.pk) == "failed"
    made.refresh_from_db()
    assert made.reason == "ValueError: a bad day"
    too_much = Handover.objects.create(project=made.project, what="site", kind="ifc", document={})
    assert write_file.call(too_much.pk) == "failed"


def test_memory_is_bounded(large, monkeypatch):
    monkeypatch.setattr(tasks, "MEMORY", 256 * 2**20)
    made = large("x = bytes(2**30)")
    assert write_file.call(made.pk) == "failed"
    made.refresh_from_db()
    assert "more memory than a file may" in made.reason


def test_only_the_newest_files_are_kept(project, monkeypatch, tmp_path):
    monkeypatch.setattr(tasks, "KEPT", 2)
    asked = [
        Handover.objects.create(
            project=project,
            what="unit:clubroom-window",
            kind="json",
            document=project.units.get(key="clubroom-window").data,
        )
        for _ in range(3)
    ]
    for one in asked:
        assert write_file.call(one.pk) == "done"
    assert [one.file.exists() for one in asked] == [False, True, True]
    assert json.loads(asked[2].file.read_text())["name"]
