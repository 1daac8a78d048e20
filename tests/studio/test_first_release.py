"""The database of the first release, as it was dumped then, goes forward to what there is now with all in it."""

import json
import os
import sqlite3
import subprocess
import sys
from contextlib import closing

import pytest

from tests.conftest import ROOT

DUMP = (ROOT / "tests/studio/first_release.sql").read_text()

LOOKED_AT = """
import io
import json
import django
django.setup()
from django.core.management import CommandError, call_command
call_command("migrate", verbosity=0)
from django.test import Client
from django.contrib.auth import get_user_model
from ashfell.services.kept.models import Membership, Project, Revision
from ashfell.services.documents import check_site, unit_of
(project,) = Project.objects.all()
person = get_user_model().objects.get()
client = Client(headers={"host": "localhost"})
client.force_login(person)
pages = ["", "units/", "pictures/", "members/", "hand-over/", *(f"units/{unit.key}/" for unit in project.units)]
whole = io.StringIO()
try:
    call_command("check_data", stdout=whole)
except CommandError:
    pass
print(json.dumps({
    "whole": whole.getvalue().splitlines(),
    "name": project.name,
    "roles": [one.role for one in Membership.objects.all()],
    "revisions": Revision.objects.count(),
    "sizes": {unit.key: [unit.data["width"], unit.data["height"]] for unit in project.units},
    "parts": {unit.key: len(unit_of(unit.data).parts) for unit in project.units},
    "faults": [one.reason for one in check_site(project.composed_site())[1] if one.level == "fault"],
    "pictures": project.pictures.count(),
    "pages": [client.get(f"/projects/{project.pk}/{page}").status_code for page in pages],
}))
"""


@pytest.fixture(scope="module")
def found(tmp_path_factory):
    """What an application sees whose database is that of the first release, migrated."""
    folder = tmp_path_factory.mktemp("first")
    with closing(sqlite3.connect(folder / "ashfell.sqlite3")) as database:
        database.executescript(DUMP)
    own = {"ASHFELL_VAR": str(folder), "DJANGO_SETTINGS_MODULE": "ashfell.studio.settings", "ASHFELL_LOG": "ERROR"}
    own["PYTHONPATH"] = str(ROOT / "src")
    told = subprocess.run([sys.executable, "-c", LOOKED_AT], env=os.environ | own, capture_output=True, text=True)
    assert told.returncode == 0, told.stderr[-2000:]
    return json.loads(told.stdout.strip().splitlines()[-1])


def before():
    """What the dump itself says."""
    with closing(sqlite3.connect(":memory:")) as database:
        database.executescript(DUMP)
        units = database.execute(
            "SELECT record.key, revision.data FROM projects_record record JOIN projects_revision revision "
            "ON revision.id = record.current_id WHERE record.kind = 'unit'"
        ).fetchall()
        count = [database.execute(f"SELECT count(*) FROM {name}").fetchone()[0] for name in TABLES]
        return {key: json.loads(data) for key, data in units}, count


TABLES = ("projects_revision", "gallery_picture")


def test_all_that_was_in_it_is_there_and_every_page_shows_it(found):
    units, (revisions, pictures) = before()
    assert found["name"] == "Heron Reach Boathouse"
    assert found["roles"] == ["owner"]
    assert found["revisions"] >= revisions > 0
    assert found["sizes"] == {key: [data["width"], data["height"]] for key, data in units.items()}
    assert min(found["parts"].values()) > 3
    assert found["faults"] == []
    assert found["pictures"] == pictures
    assert set(found["pages"]) == {200}


def test_what_it_keeps_is_whole_but_for_the_files_that_are_not_in_a_dump(found):
    assert [line for line in found["whole"] if "Its file is gone" not in line] == []
