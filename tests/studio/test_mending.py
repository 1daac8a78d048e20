"""A unit that is kept and cannot be built is shown with what is wrong, and mended on its page."""

from __future__ import annotations

import pytest
from django.urls import reverse

from ashfell.core.base.document import dump
from ashfell.core.unit import read_unit
from ashfell.services.kept.models import Record
from tests.studio.test_access import of_project


@pytest.fixture
def narrow(project, person, client):
    client.force_login(person)
    return Record.start(project, "unit", "narrow", dump(read_unit({"name": "Narrow", "frame": {"face": "9"}})), person)


def at(name, record):
    return reverse(name, args=[record.project_id, record.key])


def test_its_page_says_what_is_wrong_and_offers_what_works(client, narrow):
    shown = client.get(at("unit", narrow))
    assert shown.status_code == 200
    text = shown.content.decode()
    assert "Narrow cannot be built" in text
    assert "no room for a rebate" in text
    assert 'value="19 mm"' in text
    client.post(at("unit-mend", narrow), {"entry": "frame.face", "value": "19 mm"})
    narrow.refresh_from_db()
    assert narrow.data["frame"]["face"] == "19 mm"
    assert "elevation" in client.get(at("unit", narrow)).content.decode()


def test_what_does_not_mend_it_is_told_and_not_kept(client, narrow):
    before = narrow.current_id
    for value, words in (("12", "no room for a rebate"), ("twelve", "A number is needed")):
        answer = client.post(at("unit-mend", narrow), {"entry": "frame.face", "value": value})
        assert words in answer.content.decode()
    narrow.refresh_from_db()
    assert narrow.current_id == before


def test_no_page_of_it_fails(client, narrow, project):
    """Every address of a project, with the unit that cannot be built."""
    seen = 0
    for name, address in of_project(project):
        if "stair-window" in address:
            own = address.replace("stair-window", "narrow")
            for answer in (client.get(own), client.post(own, {"entry": "frame.joint", "value": "jambs", "keep": "0"})):
                assert answer.status_code < 500, name
                seen += 1
    assert seen > 25


def test_a_change_that_mends_it_is_taken_by_the_page_as_well(client, narrow):
    sent = {"entry": "frame.face", "value": "60", "keep": "1", "base": str(narrow.current_id)}
    assert client.post(at("unit-edit", narrow), sent).status_code == 200
    narrow.refresh_from_db()
    assert narrow.data["frame"]["face"] == "60"
    told = client.post(at("unit-mend", narrow), {"entry": "frame.face", "value": "70"}, follow=True)
    assert "was not kept" in told.content.decode()


@pytest.mark.parametrize(
    "sent",
    [
        {"points": "[[NaN, 1], [2, 3]]"},
        {"points": "[[1, Infinity]]"},
        {"points": "[[0, 0]]", "reach": "nan"},
        {"points": "[" * 5000},
        {"points": "7"},
    ],
)
def test_places_that_are_no_places_are_refused(client, project, person, sent):
    client.force_login(person)
    answer = client.post(reverse("unit-measure", args=[project.pk, "clubroom-window"]), sent)
    assert answer.status_code == 422
    assert "cannot be read" in answer.content.decode()


def test_a_version_that_there_is_not_is_not_found(client, project, person):
    client.force_login(person)
    history = reverse("unit-history", args=[project.pk, "clubroom-window"])
    assert client.get(f"{history}?revision=abc").status_code == 200
    assert client.post(history, {"revision": "abc"}).status_code == 404
