"""Members, invitations, accounts: who may what, links that end, the last owner, too many tries."""

import re
from datetime import timedelta

import pytest
from django.contrib.sessions.models import Session
from django.core import mail
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from ashfell.services.kept.models import Membership
from ashfell.studio.people.models import Invitation

pytestmark = pytest.mark.django_db

CHOSEN = {"password1": "low-tide-at-noon", "password2": "low-tide-at-noon"}


@pytest.fixture
def invite(signed_in, project):
    """Invites somebody; returns the page that the link shows."""

    def asked(address="finch@example.org", role="editor"):
        page = signed_in.post(reverse("member-invite", args=[project.pk]), {"address": address, "role": role})
        return re.search(r'<code id="invitation">http://testserver(/invited/[^<]+/)</code>', page.content.decode())[1]

    return asked


def roles(project):
    return {one.user.username: one.role for one in project.memberships.all()}


def test_somebody_who_is_signed_in_joins_by_a_link(invite, stranger, project):
    address = invite(role="viewer")
    assert len(mail.outbox) == 1
    assert mail.outbox[0].to == ["finch@example.org"]
    assert address in mail.outbox[0].body
    other = Client()
    other.force_login(stranger)
    assert "robin invites you as viewer" in other.get(address).content.decode()
    assert other.post(address).url == reverse("project", args=[project.pk])
    assert roles(project) == {"robin": "owner", "rook": "viewer"}
    assert other.post(address).status_code == 404


def test_somebody_new_makes_an_account(invite, project, django_user_model):
    address, other = invite(), Client()
    page = other.get(address).content.decode()
    assert "Heron Reach" in page
    weak = other.post(address, {"username": "finch", "password1": "short", "password2": "short"})
    assert b"too short" in weak.content
    assert not django_user_model.objects.filter(username="finch").exists()
    assert other.post(address, {"username": "finch"} | CHOSEN).url == reverse("project", args=[project.pk])
    assert other.get(reverse("project", args=[project.pk])).status_code == 200
    assert roles(project)["finch"] == "editor"
    assert django_user_model.objects.get(username="finch").email == "finch@example.org"


def test_an_invitation_ends(invite, project, signed_in):
    first = invite()
    second = invite()
    assert Client().get(first).status_code == 404
    Invitation.objects.update(until=timezone.now() - timedelta(seconds=1))
    assert b"No longer open" in Client().get(second).content
    third = invite()
    number = Invitation.objects.get().pk
    signed_in.post(reverse("member-withdraw", args=[project.pk, number]))
    assert Client().get(third).status_code == 404
    assert Client().post("/invited/nonsense/", {"username": "x"} | CHOSEN).status_code == 404


def test_only_its_hash_is_kept(invite):
    text = invite().split("/")[2]
    assert text not in str(Invitation.objects.values())


@pytest.mark.parametrize(("address", "role"), [("no address", "editor"), ("a@example.org", "king"), ("", "viewer")])
def test_wrong_invitations_are_told(signed_in, project, address, role):
    asked = {"address": address, "role": role}
    page = signed_in.post(reverse("member-invite", args=[project.pk]), asked, follow=True)
    assert b"notice" in page.content
    assert not Invitation.objects.exists()
    assert mail.outbox == []


def test_a_project_keeps_an_owner(signed_in, project, stranger, person):
    mine = project.memberships.get(user=person)
    for name, typed in (("member-role", {"role": "viewer"}), ("member-remove", {})):
        page = signed_in.post(reverse(name, args=[project.pk, mine.pk]), typed, follow=True)
        assert b"Make somebody else one first" in page.content
    assert b"only owner" in signed_in.post(reverse("member-leave", args=[project.pk]), follow=True).content
    other = Membership.objects.create(project=project, user=stranger, role="editor")
    signed_in.post(reverse("member-role", args=[project.pk, other.pk]), {"role": "owner"})
    assert signed_in.post(reverse("member-leave", args=[project.pk])).url == reverse("projects")
    assert roles(project) == {"rook": "owner"}
    assert signed_in.get(reverse("project", args=[project.pk])).status_code == 404


def test_who_is_removed_sees_it_no_more(signed_in, project, stranger):
    other = Membership.objects.create(project=project, user=stranger, role="editor")
    client = Client()
    client.force_login(stranger)
    assert client.get(reverse("project", args=[project.pk])).status_code == 200
    signed_in.post(reverse("member-remove", args=[project.pk, other.pk]))
    assert client.get(reverse("project", args=[project.pk])).status_code == 404


def test_members_of_another_project_are_not_touched(signed_in, project, stranger):
    from ashfell.services.kept.whole import take_in

    other = take_in({"name": "Other"}, stranger)
    theirs = other.memberships.get()
    for name in ("member-role", "member-remove"):
        for owner in (other, project):
            assert signed_in.post(reverse(name, args=[owner.pk, theirs.pk]), {"role": "viewer"}).status_code == 404
    assert roles(other) == {"rook": "owner"}


# --- accounts


def test_a_password_is_changed_and_other_places_are_signed_out(signed_in, person):
    elsewhere = Client()
    elsewhere.force_login(person)
    wrong = {"old_password": "no", "new_password1": "low-tide-at-noon", "new_password2": "low-tide-at-noon"}
    assert signed_in.post(reverse("account"), wrong).status_code == 422
    assert signed_in.post(reverse("account"), wrong | {"old_password": "still-water-44"}).url == reverse("account")
    assert signed_in.get(reverse("account")).status_code == 200
    assert elsewhere.get(reverse("projects")).status_code == 302
    assert person.__class__.objects.get(pk=person.pk).check_password("low-tide-at-noon")


def test_one_signs_out_everywhere_else(signed_in, person, stranger):
    elsewhere, other = Client(), Client()
    elsewhere.force_login(person)
    other.force_login(stranger)
    assert signed_in.get(reverse("account")).content.decode().count('name="place"') == 1
    signed_in.post(reverse("sign-out-elsewhere"))
    assert elsewhere.get(reverse("projects")).status_code == 302
    assert signed_in.get(reverse("projects")).status_code == 200
    assert other.get(reverse("projects")).status_code == 200
    assert Session.objects.count() == 2


def test_a_forgotten_password_is_chosen_anew_once(client, person):
    person.email = "robin@example.org"
    person.save()
    assert client.post(reverse("reset"), {"email": "nobody@example.org"}).url == "/reset/sent/"
    assert mail.outbox == []
    client.post(reverse("reset"), {"email": "robin@example.org"})
    address = re.search(r"http://testserver(/reset/\S+)", mail.outbox[0].body)[1]
    form = client.get(address).url
    chosen = {"new_password1": "low-tide-at-noon", "new_password2": "low-tide-at-noon"}
    assert client.post(form, chosen).url == "/sign-in/"
    assert client.post(reverse("sign-in"), {"username": "robin", "password": "low-tide-at-noon"}).status_code == 302
    assert b"No longer open" in Client().get(address, follow=True).content


def test_too_many_tries_are_stopped_for_that_name_only(client, person, stranger):
    for _ in range(8):
        answer = client.post(reverse("sign-in"), {"username": "robin", "password": "guess"})
    assert answer.status_code == 429
    assert b"Wait a quarter of an hour" in answer.content
    right = client.post(reverse("sign-in"), {"username": "robin", "password": "still-water-44"})
    assert right.status_code == 429
    other = client.post(reverse("sign-in"), {"username": "rook", "password": "still-water-45"})
    assert other.status_code == 302
