"""Saving units and sites: what is kept, what is only shown, what is stale, undo and redo."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from ashfell.services.kept.models import Project, Record

pytestmark = pytest.mark.django_db


@pytest.fixture
def unit(project):
    return project.units.get(key="clubroom-window")


@pytest.fixture
def edit(signed_in, project, unit):
    def send(entry, value, keep=1, base=None):
        unit.refresh_from_db()
        data = {"entry": entry, "value": value, "keep": keep, "base": unit.current_id if base is None else base}
        answer = signed_in.post(reverse("unit-edit", args=[project.pk, unit.key]), data)
        unit.refresh_from_db()
        return answer

    return send


def move(client, project, unit, way, **values):
    data = {"base": unit.current_id} | values
    answer = client.post(reverse("unit-move", args=[project.pk, unit.key, way]), data)
    unit.refresh_from_db()
    return answer


def test_typing_shows_and_leaving_keeps(edit, unit):
    before = unit.current_id
    shown = edit("width", "3400", keep=0)
    assert b'value="3400"' in shown.content
    assert unit.current_id == before
    edit("width", "3400")
    assert unit.data["width"] == "3400"
    assert unit.current.parent_id == before


def test_a_refusal_keeps_the_document_and_names_numbers(edit, unit):
    before = unit.current_id
    answer = edit("width", "250")
    assert answer.status_code == 422
    assert "3 bars of 50 mm leave −20 mm for 4 lights." in answer.content.decode()
    assert answer["HX-Retarget"] == "#message"
    assert unit.current_id == before


@pytest.mark.parametrize("value", ["", "-5", "1e9999", "12 bananas", "9" * 60, "0", "<b>"])
def test_wrong_lengths_are_refused_and_shown_safely(edit, unit, value):
    answer = edit("frame.face", value)
    assert answer.status_code == 422
    assert b"<b>" not in answer.content
    assert unit.data["frame"]["face"] == "60"


def test_undo_and_redo_walk_the_changes(edit, unit, signed_in, project):
    edit("width", "3000")
    edit("width", "2800")
    move(signed_in, project, unit, "undo")
    assert unit.data["width"] == "3000"
    move(signed_in, project, unit, "undo")
    assert unit.data["width"] == "3200"
    assert b"disabled" in move(signed_in, project, unit, "undo").content
    move(signed_in, project, unit, "redo")
    move(signed_in, project, unit, "redo")
    assert unit.data["width"] == "2800"


def test_a_stale_save_is_refused_with_both_kept(edit, unit, signed_in, project):
    opened = unit.current_id
    edit("width", "3000")
    answer = edit("height", "1500", base=opened)
    assert answer.status_code == 409
    assert "changed by robin since you opened it" in answer.content.decode()
    assert unit.data["width"] == "3000"
    assert unit.data["height"] == "1900"
    offered = unit.revisions.get(offered=True)
    assert offered.data["height"] == "1500"
    move(signed_in, project, unit, "choose", revision=offered.pk)
    assert unit.data["height"] == "1500"
    move(signed_in, project, unit, "undo")
    assert unit.data["width"] == "3000"


def test_a_finish_that_the_project_does_not_have_is_refused_wherever_it_comes_from(
    edit, unit, signed_in, project, person
):
    answer = edit("finishes.frame", "none-such")
    assert answer.status_code == 422
    assert "There is no finish “none-such”" in answer.content.decode()
    assert edit("finishes.frame", "smoked-oak").status_code == 200
    unit.refresh_from_db()
    file = SimpleUploadedFile("w.json", json.dumps(unit.data | {"finishes": {"frame": "theirs"}}).encode())
    before = project.units.count()
    page = signed_in.post(reverse("unit-take-in", args=[project.pk]), {"file": file}, follow=True)
    assert "take it into the project first" in page.content.decode()
    assert project.units.count() == before
    unit.save_change(unit.data | {"finishes": {"frame": "from-before"}}, unit.current_id, person)
    assert edit("width", "3000", base=unit.current_id).status_code == 200  # what was there before stays in nobody's way


@pytest.fixture
def rivals(edit, unit, signed_in, project):
    """Two people changed the unit; what is offered, and what somebody takes of it."""
    opened = unit.current_id
    edit("width", "3000")
    answer = edit("height", "1500", base=opened)
    offered = unit.revisions.get(offered=True)

    def take(*entries, seen=None):
        typed = {f"take:{entry}": "1" for entry in entries} | {"revision": offered.pk, "seen": seen or unit.current_id}
        made = signed_in.post(reverse("unit-move", args=[project.pk, unit.key, "choose"]), typed)
        unit.refresh_from_db()
        return made

    unit.refresh_from_db()
    return answer.content.decode(), take


def test_both_versions_are_shown_entry_by_entry_and_either_is_taken(rivals, unit):
    page, take = rivals
    row = page.split('name="take:height"')[1].split("</tr>")[0]
    assert "checked" in row
    assert [words in row for words in ("1900", "1500", "Overall height")] == [True] * 3
    assert 'name="take:width"' not in page
    assert take("height").status_code == 200
    assert (unit.data["width"], unit.data["height"]) == ("3000", "1500")
    assert unit.undone.data["height"] == "1900"


def test_nothing_is_taken_where_nothing_is_ticked(rivals, unit):
    before = unit.current_id
    assert rivals[1]().status_code == 200
    assert unit.current_id == before


def test_a_third_version_is_never_passed_over(rivals, unit, person):
    _, take = rivals
    seen = unit.current_id
    unit.save_change(unit.data | {"height": "1700"}, seen, person, "height: 1700")
    again = take("height", seen=seen)
    assert again.status_code == 409
    row = again.content.decode().split('name="take:height"')[1].split("</tr>")[0]
    assert "checked" not in row
    assert [words in row for words in ("1900", "1700", "1500")] == [True] * 3
    assert unit.data["height"] == "1700"
    assert take("height").status_code == 200
    assert unit.data["height"] == "1500"


def test_going_on_with_theirs_changes_nothing_whatever_came_after(rivals, unit, person, signed_in, project):
    seen = unit.current_id
    unit.save_change(unit.data | {"height": "1700"}, seen, person)
    move = reverse("unit-move", args=[project.pk, unit.key, "choose"])
    assert signed_in.post(move, {"revision": seen, "seen": seen}).status_code == 200
    unit.refresh_from_db()
    assert unit.data["height"] == "1700"


def test_redo_does_not_go_to_an_offered_version(edit, unit):
    opened = unit.current_id
    edit("width", "3000")
    edit("height", "1500", base=opened)
    unit.refresh_from_db()
    assert unit.redone is None


def test_two_saves_from_one_revision_cannot_both_win(unit, person):
    twin = Record.objects.get(pk=unit.pk)
    base = unit.current_id
    unit.save_change(unit.data | {"width": "3000"}, base, person)
    from ashfell.services.kept.models import Stale

    with pytest.raises(Stale):
        twin.save_change(twin.data | {"width": "3100"}, base, person)


def test_saving_the_same_again_makes_no_revision(edit, unit):
    before = unit.revisions.count()
    edit("width", "3200")
    assert unit.revisions.count() == before


def test_lengths_are_shown_in_the_projects_unit_and_kept_as_typed(edit, unit, project):
    Project.objects.filter(pk=project.pk).update(lengths="in")
    answer = edit("width", "120")
    assert unit.data["width"] == "120 in"
    assert 'value="120&quot;"' in answer.content.decode()


def test_site_changes_and_refusals(signed_in, project):
    address = reverse("site-edit", args=[project.pk])

    def send(**values):
        return signed_in.post(address, {"keep": 1, "base": project.site.current_id} | values)

    assert send(entry="walls.clubroom.length", value="7 m").status_code == 200
    assert project.site.data["walls"][0]["length"] == "7 m"
    refused = send(entry="walls.clubroom.length", value="2 m")
    assert refused.status_code == 422
    assert "wide and “Clubroom wall” only 2000 mm long" in refused.content.decode()
    assert send(do="add-placement", wall="landing", unit="stair-window").status_code == 200
    assert send(do="remove", table="walls", key="landing").status_code == 200
    assert [p["wall"] for p in project.site.data["placements"]] == ["clubroom", "gable", "court"]
    assert send(entry="placements.clubroom-window.offset", value="9 m").status_code == 422


def test_a_unit_grown_too_wide_is_told_on_the_project_page(edit, signed_in, project):
    edit("width", "6400")
    findings = signed_in.get(reverse("site-audit", args=[project.pk])).content.decode()
    assert "6400 mm wide and “Clubroom wall” only 6000 mm long" in findings
    assert signed_in.get(reverse("project", args=[project.pk])).status_code == 200


def test_an_empty_project_is_told_what_to_do(signed_in):
    started = signed_in.post(reverse("project-new"), {"name": "Empty", "lengths": "ft-in"})
    page = signed_in.get(started.url).content.decode()
    assert "Add the first wall" in page
    assert signed_in.get(started.url + "site.glb").content[:4] == b"glTF"


def test_a_unit_is_duplicated_and_taken_in_from_its_own_document(signed_in, project):
    copied = signed_in.post(reverse("unit-duplicate", args=[project.pk, "stair-window"]))
    assert copied.url.endswith("/units/stair-window-copy/")
    content = signed_in.get(reverse("unit-document", args=[project.pk, "clubroom-window"])).content
    taken = signed_in.post(reverse("unit-take-in", args=[project.pk]), {"file": SimpleUploadedFile("w.json", content)})
    assert taken.url.endswith("/units/clubroom-window-2/")
    assert project.units.get(key="clubroom-window-2").data == project.units.get(key="clubroom-window").data


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"{", "not JSON"),
        (b"[1]", "no JSON object"),
        (b'{"width": "-3"}', "cannot be built"),
        (b'{"width": "30"}', "at least"),
        (b"\xff\xfe", "not JSON"),
        (b" " * 600_000, "at most 512 KiB"),
    ],
)
def test_a_file_that_is_no_unit_is_refused_with_its_reason(signed_in, project, content, words):
    before = project.units.count()
    answer = signed_in.post(
        reverse("unit-take-in", args=[project.pk]), {"file": SimpleUploadedFile("w.json", content)}, follow=True
    )
    assert words in answer.content.decode()
    assert project.units.count() == before


def test_a_unit_may_be_called_what_an_address_is_called(signed_in, project):
    made = signed_in.post(reverse("unit-new", args=[project.pk]), {"name": "New"})
    assert signed_in.get(made.url).status_code == 200
