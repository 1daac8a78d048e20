"""Whatever is sent to whatever address: never a fault."""

import random
import re
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.urls import reverse

from tests.conftest import ROOT
from tests.studio.test_access import of_project

pytestmark = pytest.mark.django_db

NONSENSE = [
    "",
    "nan",
    "-Infinity",
    "1e308",
    "9" * 400,
    "-1",
    "0",
    "½",
    "٣",
    "²",
    "\0",
    "\x1b[31m\u202e",
    "'; DROP TABLE projects_record; --",
    "<script>alert(1)</script>",
    "../../etc/passwd",
    "[" * 900,
    '{"a": ' * 300,
    "{}",
    "[1, null, {}]",
    "walls..x",
    "walls.front.length",
    "columns.lights.0.fill.kind",
    "a" * 5000,
    "None",
    "site:",
    "unit:clubroom-window",
    "1/0",
    "1 m 1 m",
]


def fields():
    """Every name that the pages read of what is sent."""
    found = {"at", "side", "cut", "points", "first", "frame", "do", "room-length", "room-width"}  # from whole tuples
    for path in (ROOT / "src/ashfell/studio").rglob("*.py"):
        text = path.read_text()
        found |= set(re.findall(r"(?:POST|GET|typed)\.get(?:list)?\(\"([\w.-]+)\"", text))
        found |= set(re.findall(r"(?:POST|GET)\[\"([\w.-]+)\"\]", text))
    return sorted(found - {"keep"})


def test_the_names_are_found():
    assert {"base", "entry", "value", "what", "cut", "revision", "chosen"} <= set(fields())


@pytest.mark.parametrize("seed", range(6))
def test_no_address_answers_nonsense_with_a_fault(signed_in, project, seed):
    random_, names = random.Random(seed), fields()
    addresses = [one for one in of_project(project) if one[0] not in ("project-bin", "member-leave", "member-remove")]
    for name, address in addresses:
        typed = {field: random_.choice(NONSENSE) for field in names if random_.random() < 0.6}
        typed["keep"] = random_.choice(["0", "1", "?"])
        if random_.random() < 0.3:
            typed["file"] = SimpleUploadedFile(random_.choice(["a.svg", "a.csv", "\x00.json"]), b"\xff\0[[[")
        asked = {key: value for key, value in typed.items() if isinstance(value, str)}
        if name not in ("picture-layers", "finish-preview"):
            assert signed_in.get(address, asked).status_code < 500, (name, asked)
        assert signed_in.post(address, typed).status_code < 500, (name, typed)


@pytest.mark.parametrize(
    "address",
    ["/%00", "/projects/9999999999999999999999/", "/projects/1/units/" + "a" * 500 + "/", "/invited/%F0%9F%98%80/"],
)
def test_addresses_that_are_none_are_not_there(signed_in, address):
    assert signed_in.get(address).status_code in (404, 400)


@pytest.mark.django_db(transaction=True)
def test_twenty_makings_of_one_name_at_once_are_twenty_units(person, project):
    before = project.units.count()

    def make(number):
        client = Client()
        client.force_login(person)
        try:
            return client.post(reverse("unit-start", args=[project.pk]), {"start": "fixed", "name": "Same"}).status_code
        finally:
            connection.close()

    with ThreadPoolExecutor(8) as pool:
        assert set(pool.map(make, range(20))) == {302}
    assert project.units.count() == before + 20
