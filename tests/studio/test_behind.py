"""Large units: what of them takes long is made by the worker, and the page asks until it is there."""

import time

import pytest
from django.urls import reverse

from ashfell.core.base.document import dump
from ashfell.core.unit import read_unit
from ashfell.formats.findings import read_findings
from ashfell.services.kept import records
from ashfell.services.kept.models import Record
from ashfell.studio.handover import behind
from ashfell.studio.handover.management.commands.hand_over import hand_over
from ashfell.studio.handover.models import Handover
from tests.formats.reading import Glb

pytestmark = pytest.mark.django_db

LIGHTS = {"lights": [{}] * 3, "bars": ["50"] * 2}


@pytest.fixture
def record(project, person, monkeypatch):
    monkeypatch.setattr(behind, "LARGE", 50)
    monkeypatch.setattr(behind, "AUDITED", 50)
    data = {"name": "Large", "width": "3000", "height": "3000", "columns": LIGHTS, "rows": LIGHTS}
    return records.start(project, "unit", "Large", dump(read_unit(data)), person)


def address(name, record):
    return reverse(name, args=[record.project_id, record.key])


def used_by(project):
    """A unit that its site uses."""
    return next(placement["unit"] for placement in project.site.data["placements"] if placement["unit"])


def work():
    for made in Handover.objects.filter(state=Handover.State.WAITING):
        hand_over(made.pk)


def test_3d_comes_from_the_worker_and_is_made_once(signed_in, record):
    first = signed_in.get(address("unit-view", record))
    assert (first.status_code, first["Retry-After"]) == (202, "1")
    assert signed_in.get(address("unit-view", record)).status_code == 202
    assert Handover.objects.count() == 1
    work()
    shown = signed_in.get(address("unit-view", record))
    assert shown.status_code == 200
    assert len(list(Glb(shown.content).placed())) > 50
    typed = {"entry": "width", "value": "2900", "keep": "0"}
    answer = signed_in.post(address("unit-view", record), typed)
    assert answer.status_code == 202
    assert "Retry-After" not in answer
    record.save_change(record.data | {"width": "2900"}, record.current_id, record.current.author)
    assert signed_in.get(address("unit-view", record)).status_code == 202
    assert Handover.objects.count() == 2


def test_few_members_of_very_many_triangles_are_large_too(signed_in, record, monkeypatch):
    monkeypatch.setattr(behind, "LARGE", 5_000)
    assert signed_in.get(address("unit-view", record)).status_code == 200
    monkeypatch.setattr(behind, "DENSE", 500)
    assert signed_in.get(address("unit-view", record)).status_code == 202


def test_opened_it_is_another_file(signed_in, record):
    for opened in ("0", "50"):
        assert signed_in.post(address("unit-view", record), {"opened": opened}).status_code == 202
    assert Handover.objects.count() == 2


def test_the_audit_comes_from_the_worker_can_be_stopped_and_asked_for_again(signed_in, record):
    assert "The worker audits it" in signed_in.get(address("unit-audit", record)).content.decode()
    made = Handover.objects.get()
    signed_in.post(reverse("handover-cancel", args=[record.project_id, made.pk]))
    assert "It was stopped." in signed_in.get(address("unit-audit", record)).content.decode()
    assert Handover.objects.count() == 1
    assert "The worker audits it" in signed_in.get(address("unit-audit", record) + "?again").content.decode()
    work()
    assert "closed, outward, no overlaps" in signed_in.get(address("unit-audit", record)).content.decode()


def test_a_large_site_is_audited_by_the_worker(signed_in, project, monkeypatch):
    asked = reverse("site-audit", args=[project.pk])
    here = signed_in.get(asked).content.decode()
    monkeypatch.setattr(behind, "SITE_LARGE", 5)
    assert "The worker audits it" in signed_in.get(asked).content.decode()
    work()
    assert signed_in.get(asked).content.decode() == here
    (made,) = Handover.objects.all()
    assert (made.what, made.in_words) == ("site", "all of the site")
    # What it uses changes, though the site does not: it is audited again.
    unit = Record.objects.get(project=project, key=used_by(project))
    unit.save_change(unit.data | {"frame": {"face": "61"}}, unit.current_id, unit.current.author)
    assert "The worker audits it" in signed_in.get(asked).content.decode()
    assert Handover.objects.count() == 2


def test_what_waits_of_an_earlier_version_is_not_made_any_more(signed_in, record):
    for face in ("60", "61", "62"):
        record.save_change(record.data | {"frame": {"face": face}}, record.current_id, record.current.author)
        for name in ("unit-audit", "unit-view"):
            signed_in.get(address(name, record))
    states = [(made.kind, made.state) for made in Handover.objects.order_by("pk")]
    assert states == [("audit", "cancelled"), ("glb", "cancelled")] * 2 + [("audit", "waiting"), ("glb", "waiting")]


def test_what_a_page_asks_for_is_not_in_the_list_of_files(signed_in, record):
    signed_in.get(address("unit-audit", record))
    assert "No file yet" in signed_in.get(reverse("handover-list", args=[record.project_id])).content.decode()


def test_of_a_large_unit_one_size_is_shown_and_that_is_told(signed_in, record):
    page = signed_in.get(address("unit-sizes", record)).content.decode()
    assert page.count('class="card-of"') == 1
    assert "one size is shown at a time" in page


def test_a_file_of_findings_is_handed_over(signed_in, project):
    asked = {"what": "unit:bar-window", "format": "audit"}
    signed_in.post(reverse("handover-start", args=[project.pk]), asked)
    work()
    made = Handover.objects.get()
    assert read_findings(made.file.read_bytes())[1].endswith(" parts")


def test_the_page_of_the_largest_unit_stays_within_the_budget(signed_in, project, person):
    """60 by 60 lights: nothing that its page asks for is worked on for long where somebody waits (4 times the budget of
    5 s, for machines that do much else)."""
    lights = {"lights": [{}] * 60, "bars": ["50"] * 59}
    data = {"name": "Largest", "width": "30 m", "height": "30 m", "columns": lights, "rows": lights}
    record = records.start(project, "unit", "Largest", dump(read_unit(data)), person)
    for name in ("unit-view", "unit-audit"):
        begun = time.monotonic()
        assert signed_in.get(address(name, record)).status_code in (200, 202)
        assert time.monotonic() - begun < 20
    assert Handover.objects.count() == 2
