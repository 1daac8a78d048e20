"""What tests share: a folder of their own for files, people, projects."""

import gc
import json
import shutil
from copy import deepcopy
from functools import cache
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

settings.register_profile(
    "usual", max_examples=80, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
)
settings.register_profile("long", max_examples=2000, deadline=None, suppress_health_check=list(HealthCheck))
settings.load_profile("usual")

ROOT = Path(__file__).resolve().parents[1]
DEMO = ROOT / "demo/heron-reach"
ROOM = ROOT / "tests/room/site.json"
"""One room, with the units of the demo."""


def pytest_collection_finish():
    """What was loaded to find the tests stays: the collector has no need to look through it again, nor often."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 25, 50)


@pytest.fixture(scope="session", autouse=True)
def quick_flush():
    """What is migrated is told once: telling it again after each test takes longer than emptying the tables."""
    with pytest.MonkeyPatch.context() as there:
        there.setattr("django.core.management.commands.flush.emit_post_migrate_signal", lambda *told, **more: None)
        yield


@pytest.fixture
def person(django_user_model):
    return django_user_model.objects.create_user("robin", password="still-water-44")


@pytest.fixture
def stranger(django_user_model):
    return django_user_model.objects.create_user("rook", password="still-water-45")


@pytest.fixture
def project(person):
    """A room with three windows and all units of Heron Reach, in a person's own project."""
    from ashfell.services.kept.models import Project, Record, Revision

    made = Project.objects.create(name="Heron Reach")
    made.members.add(person)
    documents = deepcopy(room())
    # As Record.start makes them one by one; hundreds of tests begin with this.
    records = Record.objects.bulk_create(Record(project=made, kind=kind, key=key) for kind, key in documents)
    revisions = Revision.objects.bulk_create(
        Revision(record=record, data=data, author=person, words="Made")
        for record, data in zip(records, documents.values(), strict=True)
    )
    for record, revision in zip(records, revisions, strict=True):
        record.current = revision
    Record.objects.bulk_update(records, ["current"])
    return made


@cache
def room():
    """The documents of a room with three windows, and of all units of Heron Reach, by kind and key."""
    from ashfell.core.base.document import dump
    from ashfell.core.site.document.site import read_site
    from ashfell.services.documents import load_site

    site = read_site(load_site(ROOM))
    units = {("unit", key): dump(unit) for key, unit in site.units.items()}
    return units | {("site", "site"): dump(site) | {"units": {}, "finishes": {}}}


@pytest.fixture(scope="session")
def trace_once(tmp_path_factory):
    """Makes a picture be done; those of one name are the same picture, traced once and laid beside each row."""
    from ashfell.studio.pictures.models import Picture
    from ashfell.studio.pictures.tasks import trace_pass

    folder, rows = tmp_path_factory.mktemp("traced"), {}

    def done(name, picture):
        if name in rows:
            shutil.copytree(folder / name, picture.folder, dirs_exist_ok=True)
            Picture.objects.filter(pk=picture.pk).update(**rows[name])
        else:
            for number in range(picture.passes):
                trace_pass.call(picture.pk, number)
            shutil.copytree(picture.folder, folder / name)
            written = ("state", "passes_done", "seconds", "size", "reason")
            rows[name] = Picture.objects.filter(pk=picture.pk).values(*written).get()
        picture.refresh_from_db()
        assert picture.state == "done", picture.reason
        return picture

    return done


@pytest.fixture
def signed_in(client, person):
    client.force_login(person)
    return client


@pytest.fixture
def unit_file(tmp_path):
    """A unit document in a file; called with the entries that differ from the demo's clubroom window."""

    def write(**entries):
        data = json.loads((DEMO / "units/clubroom-window.json").read_text()) | entries
        path = tmp_path / "unit.json"
        path.write_text(json.dumps(data))
        return path

    return write
