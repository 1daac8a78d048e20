"""The bin, backups, and what is told about requests and health."""

import io
import json
import logging
import sqlite3
import tarfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path

import pytest
from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from ashfell.core.base.document import dump
from ashfell.core.finish import Finish
from ashfell.services.kept.models import Project, Record, Revision
from ashfell.services.kept.whole import take_in
from ashfell.studio.keeping import backup, waste
from ashfell.studio.keeping.models import Event
from ashfell.studio.keeping.telling import requests
from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db


@pytest.fixture
def unused(project, person):
    """A unit that stands nowhere, changed once."""
    record = Record.start(project, "unit", "spare", project.units.first().data | {"name": "Spare"}, person)
    record.save_change(record.data | {"width": "1234"}, record.current_id, person)
    return record


@pytest.fixture
def picture(project):
    made = Picture.objects.create(project=project, settings={}, site={}, state="done", passes_done=1)
    made.folder.mkdir(parents=True, exist_ok=True)
    made.image.write_bytes(b"PNG")
    return made


def send(client, name, project, **typed):
    return client.post(reverse(name, args=[project.pk]), typed)


# --- the bin


def test_a_unit_goes_into_the_bin_and_comes_back_with_all_its_revisions(signed_in, project, unused):
    revisions = Revision.objects.count()
    assert send(signed_in, "bin-put", project, what="unit:spare").url == reverse("units", args=[project.pk])
    assert b"is in the bin" in signed_in.get(reverse("units", args=[project.pk])).content
    assert b"Spare" not in signed_in.get(reverse("units", args=[project.pk])).content
    assert signed_in.get(reverse("unit", args=[project.pk, "spare"])).status_code == 404
    assert "spare" not in project.composed_site()["units"]
    assert b"Spare" in signed_in.get(reverse("bin", args=[project.pk])).content
    send(signed_in, "bin-back", project, what="unit:spare")
    assert signed_in.get(reverse("unit", args=[project.pk, "spare"])).status_code == 200
    assert project.units.get(key="spare").undone is not None
    assert Revision.objects.count() == revisions


def test_what_is_used_is_not_put_away_and_says_by_what(signed_in, project):
    placed = next(one for one in project.site.data["placements"] if one["unit"])
    answer = signed_in.post(reverse("bin-put", args=[project.pk]), {"what": f"unit:{placed['unit']}"}, follow=True)
    assert f"opening {placed['mark'] or placed['id']}" in answer.content.decode()
    assert "Give them another first" in answer.content.decode()
    assert project.units.filter(key=placed["unit"]).exists()


def test_a_finish_that_is_used_anywhere_stays(signed_in, project, person, unused):
    Record.start(
        project,
        "finish",
        "pitch",
        dump(Finish.model_validate({"name": "Pitch", "kind": "paint", "colour": "#302820"})),
        person,
    )
    unused.save_change(unused.data | {"finishes": {"frame": "pitch"}}, unused.current_id, person)
    answer = signed_in.post(reverse("bin-put", args=[project.pk]), {"what": "finish:pitch"}, follow=True)
    assert "unit “Spare”" in answer.content.decode()
    unused.save_change(unused.data | {"finishes": {}}, unused.current_id, person)
    assert send(signed_in, "bin-put", project, what="finish:pitch").url == reverse("finishes", args=[project.pk])
    assert "pitch" not in project.own_finishes()


def test_what_is_refused_on_a_page_of_its_own_has_a_page(signed_in, project):
    asked = reverse("project-lengths", args=[project.pk])
    answer = signed_in.post(asked, {"lengths": "miles"}, headers={"Sec-Fetch-Dest": "document"})
    assert answer.status_code == 422
    assert b"<h1>Lengths cannot be shown" in answer.content
    assert b"<header" in answer.content
    assert b"<header" not in signed_in.post(asked, {"lengths": "miles"}).content


def test_a_key_in_the_bin_is_not_given_away(signed_in, project, unused, person):
    send(signed_in, "bin-put", project, what="unit:spare")
    assert project.free_key("unit", "Spare") == "spare-2"
    with pytest.raises(Exception, match="lies in the bin"):
        Record.start(project, "unit", "spare", unused.data, person)


def test_deleted_for_good_nothing_of_it_is_left(signed_in, project, unused, picture):
    for what in ("unit:spare", f"picture:{picture.pk}"):
        send(signed_in, "bin-put", project, what=what)
    assert picture.image.exists()
    send(signed_in, "bin-gone", project, what="all")
    assert not Record.everything.filter(key="spare").exists()
    assert not Revision.objects.filter(record=unused.pk).exists()
    assert not Picture.everything.filter(pk=picture.pk).exists()
    assert not picture.folder.exists()
    assert b"Nothing is in the bin" in signed_in.get(reverse("bin", args=[project.pk])).content


def test_a_full_bin_lists_the_newest_and_counts_the_rest(signed_in, project, monkeypatch):
    monkeypatch.setattr("ashfell.studio.keeping.views.SHOWN", 3)
    for _ in range(5):
        Picture.objects.create(project=project, settings={}, site={}, state="done").put_away()
    page = signed_in.get(reverse("bin", args=[project.pk])).content.decode()
    assert page.count("data-binned=") == 3
    assert "and 2 more" in page
    send(signed_in, "bin-gone", project, what="all")
    assert not Picture.everything.exists()


@pytest.mark.parametrize("what", ["", "unit:none", "picture:x", "picture:99999", "site:site", "unit:clubroom-window"])
def test_what_is_not_there_is_not_deleted(signed_in, project, what):
    before = Record.everything.count()
    assert send(signed_in, "bin-gone", project, what=what).status_code == 404
    assert send(signed_in, "bin-back", project, what=what).status_code == 404
    assert Record.everything.count() == before


def test_the_site_cannot_be_put_away(signed_in, project):
    assert send(signed_in, "bin-put", project, what="site:site").status_code == 404
    assert project.site


def test_another_projects_bin_is_not_reached(signed_in, project, stranger, unused):
    other = take_in({"name": "Other"}, stranger)
    send(signed_in, "bin-put", project, what="unit:spare")
    client = Client()
    client.force_login(stranger)
    assert send(client, "bin-back", other, what="unit:spare").status_code == 404
    assert send(client, "bin-gone", project, what="unit:spare").status_code == 404
    assert Record.everything.filter(key="spare").exists()


def test_a_project_goes_comes_back_and_goes_for_good_with_its_name(signed_in, project, unused, picture, stranger):
    send(signed_in, "project-bin", project)
    assert signed_in.get(reverse("project", args=[project.pk])).status_code == 404
    assert signed_in.get(reverse("unit", args=[project.pk, "spare"])).status_code == 404
    assert b"In the bin" in signed_in.get(reverse("projects")).content
    client = Client()
    client.force_login(stranger)
    for name in ("project-back", "project-gone"):
        assert client.post(reverse(name, args=[project.pk]), {"name": project.name}).status_code == 404
    signed_in.post(reverse("project-back", args=[project.pk]))
    assert signed_in.get(reverse("unit", args=[project.pk, "spare"])).status_code == 200
    send(signed_in, "project-bin", project)
    wrong = signed_in.post(reverse("project-gone", args=[project.pk]), {"name": "Heron"}, follow=True)
    assert b"nothing is deleted" in wrong.content
    assert Project.everything.filter(pk=project.pk).exists()
    signed_in.post(reverse("project-gone", args=[project.pk]), {"name": project.name})
    assert not Project.everything.filter(pk=project.pk).exists()
    assert not Record.everything.filter(project=project.pk).exists()
    assert not picture.folder.exists()


def test_the_bin_is_emptied_after_its_days(project, unused, picture):
    waste.put_away(unused)
    waste.put_away(picture)
    assert waste.empty() == 0
    Record.everything.filter(pk=unused.pk).update(binned=timezone.now() - timedelta(days=31))
    call_command("empty_bin", stdout=io.StringIO())
    assert not Record.everything.filter(pk=unused.pk).exists()
    assert Picture.everything.filter(pk=picture.pk).exists()


def test_programs_are_told_that_a_key_is_in_the_bin(client, person, project, unused):
    from ashfell.studio.api.models import Token

    unused.put_away()
    _, text = Token.issue(person, "loader", "write")
    answer = client.put(
        f"/api/v1/projects/{project.pk}/units/spare",
        json.dumps({"document": unused.data, "revision": 0}),
        content_type="application/json",
        headers={"Authorization": f"Bearer {text}"},
    )
    assert answer.status_code == 422
    assert "bin" in answer.json()["message"]
    project.memberships.update(role="viewer")
    again = client.put(
        f"/api/v1/projects/{project.pk}/units/other",
        json.dumps({"document": unused.data, "revision": 0}),
        content_type="application/json",
        headers={"Authorization": f"Bearer {text}"},
    )
    assert again.status_code == 403


def test_owners_read_what_happened(signed_in, project, unused, stranger):
    project.memberships.create(user=stranger, role="viewer")
    send(signed_in, "bin-put", project, what="unit:spare")
    client = Client()
    client.force_login(stranger)
    send(client, "bin-back", project, what="unit:spare")
    page = signed_in.get(reverse("members", args=[project.pk])).content.decode()
    assert "robin put “Spare” into the bin" in page
    assert "rook was not let bin back, being viewer" in page
    assert "Lately" not in client.get(reverse("members", args=[project.pk])).content.decode()


def test_only_so_much_of_what_happened_is_kept(project, person, monkeypatch):
    monkeypatch.setattr("ashfell.studio.keeping.models.KEPT", 5)
    for number in range(9):
        Event.tell(project.pk, person, f"did {number}")
    assert [one.words for one in project.events.all()] == [f"did {number}" for number in (8, 7, 6, 5, 4)]


# --- backups


@pytest.fixture
def var(tmp_path):
    """A folder as the application keeps one, with a database that somebody has open."""
    place = tmp_path / "var"
    (place / "pictures/7").mkdir(parents=True)
    (place / "pictures/7/picture.png").write_bytes(b"seven")
    (place / "secret-key").write_text("secret")
    held = sqlite3.connect(place / backup.DATABASE)
    held.execute("PRAGMA journal_mode=WAL")
    held.execute("CREATE TABLE kept (words TEXT)")
    held.execute("INSERT INTO kept VALUES ('first')")
    held.commit()
    held.execute("INSERT INTO kept VALUES ('not yet')")  # what is not committed is not kept
    yield place
    held.close()


def words(database):
    with closing(sqlite3.connect(database)) as held:
        assert held.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        return [row[0] for row in held.execute("SELECT words FROM kept")]


def test_everything_is_restored_from_a_backup_made_while_it_is_used(var, tmp_path):
    archive = tmp_path / "all.tar.gz"
    assert backup.write(var, archive) == 3
    assert archive.stat().st_mode & 0o777 == 0o600
    place = tmp_path / "again"
    assert backup.read(archive, place) == 3
    assert words(place / backup.DATABASE) == ["first"]
    assert (place / "pictures/7/picture.png").read_bytes() == b"seven"
    assert (place / "secret-key").read_text() == "secret"
    with pytest.raises(backup.Broken, match="already"):
        backup.read(archive, place)


@pytest.mark.parametrize("spoil", ["cut", "changed", "without", "nothing"])
def test_a_broken_backup_is_refused_and_leaves_nothing(var, tmp_path, spoil):
    archive, place = tmp_path / "all.tar.gz", tmp_path / "again"
    backup.write(var, archive)
    if spoil == "cut":
        archive.write_bytes(archive.read_bytes()[:-400])
    elif spoil == "nothing":
        archive.write_bytes(b"")
    else:
        with tarfile.open(archive) as held:
            files = {one.name: held.extractfile(one).read() for one in held}
        if spoil == "without":
            del files["secret-key"]
        if spoil == "changed":
            files["pictures/7/picture.png"] = b"eight"
        with tarfile.open(archive, "w:gz") as out:
            for name, content in files.items():
                backup._add(out, name, content)
    with pytest.raises(backup.Broken):
        backup.read(archive, place)
    assert not [path for path in place.rglob("*") if path.is_file()]


def test_so_many_backups_are_kept(var, tmp_path, monkeypatch):
    folder = tmp_path / "backups"
    folder.mkdir()
    for day in range(1, 6):
        (folder / f"ashfell-2031010{day}-000000.tar.gz").write_bytes(b"old")
    backup.keep_only(folder, 2)
    assert sorted(path.name[8:16] for path in folder.iterdir()) == ["20310104", "20310105"]


@pytest.mark.django_db(transaction=True)
def test_documents_revisions_and_pictures_are_the_same_after_restoring(project, unused, picture, tmp_path):
    """By the command, from the database that is in use."""
    name = Path(connection.settings_dict["NAME"])
    assert name.exists()
    var = Path(settings.VAR)
    (var / backup.DATABASE).unlink(missing_ok=True)
    (var / backup.DATABASE).symlink_to(name)
    try:
        call_command("backup", tmp_path / "all.tar.gz", stdout=io.StringIO())
    finally:
        (var / backup.DATABASE).unlink()
    backup.read(tmp_path / "all.tar.gz", tmp_path / "again")
    with closing(sqlite3.connect(tmp_path / "again" / backup.DATABASE)) as held:
        found = held.execute("SELECT id, data FROM projects_revision ORDER BY id").fetchall()
    kept = [(one.pk, one.data) for one in Revision.objects.order_by("pk")]
    assert [(number, json.loads(data)) for number, data in found] == kept
    assert (tmp_path / "again/pictures" / str(picture.pk) / "picture.png").read_bytes() == b"PNG"


def test_the_commands_say_what_is_wrong(tmp_path):
    with pytest.raises(CommandError, match="at least one"):
        call_command("backup", tmp_path, keep=0)
    with pytest.raises(CommandError):
        call_command("restore", tmp_path / "none.tar.gz")


# --- health, requests, faults


def test_health_needs_no_one_signed_in(client):
    assert client.get("/health").json() == {"database": "answers", "waiting": 0}


@pytest.fixture
def told(monkeypatch):
    """What is told of requests."""
    lines = []

    class Held(logging.Handler):
        def emit(self, record):
            lines.append(record)

    handler = Held()
    for name in ("ashfell.requests", "ashfell.faults"):
        logging.getLogger(name).addHandler(handler)
    yield lines
    for name in ("ashfell.requests", "ashfell.faults"):
        logging.getLogger(name).removeHandler(handler)


def test_every_request_is_one_line_of_json(signed_in, person, project, told):
    answer = signed_in.get(reverse("units", args=[project.pk]), {"q": "secret words"})
    (line,) = [json.loads(one.getMessage()) for one in told]
    assert line["number"] == answer["X-Request-Number"]
    assert (line["method"], line["status"], line["person"]) == ("GET", 200, person.pk)
    assert line["path"] == f"/projects/{project.pk}/units/"
    assert line["ms"] > 0
    assert requests.level == logging.INFO


def test_a_fault_is_written_down_under_the_number_that_its_page_shows(signed_in, project, monkeypatch, told):
    monkeypatch.setattr("ashfell.studio.units.library._row", lambda record: 1 / 0)
    signed_in.raise_request_exception = False
    answer = signed_in.get(reverse("units", args=[project.pk]))
    assert answer.status_code == 500
    number = answer["X-Request-Number"]
    assert number in answer.content.decode()
    (fault,) = [one for one in told if one.name == "ashfell.faults"]
    assert json.loads(fault.getMessage())["number"] == number
    assert fault.exc_info[0] is ZeroDivisionError


def test_pages_of_people_are_not_kept_by_browsers(signed_in, client, project):
    assert signed_in.get(reverse("projects"))["Cache-Control"] == "private, no-store"
    drawing = reverse("unit-start-drawing", args=[project.pk, "fixed"])
    assert "max-age" in signed_in.get(drawing)["Cache-Control"]
    assert "camera=()" in Client().get(reverse("sign-in"))["Permissions-Policy"]


@pytest.mark.parametrize("address", ["/nothing/", "/projects/999/", "/projects/1/units/%00/"])
def test_what_is_not_there_has_a_page(signed_in, address):
    answer = signed_in.get(address)
    assert answer.status_code == 404
    assert b"Not here" in answer.content


# --- from earlier databases


@pytest.mark.django_db(transaction=True)
def test_who_was_a_member_is_an_owner_after_the_upgrade(person):
    executor = MigrationExecutor(connection)
    latest = executor.loader.graph.leaf_nodes()
    executor.migrate([("projects", "0006_published"), ("gallery", "0004_sheets"), ("people", None), ("keeping", None)])
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO projects_project (name, lengths, created) VALUES ('Old', 'mm', '2026-01-01')")
        number = cursor.lastrowid
        cursor.execute(
            "INSERT INTO projects_project_members (project_id, user_id) VALUES (%s, %s)", [number, person.pk]
        )
    executor = MigrationExecutor(connection)
    executor.migrate(latest)
    found = Project.objects.get(name="Old")
    assert [(one.user, one.role) for one in found.memberships.all()] == [(person, "owner")]
    found.delete()
