"""The HTTP interface: who is let in, what is kept, how what is wrong is told; and generated nonsense."""

import json

import pytest
import schemathesis
from django.urls import reverse
from django_tasks_db.models import DBTaskResult
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_headers_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from ashfell.services.kept.models import Project, Record, Revision
from ashfell.studio.api.api import api
from ashfell.studio.api.models import PREFIX, Token
from ashfell.studio.handover import behind
from ashfell.studio.handover.management.commands.hand_over import hand_over
from ashfell.studio.handover.models import Handover
from ashfell.studio.handover.tasks import write_file
from ashfell.studio.pictures.models import Picture
from ashfell.studio.wsgi import application

pytestmark = pytest.mark.django_db(transaction=True)
ROOT = "/api/v1"


class Program:
    """Something that shows a token."""

    def __init__(self, client, text):
        self.client, self.text = client, text

    def __call__(self, method, path, body=None, **more):
        headers = {"Authorization": f"Bearer {self.text}"} if self.text else {}
        data = {"data": json.dumps(body), "content_type": "application/json"} if body is not None else {}
        return getattr(self.client, method)(ROOT + path, headers=headers, **data, **more)


@pytest.fixture
def writer(client, person):
    return Program(client, Token.issue(person, "writer", "write")[1])


@pytest.fixture
def reader(client, person):
    return Program(client, Token.issue(person, "reader", "read")[1])


def operations():
    """Every operation: its method and its path."""
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method in methods:
            yield method, path.removeprefix(ROOT)


def filled(path, project):
    file = Handover.objects.create(project=project, what="site", kind="glb", document={})
    picture = Picture.objects.create(project=project, settings={}, site={})
    values = {"project": project.pk, "kind": "units", "key": "clubroom-window", "file": file.pk, "picture": picture.pk}
    return path.format(**values)


BODIES = {
    "document": {},
    "revision": 0,
    "name": "X",
    "format": "glb",
    "settings": {},
}


# --- who is let in


def test_nobody_is_let_in_without_a_token(client, signed_in, project):
    found = [*operations()]
    assert len(found) >= 18
    for method, path in found:
        for text in ("", "ash_nonsense", "\x7f", "x" * 5000):
            answer = Program(client, text)(method, filled(path, project), BODIES if method != "get" else None)
            assert answer.status_code == 401, (method, path)


def test_another_persons_project_is_not_there(client, stranger, project):
    theirs = Program(client, Token.issue(stranger, "theirs", "write")[1])
    revisions = Revision.objects.count()
    for method, path in operations():
        if "{project}" in path:
            answer = theirs(method, filled(path, project), BODIES if method != "get" else None)
            assert answer.status_code == 404, (method, path)
    assert theirs("get", "/projects").json() == []
    assert Revision.objects.count() == revisions


def test_a_token_that_reads_changes_nothing(reader, project):
    for method, path in operations():
        answer = reader(method, filled(path, project), BODIES if method != "get" else None)
        assert (answer.status_code == 403) == (method != "get"), (method, path)
    assert Project.objects.count() == 1


def test_a_person_who_may_no_longer_come_in_is_not_let_in(writer, person):
    assert writer("get", "/projects").status_code == 200
    person.is_active = False
    person.save()
    assert writer("get", "/projects").status_code == 401


# --- the page of tokens


def test_a_token_is_shown_once_kept_as_its_hash_and_withdrawn(signed_in, client, person):
    page = signed_in.post(reverse("token-make"), {"name": "Nightly", "scope": "read"}).content.decode()
    text = page.partition('id="token">')[2].partition("<")[0]
    assert text.startswith(PREFIX)
    assert len(text) > 40
    (token,) = Token.objects.all()
    assert text not in (token.digest, token.name)
    assert text not in signed_in.get(reverse("tokens")).content.decode()
    program = Program(client, text)
    assert program("get", "/projects").status_code == 200
    token.refresh_from_db()
    assert token.used is not None
    signed_in.post(reverse("token-withdraw", args=[token.pk]))
    assert program("get", "/projects").status_code == 401


def test_only_ones_own_tokens_are_withdrawn(signed_in, stranger):
    token, _ = Token.issue(stranger, "theirs", "read")
    assert signed_in.post(reverse("token-withdraw", args=[token.pk])).status_code == 404
    assert Token.objects.filter(pk=token.pk).exists()
    assert "needs a name" in signed_in.post(reverse("token-make"), {"name": " "}, follow=True).content.decode()


# --- documents


def test_a_unit_is_read_changed_and_kept_as_a_revision(writer, project):
    path = f"/projects/{project.pk}/units/clubroom-window"
    one = writer("get", path).json()
    changed = one["document"] | {"width": "3000"}
    answer = writer("put", path, {"document": changed, "revision": one["revision"]})
    assert answer.status_code == 200
    assert answer.json()["revision"] != one["revision"]
    record = Record.objects.get(project=project, kind="unit", key="clubroom-window")
    assert record.data["width"] == "3000"
    assert record.undone.pk == one["revision"]


def test_a_stale_save_is_refused_and_kept_as_offered(writer, project):
    path = f"/projects/{project.pk}/units/clubroom-window"
    one = writer("get", path).json()
    bodies = [
        {"document": one["document"] | {"width": width}, "revision": one["revision"]} for width in ("3000", "3100")
    ]
    assert writer("put", path, bodies[0]).status_code == 200
    stale = writer("put", path, bodies[1])
    assert stale.status_code == 409
    told = stale.json()
    assert told["current"] == writer("get", path).json()["revision"]
    assert Revision.objects.get(pk=told["offered"]).data["width"] == "3100"


def test_what_cannot_be_built_is_told_and_its_remedy_works(writer, project):
    path = f"/projects/{project.pk}/units/clubroom-window"
    one = writer("get", path).json()
    answer = writer("put", path, {"document": one["document"] | {"height": "100"}, "revision": one["revision"]})
    assert answer.status_code == 422
    wrong = answer.json()
    assert set(wrong) == {"entry", "rule", "message", "remedy", "nearest"}
    assert wrong["entry"] == "height"
    mended = one["document"] | {"height": wrong["nearest"]}
    assert writer("put", path, {"document": mended, "revision": one["revision"]}).status_code == 200


def test_making_twice_makes_one(writer, project):
    path = f"/projects/{project.pk}/units/new-one"
    body = {"document": {"name": "New", "width": "900", "height": "1200"}}
    first, second = writer("put", path, body), writer("put", path, body)
    assert (first.status_code, second.status_code) == (201, 200)
    assert first.json() == second.json()
    assert project.units.filter(key="new-one").count() == 1
    other = writer("put", path, {"document": body["document"] | {"width": "950"}})
    assert other.status_code == 409


def test_the_site_is_read_changed_and_audited(writer, project):
    path = f"/projects/{project.pk}/site"
    one = writer("get", path).json()
    assert one["document"]["units"] == {}
    moved = one["document"] | {"name": "Moved"}
    assert writer("put", path, {"document": moved, "revision": one["revision"]}).status_code == 200
    assert project.site.data["name"] == "Moved"
    assert writer("get", f"/projects/{project.pk}/audit").json() == []
    assert writer("put", path, {"document": {"walls": 3}, "revision": 1}).status_code == 422


def test_what_is_large_is_audited_by_the_worker(writer, project, monkeypatch):
    for path, limit in ((f"/projects/{project.pk}/audit", "SITE_LARGE"), (f"{units_of(project)}/audit", "AUDITED")):
        here = writer("get", path).json()
        monkeypatch.setattr(behind, limit, 5)
        waits = writer("get", path)
        assert (waits.status_code, waits.json()["state"], waits.json()["format"]) == (202, "waiting", "audit")
        assert writer("get", path).json()["id"] == waits.json()["id"]
        hand_over(waits.json()["id"])
        found = writer("get", path)
        assert (found.status_code, found.json()) == (200, here)


def units_of(project):
    return f"/projects/{project.pk}/units/{project.units.first().key}"


def test_lists_come_in_pages(writer, project):
    path = f"/projects/{project.pk}/units"
    whole = [one["key"] for one in writer("get", path).json()]
    parts = [
        one["key"]
        for start in range(0, len(whole), 4)
        for one in writer("get", f"{path}?limit=4&offset={start}").json()
    ]
    assert parts == whole
    assert len(whole) > 5
    assert writer("get", f"{path}?limit=0").status_code == 422
    assert writer("get", f"{path}?offset=-1").status_code == 422


# --- files and pictures


@pytest.mark.parametrize(
    ("of", "typed"),
    [("files", {"what": "site", "format": "ifc"}), ("pictures", {"settings": {"width": 64, "height": 40}})],
)
def test_asked_again_under_the_same_name_it_is_the_same_one(client, writer, project, stranger, of, typed):
    address = f"/api/v1/projects/{project.pk}/{of}"

    def ask(name, token=writer.text):
        headers = {"Authorization": f"Bearer {token}"} | ({"Idempotency-Key": name} if name else {})
        made = client.post(address, json.dumps(typed), content_type="application/json", headers=headers)
        assert made.status_code == 202
        return made.json()["id"]

    assert ask("night run 7") == ask("night run 7")
    assert ask("night run 8") != ask("night run 7")
    assert ask("") != ask("")
    project.memberships.create(user=stranger, role="editor")
    assert ask("night run 7", Token.issue(stranger, "theirs", "write")[1]) != ask("night run 7")


def test_a_file_is_asked_for_and_fetched(writer, project):
    offered = {one["format"]: one for one in writer("get", "/formats").json()}
    assert "A4" in offered["pdf"]["options"]["paper"]
    asked = writer("post", f"/projects/{project.pk}/files", {"what": "unit:clubroom-window", "format": "glb"})
    assert asked.status_code == 202
    path = f"/projects/{project.pk}/files/{asked.json()['id']}"
    assert writer("get", f"{path}/content").status_code == 404
    write_file.call(asked.json()["id"])
    told = writer("get", path).json()
    content = b"".join(writer("get", f"{path}/content").streaming_content)
    assert told["state"] == "done"
    assert told["size"] == len(content)
    assert content.startswith(b"glTF")
    wrong = writer("post", f"/projects/{project.pk}/files", {"format": "pdf", "options": {"paper": "A9"}})
    assert wrong.status_code == 422
    assert "A3" in wrong.json()["remedy"]


def test_a_picture_is_asked_for(writer, project):
    asked = writer("post", f"/projects/{project.pk}/pictures", {"settings": {"width": 64, "height": 40}})
    assert asked.status_code == 202
    assert DBTaskResult.objects.ready().count() == 1
    (one,) = writer("get", f"/projects/{project.pk}/pictures").json()
    assert (one["state"], one["passes_done"], one["settings"]["width"]) == ("waiting", 0, 64)
    assert writer("get", f"/projects/{project.pk}/pictures/{one['id']}/image").status_code == 404
    assert writer("post", f"/projects/{project.pk}/pictures", {"settings": {"width": 1}}).status_code == 422


def test_a_project_is_made(writer, person):
    made = writer("post", "/projects", {"name": "Ferry hut", "lengths": "in"})
    assert made.status_code == 201
    project = Project.objects.get(pk=made.json()["id"])
    assert (project.lengths, project.members.get()) == ("in", person)
    assert writer("get", f"/projects/{project.pk}/audit").json() == []
    assert writer("post", "/projects", {"name": ""}).status_code == 422


# --- what is published, and nonsense


def test_the_description_is_published(client):
    answer = client.get(f"{ROOT}/openapi.json")
    assert answer.status_code == 200
    assert answer.json()["info"]["title"] == "Ashfell"
    assert all(one.get("summary") for methods in answer.json()["paths"].values() for one in methods.values())


CHECKS = [
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_schema_conformance,
    response_headers_conformance,
]


def test_generated_nonsense_finds_no_fault(writer, project):
    """Schemathesis, on every operation: never an error of the server, and only what is described comes back."""
    described = schemathesis.openapi.from_wsgi(f"{ROOT}/openapi.json", application)
    checked, asked = 0, []
    for result in described.get_all_operations():
        operation = result.ok()

        @settings(
            max_examples=12, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck), database=None
        )
        @given(case=operation.as_strategy())
        def one(case):
            if len(asked) % 2:  # a project that is there, and a unit of it
                there = {"project": project.pk, "kind": "units", "key": "clubroom-window"}
                case.path_parameters |= {name: there[name] for name in case.path_parameters or {} if name in there}
            answer = case.call(headers={"Authorization": f"Bearer {writer.text}"})
            asked.append(answer.status_code)
            case.validate_response(answer, checks=CHECKS)

        one()
        checked += 1
    assert checked >= 18
    assert {200, 201, 202, 404, 422} <= set(asked)
