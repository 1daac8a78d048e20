"""All that is kept is checked: each fault that can be made is told, and those that can be mended are."""

import os

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from ashfell.services.kept.models import Asset, Record, Revision
from ashfell.studio.handover.models import Handover
from ashfell.studio.intake.models import Intake
from ashfell.studio.keeping.checking import faults, sweep
from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db


@pytest.fixture(autouse=True)
def place(settings, tmp_path):
    settings.VAR = tmp_path
    return tmp_path


def told():
    return {fault.place: fault.words for fault in faults()}


def picture(project, person, **own):
    shown = {"width": 16, "height": 16, "quality": "draft"}
    return Picture.objects.create(project=project, author=person, settings=shown, site={}, **own)


def test_what_is_whole_is_said_to_be(project, capsys):
    call_command("check_data")
    assert "All is whole." in capsys.readouterr().out


def test_a_record_without_a_version_in_force_gets_its_newest(project):
    record = project.units.get(key="bar-window")
    newest = record.current_id
    Record.everything.filter(pk=record.pk).update(current=None)
    assert told() == {f"unit bar-window of project {project.pk}": "None of its versions is in force."}
    call_command("check_data", "--mend")
    record.refresh_from_db()
    assert record.current_id == newest
    assert told() == {}


def test_a_document_that_cannot_be_read_is_told_and_not_mended(project, capsys):
    record = project.units.get(key="bar-window")
    Revision.objects.filter(pk=record.current_id).update(data=record.data | {"width": "wide"})
    with pytest.raises(CommandError, match="1 is not whole"):
        call_command("check_data", "--mend")
    assert "cannot be mended: take it from a backup" in capsys.readouterr().out


def test_images_are_what_they_were_and_are_there(project):
    key = Asset.keep(b"an image")
    record = project.units.get(key="bar-window")
    Revision.objects.filter(pk=record.current_id).update(underlay={"image": "0" * 64})
    Asset.objects.filter(pk=key).update(content=b"another")
    assert sorted(told().values()) == [
        "It is not what it was when it was kept.",
        f"It refers to image {'0' * 12}, which is not there.",
    ]


def test_pictures_without_their_files_fail_and_files_of_nothing_go(project, person, place):
    done = picture(project, person, state="done", passes_done=1)
    kept = picture(project, person, state="done", passes_done=1, binned=timezone.now())
    kept.folder.mkdir(parents=True)
    kept.image.write_bytes(b"png")
    stray = place / "pictures" / "999"
    stray.mkdir()
    assert set(told()) == {str(done)}  # it may be of a picture that is about to be kept
    os.utime(stray, (1, 1))
    assert set(told()) == {str(done), "pictures/999"}
    call_command("check_data", "--mend")
    done.refresh_from_db()
    assert (done.state, done.reason) == ("failed", "Its file is gone.")
    assert not stray.exists()
    assert kept.image.exists()
    assert told() == {}


def test_what_nothing_makes_is_asked_for_again(project, person, place):
    open_one = picture(project, person, passes_done=3)
    Handover.objects.create(project=project, author=person, what="site", kind="glb", document={})
    brought = Intake.objects.create(author=person, name="plan.dxf", kind="dxf")
    brought.file.parent.mkdir(parents=True)
    brought.file.write_bytes(b"0")
    assert len(told()) == 3
    call_command("check_data", "--mend")
    asked = [(one.task_path.rpartition(".")[2], one.args_kwargs["args"]) for one in DBTaskResult.objects.all()]
    assert ("trace_pass", [open_one.pk, 3]) in asked
    assert {name for name, _ in asked} == {"trace_pass", "write_file", "read_brought"}
    assert told() == {}


def test_what_refers_to_nothing_is_told(project):
    with connection.constraint_checks_disabled(), connection.cursor() as cursor:
        table = connection.ops.quote_name(Revision._meta.db_table)
        cursor.execute(f"UPDATE {table} SET author_id = 987654")
        assert any("auth_user" in words for words in told().values())
        cursor.execute(f"UPDATE {table} SET author_id = NULL")


def test_what_is_of_nothing_is_swept_away_and_nothing_else(project, person, place):
    failed = Intake.objects.create(author=person, name="plan.dxf", kind="dxf", state="failed")
    kept = Intake.objects.create(author=person, name="other.dxf", kind="dxf", state="kept")
    for one in (failed, kept):
        one.file.parent.mkdir(parents=True, exist_ok=True)
        one.file.write_bytes(b"0")
        os.utime(one.file, (1, 1))
    assert sweep() == 1
    assert failed.file.exists()  # it may be read again
    assert not kept.file.exists()
