"""The second factor: a code that an application makes from a secret and the time (RFC 6238), or one of those written
down for the day that is lost."""

from __future__ import annotations

import secrets

import segno
from django.contrib import messages
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.utils.safestring import mark_safe
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods
from django_otp import devices_for_user, login, match_token, user_has_device
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from ashfell.studio.answers import person_of
from ashfell.studio.people.account import end_others
from ashfell.studio.people.places import OWED

WRITTEN_DOWN = 8
"""How many codes there are for the day that the application is lost."""
WRONG = "This is not the code of now. Codes change every 30 s: type the next one."


@sensitive_post_parameters("code")
@require_http_methods(["GET", "POST"])
def second(request: HttpRequest) -> HttpResponse:
    """Asked for after the password."""
    person, onwards = person_of(request), request.POST.get("next") or request.GET.get("next") or "/"
    if not url_has_allowed_host_and_scheme(onwards, {request.get_host()}, request.is_secure()):
        onwards = "/"
    told = ""
    if request.method == "POST":
        if _is_right(request, person):
            request.session[OWED] = False
            return redirect(onwards)
        told = _why_not(person)
    elif not request.session.get(OWED):
        return redirect(onwards)
    return render(request, "people/second.html", {"next": onwards, "told": told}, status=422 if told else 200)


def _is_right(request: HttpRequest, person: User) -> bool:
    device = match_token(person, request.POST.get("code", "").replace(" ", ""))
    if device is not None:
        login(request, device)
    return device is not None


def _why_not(person: User) -> str:
    """After wrong codes the next is taken only after a while, which doubles each time."""
    waits = [1 for device in devices_for_user(person) if not device.verify_is_allowed()[0]]
    return f"{WRONG} After a wrong one, wait a little." if waits else WRONG


@sensitive_post_parameters("code")
@require_http_methods(["GET", "POST"])
def settings(request: HttpRequest) -> HttpResponse:
    """Turned on with a first code, and off with another."""
    person = person_of(request)
    if user_has_device(person):
        if request.method == "GET":
            return render(request, "people/second_on.html")
        if not _is_right(request, person):
            return render(request, "people/second_on.html", {"told": _why_not(person)}, status=422)
        for device in devices_for_user(person, confirmed=None):
            device.delete()
        messages.success(request, "No second factor is asked for any more.")
        return redirect("account")
    device, _ = TOTPDevice.objects.get_or_create(user=person, confirmed=False, defaults={"name": "application"})
    if request.method == "GET":
        return _offered(request, device, "")
    if not device.verify_token(request.POST.get("code", "").replace(" ", "")):
        return _offered(request, device, WRONG)
    device.confirmed = True
    device.save()
    login(request, device)
    end_others(request)
    codes = [secrets.token_hex(4) for _ in range(WRITTEN_DOWN)]
    kept = StaticDevice.objects.create(user=person, name="written down")
    for code in codes:
        kept.token_set.create(token=code)
    return render(request, "people/second_codes.html", {"codes": codes})


def _offered(request: HttpRequest, device: TOTPDevice, told: str) -> HttpResponse:
    """The secret as a square to be photographed, and to be typed."""
    drawn = segno.make(device.config_url, micro=False).svg_inline(scale=4, dark="#2f2c28", light="#f7f5f0", border=3)
    shown = {"square": mark_safe(drawn), "secret": _in_fours(device), "told": told}
    return render(request, "people/second_new.html", shown, status=422 if told else 200)


def _in_fours(device: TOTPDevice) -> str:
    secret = device.config_url.partition("secret=")[2].partition("&")[0]
    return " ".join(secret[k : k + 4] for k in range(0, len(secret), 4))
