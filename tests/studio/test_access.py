"""Who sees what, and what the browser is told it may run."""

import pytest
from django.urls import reverse

from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db


def addresses(project):
    picture = Picture.objects.create(project=project, settings={}, site={})
    return [
        reverse("project", args=[project.pk]),
        reverse("site-view", args=[project.pk]),
        reverse("site-audit", args=[project.pk]),
        reverse("unit", args=[project.pk, "stair-window"]),
        reverse("unit-view", args=[project.pk, "stair-window"]),
        reverse("unit-elevation", args=[project.pk, "stair-window"]),
        reverse("unit-document", args=[project.pk, "stair-window"]),
        reverse("unit-audit", args=[project.pk, "stair-window"]),
        reverse("finishes", args=[project.pk]),
        reverse("swatch", args=[project.pk, "ash-timber"]),
        reverse("pictures", args=[project.pk]),
        reverse("gallery", args=[project.pk]),
        reverse("picture-image", args=[project.pk, picture.pk]),
    ]


def posts(project):
    picture = Picture.objects.create(project=project, settings={}, site={})
    return [
        reverse("site-edit", args=[project.pk]),
        reverse("site-move", args=[project.pk, "undo"]),
        reverse("unit-new", args=[project.pk]),
        reverse("unit-take-in", args=[project.pk]),
        reverse("unit-duplicate", args=[project.pk, "stair-window"]),
        reverse("unit-edit", args=[project.pk, "stair-window"]),
        reverse("unit-move", args=[project.pk, "stair-window", "undo"]),
        reverse("finish-copy", args=[project.pk, "ash-timber"]),
        reverse("picture-start", args=[project.pk]),
        reverse("picture-cancel", args=[project.pk, picture.pk]),
    ]


def test_nobody_is_let_in_without_signing_in(client, project):
    for address in [reverse("projects"), *addresses(project)]:
        assert client.get(address).url.startswith("/sign-in/"), address


def test_another_members_project_is_not_there(client, stranger, project):
    client.force_login(stranger)
    assert b"Heron Reach" not in client.get(reverse("projects")).content
    for address in addresses(project):
        assert client.get(address).status_code == 404, address
    for address in posts(project):
        assert client.post(address, {"entry": "width", "value": "1", "keep": "1", "name": "x"}).status_code == 404, (
            address
        )
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
    for address in posts(project):
        assert client.post(address).status_code == 403, address


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
