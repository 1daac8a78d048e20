"""What goes wrong with a machine: a full disk, workers that die over the same thing, queues without end, two starts at
once."""

import errno
import os
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.contrib.sessions.backends.db import SessionStore
from django.db import OperationalError
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from prometheus_client.parser import text_string_to_metric_families

from ashfell.core.base.refusal import Refusal
from ashfell.services.kept.models import Record
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.keeping import reserve
from ashfell.studio.pictures import tasks
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import trace_pass
from ashfell.studio.pictures.workers import TRIES, put_back
from ashfell.studio.queued import stored_by
from tests.conftest import ROOT

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def picture(project, person):
    settings = {"width": 16, "height": 16, "quality": "draft"}
    return Picture.objects.create(project=project, author=person, settings=settings, site=project.composed_site())


def full(*args, **kwargs):
    raise OSError(errno.ENOSPC, "No space left on device")


def test_a_picture_waits_for_room_on_the_disk_and_goes_on_by_itself(picture, signed_in, project, monkeypatch):
    with monkeypatch.context() as there:
        there.setattr(tasks, "_add_pass", full)
        assert trace_pass.call(picture.pk, 0) == "the disk is full"
    picture.refresh_from_db()
    assert picture.is_open
    shown = signed_in.get(reverse("gallery", args=[project.pk])).content.decode()
    assert "goes on by itself" in shown
    (waiting,) = DBTaskResult.objects.ready() | DBTaskResult.objects.filter(run_after__isnull=False)
    assert waiting.args_kwargs["args"] == [picture.pk, 0]
    monkeypatch.setattr(tasks, "_add_pass", lambda picture, number: (1.0, True))
    trace_pass.call(picture.pk, 0)
    picture.refresh_from_db()
    assert (picture.state, picture.reason) == ("done", "")


def test_another_fault_of_the_disk_fails_the_picture(picture, monkeypatch):
    def broken(*args):
        raise OSError(errno.EIO, "Input/output error")

    monkeypatch.setattr(tasks, "_add_pass", broken)
    with pytest.raises(OSError, match="Input"):
        trace_pass.call(picture.pk, 0)
    picture.refresh_from_db()
    assert picture.state == "failed"


def test_what_cannot_be_kept_on_a_full_disk_is_told(signed_in, project, monkeypatch):
    def fails(*args, **kwargs):
        raise OperationalError("database or disk is full")

    monkeypatch.setattr(Record, "save_change", fails)
    unit = project.units.get(key="stair-window")
    typed = {"entry": "width", "value": "812", "base": unit.current_id, "keep": "1"}
    answer = signed_in.post(reverse("unit-edit", args=[project.pk, unit.key]), typed)
    assert answer.status_code == 507
    assert answer["HX-Retarget"] == "#message"
    assert b"What you typed is still here" in answer.content
    assert signed_in.get(reverse("unit", args=[project.pk, unit.key])).status_code == 200


def dead(times):
    """The only task in the queue, left by so many workers that died."""
    result = DBTaskResult.objects.get()
    DBTaskResult.objects.filter(pk=result.pk).update(
        status=TaskResultStatus.RUNNING, worker_ids=[f"gone-{number}" for number in range(times)]
    )
    return result


def test_a_pass_over_which_workers_die_fails_with_the_reason(picture):
    trace_pass.enqueue(picture.pk, 0)
    dead(TRIES - 1)
    assert put_back() == 1
    result = dead(TRIES)
    assert put_back() == 0
    result.refresh_from_db()
    picture.refresh_from_db()
    assert result.status == TaskResultStatus.FAILED
    assert picture.state == "failed"
    assert f"ended {TRIES} times" in picture.reason


def test_a_file_over_which_workers_die_fails_too(project, person):
    made = Handover.objects.create(project=project, author=person, what="site", kind="glb", document={})
    write_file.enqueue(made.pk)
    dead(TRIES)
    put_back()
    made.refresh_from_db()
    assert made.state == "failed"


def test_the_last_pass_is_counted_and_done_at_once(picture, monkeypatch):
    """Whoever is killed between the two leaves neither."""
    monkeypatch.setattr(tasks, "_add_pass", lambda picture, number: (1.0, True))

    def killed(self, state, reason=""):
        raise KeyboardInterrupt

    with monkeypatch.context() as there:
        there.setattr(Picture, "settle", killed)
        with pytest.raises(KeyboardInterrupt):
            trace_pass.call(picture.pk, 0)
    picture.refresh_from_db()
    assert (picture.passes_done, picture.state) == (0, "tracing")
    trace_pass.call(picture.pk, 0)
    picture.refresh_from_db()
    assert (picture.passes_done, picture.state) == (1, "done")


def test_a_person_has_only_so_much_in_the_queue(picture, person, signed_in, project, stranger, monkeypatch):
    monkeypatch.setattr(Picture, "MOST", 2)
    Picture.room_for(person)
    with pytest.raises(Refusal) as refusal:
        Picture.room_for(person, 2)
    assert refusal.value.remedy
    Picture.room_for(stranger, 2)
    monkeypatch.setattr(Handover, "MOST", 1)
    asked = {"what": "site", "format": "ifc"}
    assert signed_in.post(reverse("handover-start", args=[project.pk]), asked).status_code == 200
    assert signed_in.post(reverse("handover-start", args=[project.pk]), asked).status_code == 422
    assert Handover.objects.count() == 1


def test_all_that_start_at_once_have_one_secret_that_nobody_else_reads(tmp_path):
    var = tmp_path / "var"
    place = os.environ | {"ASHFELL_VAR": str(var), "PYTHONPATH": str(ROOT / "src")}
    place.pop("ASHFELL_SECRET_KEY", None)
    command = [sys.executable, "-c", "from ashfell.studio.settings import SECRET_KEY; print(SECRET_KEY)"]
    with ThreadPoolExecutor(6) as pool:
        done = pool.map(lambda _: subprocess.run(command, env=place, capture_output=True, check=True).stdout, range(6))
    (key,) = {line.strip() for line in done}
    assert len(key) > 50
    assert (var / "secret-key").stat().st_mode & 0o077 == 0
    assert var.stat().st_mode & 0o077 == 0
    assert sorted(path.name for path in var.iterdir()) == ["counters", "secret-key"]


def test_nothing_is_left_to_say_about_it_being_deployed(tmp_path):
    place = os.environ | {"ASHFELL_VAR": str(tmp_path), "ASHFELL_HTTPS": "1", "DJANGO_SETTINGS_MODULE": ""}
    place.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)  # the browser's tests need it
    place |= {"DJANGO_SETTINGS_MODULE": "ashfell.studio.settings", "PYTHONPATH": str(ROOT / "src")}
    command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
    done = subprocess.run(command, cwd=ROOT, env=place, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    assert "no issues" in done.stdout


def test_counters_are_told_to_who_runs_the_server_and_to_nobody_else(client, signed_in, person, settings):
    settings.COUNTERS_KEY = "a-key-for-monitors"
    assert Client().get(reverse("counters")).status_code == 404
    assert Client().get(reverse("counters"), headers={"Authorization": "Bearer no"}).status_code == 404
    assert signed_in.get(reverse("counters")).status_code == 404
    signed_in.get(reverse("account"))
    text = Client().get(reverse("counters"), headers={"Authorization": "Bearer a-key-for-monitors"}).content.decode()
    counted = {one.name: one.samples for one in text_string_to_metric_families(text)}
    shown = [one.value for one in counted["ashfell_requests"] if one.labels.get("page") == "account"]
    assert shown
    assert shown[0] >= 1
    assert any(one.name.endswith("_bucket") for one in counted["ashfell_request_seconds"])
    assert counted["ashfell_tasks_waiting"][0].value == 0
    person.is_superuser = True
    person.save()
    assert signed_in.get(reverse("counters")).status_code == 200
    settings.COUNTERS_KEY = ""
    assert Client().get(reverse("counters"), headers={"Authorization": "Bearer "}).status_code == 404


def test_what_cannot_be_asked_in_a_way_has_a_page_of_its_own(signed_in, project):
    answer = signed_in.get(reverse("catalogue-take", args=[project.pk, "marsh-3"]))
    assert answer.status_code == 405
    assert "only by POST" in answer.content.decode()
    assert answer["Allow"] == "POST"


def test_nobody_fills_the_disk_alone(signed_in, project, person, picture, settings):
    settings.STORED = 1000
    Picture.objects.filter(pk=picture.pk).update(size=900, state="done", binned=timezone.now())
    Handover.objects.create(
        project=project, author=person, what="site", kind="ifc", document={}, size=200, state="done"
    )
    assert stored_by(person) == 1100
    asked = {"what": "site", "format": "ifc"}
    refused = signed_in.post(reverse("handover-start", args=[project.pk]), asked)
    assert refused.status_code == 422
    assert "may be" in refused.content.decode()
    assert "of pictures and files are yours" in signed_in.get(reverse("account")).content.decode()
    settings.STORED = 2000
    assert signed_in.post(reverse("handover-start", args=[project.pk]), asked).status_code == 200


def test_one_signs_in_on_a_full_disk_with_the_room_that_was_kept(client, person, settings, tmp_path, monkeypatch):
    settings.VAR = tmp_path
    reserve.hold()
    kept = tmp_path / "reserve"
    assert kept.stat().st_blocks * 512 >= reserve.SIZE
    save = SessionStore.save

    def save_where_there_is_room(self, *args, **kwargs):
        if kept.exists():
            raise OperationalError("database or disk is full")
        return save(self, *args, **kwargs)

    monkeypatch.setattr(SessionStore, "save", save_where_there_is_room)
    asked = {"username": person.username, "password": "still-water-44"}
    assert client.post(reverse("sign-in"), asked).status_code == 302
    assert not kept.exists()
    assert client.get(reverse("projects")).status_code == 200


def test_room_is_kept_only_where_there_is_plenty(settings, tmp_path, monkeypatch):
    settings.VAR = tmp_path
    monkeypatch.setattr(reserve, "EASY", 10**9)
    reserve.hold()
    assert not (tmp_path / "reserve").exists()
    assert not reserve.give_up()
