"""The second factor, where one is signed in, being idle."""

import re
import time

import pytest
from django.contrib.sessions.models import Session
from django.test import Client
from django.urls import reverse
from django_otp.oath import TOTP
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from ashfell.studio.people.models import Place
from ashfell.studio.people.places import SEEN

pytestmark = pytest.mark.django_db

NAME, PASSWORD = "wren", "low-tide-at-noon"


@pytest.fixture
def wren(django_user_model):
    return django_user_model.objects.create_user(NAME, password=PASSWORD)


def signed_in_client():
    client = Client()
    assert client.post(reverse("sign-in"), {"username": NAME, "password": PASSWORD}).status_code == 302
    return client


def code_of(device, steps=0):
    """The code of a later time step: one that was used is not taken again."""
    made = TOTP(device.bin_key, device.step, device.t0, device.digits, device.drift)
    made.time = time.time() + steps * device.step
    return f"{made.token():06d}"


@pytest.fixture
def turned_on(wren):
    """A client that has turned it on, and the codes that were written down."""
    client = signed_in_client()
    page = client.get(reverse("second-settings")).content.decode()
    device = TOTPDevice.objects.get(user=wren)
    assert "<svg" in page
    assert re.search(r"<code>([A-Z2-7]{4} ?)+</code>", page)
    assert client.post(reverse("second-settings"), {"code": "000000"}).status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    written = client.post(reverse("second-settings"), {"code": code_of(device)}).content.decode()
    return client, re.findall(r"<code>([0-9a-f]{8})</code>", written)


def test_after_the_password_a_code_is_asked_for_and_nothing_is_shown_before(turned_on, project, wren):
    project.memberships.create(user=wren, role="viewer")
    client = signed_in_client()
    page = reverse("project", args=[project.pk])
    asked = client.get(page)
    assert asked.url.startswith(reverse("second"))
    assert client.post(reverse("second"), {"code": "12345", "next": page}).status_code == 422
    TOTPDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    right = code_of(TOTPDevice.objects.get(user=wren), 1)
    assert client.post(reverse("second"), {"code": right, "next": page}).url == page
    assert client.get(page).status_code == 200
    again = signed_in_client()
    assert again.post(reverse("second"), {"code": right, "next": page}).status_code == 422  # it was used


def test_a_wrong_code_makes_one_wait(turned_on):
    client = signed_in_client()
    for _ in range(3):
        page = client.post(reverse("second"), {"code": "111111"})
    assert "wait a little" in page.content.decode()


def test_a_code_that_was_written_down_lets_in_once(turned_on):
    _, codes = turned_on
    assert len(codes) == 8
    client = signed_in_client()
    assert client.post(reverse("second"), {"code": codes[0], "next": "https://elsewhere.example/"}).url == "/"
    assert signed_in_client().post(reverse("second"), {"code": codes[0]}).status_code == 422


def test_it_is_turned_off_with_a_code(turned_on, wren):
    client, codes = turned_on
    assert client.post(reverse("second-settings"), {"code": "no"}).status_code == 422
    StaticDevice.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)
    assert client.post(reverse("second-settings"), {"code": codes[1]}).url == reverse("account")
    assert not TOTPDevice.objects.filter(user=wren).exists()
    assert signed_in_client().get(reverse("account")).status_code == 200


def test_turning_it_on_ends_other_sessions(wren):
    other = signed_in_client()
    assert other.get(reverse("account")).status_code == 200
    client = signed_in_client()
    client.get(reverse("second-settings"))
    client.post(reverse("second-settings"), {"code": code_of(TOTPDevice.objects.get(user=wren))})
    assert other.get(reverse("account")).status_code == 302
    assert client.get(reverse("account")).status_code == 200


def test_places_are_listed_and_ended_one_by_one(wren):
    first, second, third = (signed_in_client() for _ in range(3))
    for client in (second, third, first):
        client.get(reverse("account"))
    page = first.get(reverse("account")).content.decode()
    names = re.findall(r'name="place" value="([0-9a-f]{20})"', page)
    assert len(names) == 2
    assert not any(session.pk in page for session in Session.objects.all())
    ended = Place.objects.get(session_id=second.session.session_key).name
    first.post(reverse("sign-out-elsewhere"), {"place": ended})
    assert [client.get(reverse("account")).status_code for client in (first, second, third)] == [200, 302, 200]
    first.post(reverse("sign-out-elsewhere"))
    assert third.get(reverse("account")).status_code == 302
    assert Place.objects.count() == 1


def test_nobody_ends_anothers_session(wren, signed_in):
    client = signed_in_client()
    client.get(reverse("account"))
    signed_in.post(reverse("sign-out-elsewhere"), {"place": Place.objects.get(person=wren).name})
    assert client.get(reverse("account")).status_code == 200


def test_who_does_nothing_for_long_is_signed_out(wren, settings):
    client = signed_in_client()
    client.get(reverse("account"))
    session = client.session
    session[SEEN] = time.time() - settings.IDLE.total_seconds() - 1
    session.save()
    answer = client.get(reverse("account"))
    assert answer.url == f"{reverse('sign-in')}?next=%2Faccount%2F"
    assert "signed out after a while" in client.get(answer.url).content.decode()
    assert client.get(reverse("account")).status_code == 302


def test_asking_who_is_here_is_not_being_at_work(signed_in, project):
    signed_in.get(reverse("account"))
    session = signed_in.session
    session[SEEN] = time.time() - 3600
    session.save()
    signed_in.post(reverse("here", args=[project.pk]), {"what": "site:site"})
    assert time.time() - signed_in.session[SEEN] > 3000
    signed_in.get(reverse("account"))
    assert time.time() - signed_in.session[SEEN] < 60
