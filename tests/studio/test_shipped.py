"""What ships is told, with its licence and checksum."""

import hashlib
import json
import re

import pytest
from django.urls import reverse

from ashfell.studio.keeping.shipped import bill, shipped
from tests.conftest import ROOT

pytestmark = pytest.mark.django_db


def test_every_package_that_is_fixed_for_running_is_told_with_its_licence(signed_in):
    lines = (ROOT / "requirements.txt").read_text().splitlines()
    fixed = {
        re.sub(r"[-_.]+", "-", line.split("==")[0]).lower(): line.split("==")[1].strip(" \\")
        for line in lines
        if "==" in line
    }
    told = {re.sub(r"[-_.]+", "-", one.name).lower(): one for one in shipped() if not one.file}
    assert set(told) == set(fixed)
    assert len(told) > 30
    for name, one in told.items():
        assert one.version == fixed[name].split(";")[0].strip(), name
        assert one.licence, name
    page = signed_in.get(reverse("licences")).content.decode()
    assert "Django" in page
    assert "BSD-3-Clause" in page


def test_every_file_that_ships_is_in_the_bill_with_its_checksum(signed_in):
    made = json.loads(signed_in.get(reverse("bill")).content)
    assert made == bill()
    assert (made["bomFormat"], made["specVersion"]) == ("CycloneDX", "1.5")
    files = [one for one in made["components"] if one["type"] == "file"]
    assert len(files) >= 4
    for one in files:
        content = (ROOT / "src/ashfell/studio/static/vendor" / one["name"]).read_bytes()
        assert one["hashes"] == [{"alg": "SHA-256", "content": hashlib.sha256(content).hexdigest()}]


def test_their_licences_can_be_read(signed_in):
    text = signed_in.get(reverse("licence-texts")).content.decode()
    for words in ("bootstrap", "htmx", "three"):
        assert words in text.lower()
