"""Who sees what, and what the browser is told it may run."""

import re

import pytest
from django.urls import URLResolver, get_resolver, reverse

from ashfell.services.kept.models import Revision, Role
from ashfell.studio.handover.models import Handover
from ashfell.studio.people.models import Invitation, ShareLink
from ashfell.studio.people.roles import SHOWN_ONLY
from ashfell.studio.pictures.models import Picture, Sheet

pytestmark = pytest.mark.django_db


OPEN = {"sign-in", "sign-out", "health", "reset", "reset-sent", "reset-choose", "invited", "shared", "shared-image"}
OPEN |= {"counters"}  # with a key: test_faults.py
"""Addresses for people who are not signed in."""
OWN_ONLY = {"projects", "project-new", "keys", "tokens", "token-make", "token-withdraw"}
OWN_ONLY |= {"licences", "bill", "licence-texts", "second", "second-settings"}  # test_second.py
OWN_ONLY |= {"account", "sign-out-elsewhere", "project-back", "project-gone"}  # others': test_people.py, test_bin.py
OWN_ONLY |= {
    "intake-start",
    "intake",
    "intake-again",
    "intake-keep",
    "intake-leave",
    "intake-new",
}  # others': test_intake.py
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
    person = project.memberships.first().user
    filled |= {"invitation": Invitation.issue(project, "viewer", "a@example.org", person)[0].pk}
    filled |= {"link": ShareLink.issue(project, None, person)[0].pk}
    filled |= {"member": project.memberships.get(user=person).pk}
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


GET_ONLY = "nobody"
SENT_BY = {
    GET_ONLY: """
        project site-audit schedule-csv schedule-xlsx units catalogue catalogue-item
        catalogue-drawing unit-start-drawing unit-compare unit unit-elevation unit-document
        unit-audit unit-thumbnail unit-sizes finishes swatch finish-preview finish finish-file
        pictures gallery sheet picture picture-image picture-look picture-layers picture-mask
        picture-seen picture-lines handover handover-list handover-file members bin links
    """,
    "viewer": """
        here site-measure unit-measure site-view unit-view handover-start handover-cancel member-leave
        site-edit unit-edit finish-edit
    """,
    "editor": """
        project-lengths site-underlay fit schedule-in site-move unit-new unit-start catalogue-take
        unit-finish-everywhere unit-undo-everywhere unit-take-in unit-duplicate unit-mend unit-publish unit-update
        unit-path unit-history
        unit-hardware unit-hardware-publish catalogue-out catalogue-back
        unit-underlay unit-move finish-take-in finish-copy finish-move finish-image finish-replace
        picture-start picture-camera picture-region sheet-new sheet-cancel picture-keep-look picture-go-on picture-first
        picture-cancel bin-put bin-back link-make link-withdraw
    """,
    "owner": """
        member-invite member-role member-remove member-withdraw bin-gone project-bin
    """,
}
"""Who may send something to each address of a project; an address that is in none of these rows fails."""
WHO = ["anonymous", "stranger", "viewer", "editor", "owner"]


@pytest.mark.parametrize("who", WHO)
def test_everybody_may_what_their_role_says(client, django_user_model, project, who):
    """Every address of a project, asked and sent to, by everybody."""
    rows = {name: least for least, names in SENT_BY.items() for name in names.split()}
    person = django_user_model.objects.create_user(who)
    if who in Role.values:
        project.memberships.create(user=person, role=who)
    addresses = list(of_project(project))
    for name, address in addresses:
        if who != "anonymous":
            client.force_login(person)
        shown = client.get(address).status_code
        may_send = rows[name] != GET_ONLY and who in WHO[2:] and WHO.index(who) >= WHO.index(rows[name])
        if who == "anonymous":
            assert shown == client.post(address).status_code == 302, name
        elif who == "stranger":
            assert shown in (404, 405), name
            assert client.post(address).status_code in (404, 405), name
        else:
            assert shown not in (401, 403), name
            assert shown < 500, name
            if not may_send:
                sent = client.post(address, {"keep": "1"} if name in SHOWN_ONLY else {}).status_code
                assert sent in ((403, 405) if who == "viewer" or rows[name] != GET_ONLY else (405,)), (name, sent)
    assert {name for name, _ in addresses} == set(rows)


@pytest.mark.parametrize("who", ["viewer", "editor", "owner"])
def test_what_a_role_may_send_is_not_forbidden(client, django_user_model, project, who):
    """In an order in which what leaves or removes comes last."""
    rows = {name: least for least, names in SENT_BY.items() for name in names.split()}
    person = django_user_model.objects.create_user(who)
    project.memberships.create(user=person, role=who)
    client.force_login(person)
    last = ("member-role", "member-remove", "member-leave", "project-bin")
    addresses = sorted(of_project(project), key=lambda one: last.index(one[0]) if one[0] in last else -1)
    for name, address in addresses:
        if rows[name] != GET_ONLY and WHO.index(who) >= WHO.index(rows[name]):
            assert client.post(address, {"what": "unit:stair-window"}).status_code not in (401, 403, 405), name


def test_a_viewer_changes_nothing_and_is_told_why(client, stranger, project):
    project.memberships.create(user=stranger, role="viewer")
    client.force_login(stranger)
    before = Revision.objects.count()
    address = reverse("unit-edit", args=[project.pk, "stair-window"])
    typed = {"entry": "width", "value": "812", "base": project.units.get(key="stair-window").current_id}
    shown = client.post(address, typed | {"keep": "0"})
    assert shown.status_code == 200
    assert b"812" in shown.content
    kept = client.post(address, typed | {"keep": "1"}, headers={"HX-Request": "true"})
    assert kept.status_code == 403
    assert b"Ask one of its owners" in kept.content
    assert kept["HX-Retarget"] == "#message"
    assert Revision.objects.count() == before


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
