"""Who else is at a document, and what is in force of it."""

from datetime import timedelta

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from ashfell.services.kept.models import Role
from ashfell.studio.people.models import Presence

pytestmark = pytest.mark.django_db


@pytest.fixture
def ask(project, stranger, signed_in):
    project.memberships.create(user=stranger, role=Role.VIEWER)
    other = Client()
    other.force_login(stranger)

    def asked(what="site:site", mine=True):
        return (signed_in if mine else other).post(reverse("here", args=[project.pk]), {"what": what})

    return asked


def test_others_are_told_where_they_are(ask, project):
    assert ask().json() == {"others": [], "current": project.site.current_id, "by": "robin"}
    assert ask(mine=False).json()["others"] == [{"name": "robin", "here": True}]
    ask("unit:stair-window", mine=False)
    assert ask().json()["others"] == [{"name": "rook", "here": False}]
    assert ask("unit:stair-window").json()["others"] == [{"name": "rook", "here": True}]
    assert Presence.objects.count() == 2


def test_who_has_not_asked_for_long_is_gone(ask):
    ask(mine=False)
    Presence.objects.update(seen=timezone.now() - timedelta(seconds=20))
    assert ask().json()["others"] == []


@pytest.mark.parametrize("what", ["", "unit:none", "x" * 999, "site:\0"])
def test_where_nothing_is_nobody_is(ask, what):
    assert ask(what).status_code == 404


def test_another_projects_people_are_not_told(ask, project, stranger):
    from ashfell.services.kept.whole import take_in

    other = take_in({"name": "Other"}, stranger)
    assert ask().status_code == 200
    project.memberships.filter(user=stranger).delete()
    assert ask(mine=False).status_code == 404
    client = Client()
    client.force_login(stranger)
    told = client.post(reverse("here", args=[other.pk]), {"what": "site:site"}).json()
    assert told["others"] == []
