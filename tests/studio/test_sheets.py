"""Sheets: finishes or hours by cameras, as one job and one page."""

import os
import signal
import subprocess
import sys
import time

import pytest
from django.db import connection
from django.urls import reverse
from django_tasks_db.models import DBTaskResult

from ashfell.core.base.document import dump
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.studio.pictures.models import Picture, Sheet
from ashfell.studio.pictures.tasks import trace_pass
from tests.conftest import ROOT
from tests.studio.test_pictures import bare_wall

pytestmark = pytest.mark.django_db(transaction=True)

ASKED = {"name": "Frames", "size": "64 × 40", "quality": "draft", "by": "finishes", "finish": "slate-paint"}


@pytest.fixture
def cameras(project):
    cameras = [dump(Camera(id=f"c{n}", name=f"Camera {n}", x="3 m", to_x="3 m")) for n in range(3)]
    record = project.site
    record.save_change(record.data | {"cameras": cameras}, record.current_id, None)


@pytest.fixture
def start(signed_in, project, cameras):
    def send(**values):
        address = reverse("sheet-new", args=[project.pk])
        return signed_in.post(address, ASKED | {"camera": ["c0", "c2"]} | values, follow=True)

    return send


def test_finishes_by_cameras_are_one_job(start, project):
    page = start(other=["navy-paint", "ember-paint", "navy-paint"]).content.decode()
    sheet = Sheet.objects.get()
    assert (sheet.rows, sheet.columns) == (["Night water paint", "Ember red paint"], ["Camera 0", "Camera 2"])
    assert DBTaskResult.objects.ready().count() == sheet.pictures.count() == 4
    assert page.count('class="dark"') == 4
    assert "0 of 4" in page
    first, other = (sheet.pictures.get(row=row, column=0) for row in (0, 1))
    frames = [one.site["units"]["clubroom-window"]["finishes"].get("frame") for one in (first, other)]
    assert {"slate-paint"}.isdisjoint(frames)
    assert first.site != other.site
    assert first.asked_for.camera == other.asked_for.camera


def test_hours_of_a_day_are_rows(start):
    start(by="hours", hours="8, 12:30 20:00", day="2026-06-21", latitude="52", longitude="0", utc_offset="1")
    sheet = Sheet.objects.get()
    assert sheet.rows == ["08:00", "12:30", "20:00"]
    heights = [sheet.pictures.get(row=row, column=1).asked_for.sun.sun().altitude for row in range(3)]
    assert heights[1] > heights[0] > 0
    assert heights[1] > heights[2]


def test_cells_fill_as_they_are_traced_and_the_rest_is_cancelled(start, signed_in, project):
    start(other=["navy-paint"])
    sheet = Sheet.objects.get()
    picture = sheet.pictures.first()
    for number in range(picture.passes):
        trace_pass.call(picture.pk, number)
    page = signed_in.get(reverse("sheet", args=[project.pk, sheet.pk]), headers={"HX-Request": "true"}).content.decode()
    assert page.count("<img") == 1
    assert "1 of 2" in page
    signed_in.post(reverse("sheet-cancel", args=[project.pk, sheet.pk]))
    assert sorted(sheet.pictures.values_list("state", flat=True)) == ["cancelled", "done"]
    page = signed_in.get(reverse("sheet", args=[project.pk, sheet.pk])).content.decode()
    assert "every 2s" not in page


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"camera": []}, "No camera is chosen"),
        ({"camera": ["gone"]}, "No camera is chosen"),
        ({"other": []}, "0 pictures"),
        ({"finish": "gone", "other": ["navy-paint"]}, "No finish is chosen"),
        ({"by": "hours", "hours": "noon"}, "is no hour"),
        ({"by": "hours", "hours": "25:00"}, "is no hour"),
        ({"by": "hours", "hours": "8:00", "day": "someday"}, ""),
        ({"by": "hours", "hours": " ".join(f"{n % 24}:{n // 24}" for n in range(40)), "day": "2026-06-21"}, "1 to 36"),
        ({"other": ["navy-paint"], "size": "large"}, ""),
    ],
)
def test_what_makes_no_sheet_is_told(start, values, words):
    page = start(**{"other": ["navy-paint"]} | values).content.decode()
    assert words in page
    assert Sheet.objects.count() == Picture.objects.count() == 0
    assert "New sheet" in page


def test_a_project_without_a_camera_says_where_to_keep_one(signed_in, project):
    page = signed_in.get(reverse("sheet-new", args=[project.pk])).content.decode()
    assert "No camera is kept yet" in page


def test_a_worker_that_is_killed_in_a_sheet_leaves_nothing_stuck_and_nothing_twice(start, project):
    """kill -9 in the middle: another worker finishes every cell, and no finished pass is traced again."""
    start(other=["navy-paint"])
    sheet = Sheet.objects.get()
    sheet.pictures.update(site=bare_wall(project))
    connection.close()
    command = [sys.executable, str(ROOT / "tests/studio/worker_on.py"), str(connection.settings_dict["NAME"])]
    worker = subprocess.Popen(command, cwd=ROOT)
    end = time.monotonic() + 120
    while sum(sheet.pictures.values_list("passes_done", flat=True)) < 3:
        assert time.monotonic() < end, "it took too long"
        time.sleep(0.05)
    os.kill(worker.pid, signal.SIGKILL)
    worker.wait()
    assert DBTaskResult.objects.running().count() <= 1
    begun = [one for one in sheet.pictures.all() if 0 < one.passes_done < one.passes]
    assert begun
    assert all((one.folder / f"passes-{one.passes_done}.npz").exists() for one in begun)
    subprocess.run([*command, "--batch"], cwd=ROOT, check=True, timeout=240)
    assert set(sheet.pictures.values_list("state", "passes_done")) == {("done", sheet.pictures.first().passes)}
    rows = [row for row in DBTaskResult.objects.successful() if "pass" in str(row.return_value)]
    traced = [tuple(row.args_kwargs["args"]) for row in rows]
    assert len(traced) == len(set(traced))


def test_units_are_rows_in_the_place_of_one_at_its_size(start, project):
    placed = [one["unit"] for one in project.site.data["placements"]]
    start(by="units", unit="clubroom-window", instead=["bar-window", "kitchen-window"])
    sheet = Sheet.objects.get()
    assert sheet.rows == [project.units.get(key=key).name for key in ("bar-window", "kitchen-window")]
    own = project.units.get(key="clubroom-window").data
    for row, key in enumerate(("bar-window", "kitchen-window")):
        site = sheet.pictures.get(row=row, column=0).site
        found = [one for one in site["placements"] if one["unit"] == key]
        assert len(found) >= placed.count("clubroom-window")
        assert "clubroom-window" not in {one["unit"] for one in site["placements"]}
        scene = build_scene(read_site(site))
        assert scene.refused == ()
        sizes = {(str(scene.openings[one["id"]].width), str(scene.openings[one["id"]].height)) for one in found}
        assert sizes == {(own["width"], own["height"])}


def test_versions_of_a_unit_are_rows(start, project):
    unit = project.units.get(key="clubroom-window")
    first = unit.current_id
    unit.save_change(unit.data | {"finishes": unit.data["finishes"] | {"frame": "ember-paint"}}, first, None, "In red")
    start(by="versions", revision=[str(first), str(unit.current_id), "999999999", "x"])
    sheet = Sheet.objects.get()
    assert [words.partition(",")[0] for words in sheet.rows] == [f"{unit.name}: Made", f"{unit.name}: In red"]
    frames = [
        sheet.pictures.get(row=row, column=0).site["units"]["clubroom-window"]["finishes"]["frame"] for row in (0, 1)
    ]
    assert frames == ["slate-paint", "ember-paint"]
    assert frames[1] == project.units.get(key="clubroom-window").data["finishes"]["frame"]


def test_amounts_of_opening_are_rows(start):
    start(by="opened", opened="0, 30% 100")
    sheet = Sheet.objects.get()
    assert sheet.rows == ["0 % open", "30 % open", "100 % open"]
    opened = [{one["opened"] for one in sheet.pictures.get(row=row, column=0).site["placements"]} for row in range(3)]
    assert opened == [{0}, {30}, {100}]


@pytest.mark.parametrize(
    ("values", "words"),
    [
        ({"by": "units", "unit": "gone", "instead": ["bar-window"]}, "No unit is chosen"),
        ({"by": "units", "unit": "clubroom-window"}, "0 pictures"),
        ({"by": "units", "unit": "clubroom-window", "instead": ["trophy-window"]}, "Trophy window: "),
        ({"by": "versions"}, "0 pictures"),
        ({"by": "opened", "opened": "half"}, "“half” is no amount"),
        ({"by": "opened", "opened": "101"}, "“101” is no amount"),
    ],
)
def test_what_cannot_be_a_row_is_told(start, values, words):
    page = start(**values).content.decode()
    assert words in page
    assert Sheet.objects.count() == 0


def test_versions_of_another_project_are_nobodys(start, project, django_user_model):
    from ashfell.services.kept.models import Project, Record

    theirs = Project.objects.create(name="Elsewhere")
    record = Record.start(theirs, "unit", "theirs", project.units.first().data, None)
    page = start(by="versions", revision=[str(record.current_id)]).content.decode()
    assert "0 pictures" in page
