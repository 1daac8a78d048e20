"""Who sees what, and what the browser is told it may run."""

import re

import pytest
from django.urls import URLResolver, get_resolver, reverse

from ashfell.services.kept.models import Revision
from ashfell.studio.handover.models import Handover
from ashfell.studio.pictures.models import Picture, Sheet

pytestmark = pytest.mark.django_db


OPEN = {"sign-in", "sign-out"}
"""Addresses for people who are not signed in."""
OWN_ONLY = {"projects", "project-new", "keys", "tokens", "token-make", "token-withdraw"}
OWN_ONLY |= {"intake-start", "intake", "intake-again", "intake-keep", "intake-leave"}  # others': test_intake.py
"""Addresses without a project in them: they show or make what is one's own."""


def routes(patterns=None, before=""):
    """Every address of the application: its name and its pattern."""
    for pattern in get_resolver().url_patterns if patterns is None else patterns:
        route = before + str(pattern.pattern)
        if isinstance(pattern, URLResolver) and pattern.namespace == "api":
            continue  # programs come in by their tokens: test_api.py
        if isinstance(pattern, URLResolver):
            yield from routes(pattern.url_patterns, route)
        else:
            yield pattern.name, route


def of_project(project):
    """Every address that is of a project, filled in with what that project has: whoever adds one need not name it."""
    picture = Picture.objects.create(project=project, settings={}, site={})
    revision = project.units.get(key="stair-window").current_id
    filled = {"project": project.pk, "key": "stair-window", "way": "undo", "picture": picture.pk, "revision": revision}
    filled |= {"sheet": Sheet.objects.create(project=project, name="Sheet", rows=[], columns=[]).pk}
    filled |= {"handover": Handover.objects.create(project=project, what="site", kind="glb", document={}).pk}
    filled |= {"chosen": "round", "item": "marsh-1", "version": 1, "shown": "still", "of": "role"}
    for name, route in routes():
        if name not in OPEN | OWN_ONLY:
            wanted = re.findall(r"<(?:\w+:)?(\w+)>", route)
            assert "project" in wanted, f"{name} is not of a project: say in OWN_ONLY or OPEN for whom it is"
            assert filled.keys() >= set(wanted), f"{name} needs a value for {set(wanted) - filled.keys()}"
            values = filled | ({"key": "ash-timber"} if name == "swatch" or name.startswith("finish") else {})
            yield name, reverse(name, kwargs={key: values[key] for key in wanted})


def test_nobody_is_let_in_without_signing_in(client, project):
    found = [reverse("projects"), *(address for _, address in of_project(project))]
    assert len(found) > 25
    for address in found:
        for answer in (client.get(address), client.post(address)):
            assert answer.status_code == 302, address
            assert answer.url.startswith("/sign-in/"), address


def test_another_members_project_is_not_there(client, stranger, project):
    client.force_login(stranger)
    assert b"Heron Reach" not in client.get(reverse("projects")).content
    revisions = Revision.objects.count()
    for name, address in of_project(project):
        shown = client.get(address).status_code
        sent = client.post(address, {"entry": "width", "value": "1", "keep": "1", "name": "x"}).status_code
        assert {shown, sent} <= {404, 405}, name
        assert 404 in (shown, sent), name
    assert Revision.objects.count() == revisions
    assert Picture.objects.filter(state="cancelled").count() == 0


def test_a_picture_is_found_only_through_its_own_project(signed_in, person, project):
    from ashfell.services.kept.models import Project

    other = Project.objects.create(name="Other")
    other.members.add(person)
    picture = Picture.objects.create(project=project, settings={}, site={})
    assert signed_in.post(reverse("picture-cancel", args=[other.pk, picture.pk])).status_code == 404


def test_a_change_needs_its_csrf_token(project, person):
    from django.test import Client

    client = Client(enforce_csrf_checks=True)
    client.force_login(person)
    for name, address in of_project(project):
        assert client.post(address).status_code == 403, name


def test_no_inline_code_is_allowed_or_written(signed_in, project):
    for address in (
        reverse("project", args=[project.pk]),
        reverse("unit", args=[project.pk, "stair-window"]),
        reverse("pictures", args=[project.pk]),
    ):
        answer = signed_in.get(address)
        policy = answer["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        text = answer.content.decode()
        assert " style=" not in text
        assert " onclick=" not in text
        assert "<style" not in text
        assert all('src="' in tag or 'type="application/json"' in tag for tag in text.split("<script")[1:])


def test_sqlite_waits_in_wal_with_immediate_transactions(db):
    from django.db import connection

    assert connection.settings_dict["OPTIONS"]["transaction_mode"] == "IMMEDIATE"
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        assert cursor.execute("PRAGMA foreign_keys").fetchone() == (1,)
        assert cursor.execute("PRAGMA busy_timeout").fetchone()[0] >= 10_000


def test_sign_in_says_when_name_and_password_do_not_match(client, person):
    answer = client.post(reverse("sign-in"), {"username": "robin", "password": "wrong"})
    assert b"do not belong together" in answer.content
    assert client.post(reverse("sign-in"), {"username": "robin", "password": "still-water-44"}).url == "/"
