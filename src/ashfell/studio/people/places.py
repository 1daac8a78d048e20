"""Where people are signed in, for how long without a request, and whether a second factor is still owed."""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import logout
from django.contrib.auth.signals import user_logged_in
from django.db import DatabaseError
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from django_otp import user_has_device

from ashfell.studio.people.models import Place

OFTEN = 300.0
"""How often it is written down that somebody is still there, seconds."""
SEEN, WRITTEN, OWED = "seen", "written", "second"


class Places:
    """Middleware: an idle person is signed out, and who owes a second factor is asked for it."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.user.is_authenticated:
            now = time.time()
            if now - request.session.get(SEEN, now) > settings.IDLE.total_seconds():
                logout(request)
                messages.info(request, "You were signed out after a while without a change.")
                return redirect(f"{reverse('sign-in')}?{urlencode({'next': request.get_full_path()})}")
            # A page that only asks who else is here is not somebody at work.
            if not request.path.endswith("/here/"):
                _write_down(request, request.user, now)
            if request.session.get(OWED) and request.path not in (reverse("second"), reverse("sign-out")):
                return redirect(f"{reverse('second')}?{urlencode({'next': request.get_full_path()})}")
        return self.get_response(request)


def _write_down(request: HttpRequest, person: Any, now: float) -> None:
    """Once in a while, and when the session has another key."""
    session = request.session
    if now - session.get(SEEN, 0.0) < OFTEN and session.get(WRITTEN) == session.session_key:
        return
    with suppress(DatabaseError):  # a full disk keeps nobody from reading
        if session.session_key is None:
            session.save()
        session[SEEN], session[WRITTEN] = now, session.session_key
        session.save()
        address = request.META.get("REMOTE_ADDR", "")[:45]
        told = {"person": person, "address": address, "seen": timezone.now()}
        Place.objects.update_or_create(session_id=session.session_key, defaults=told)


@receiver(user_logged_in)
def _signed_in(request: HttpRequest | None, user: Any, **_: Any) -> None:
    """Who has a second factor owes it when they sign in."""
    if request is not None:
        request.session[OWED] = user_has_device(user)
        _write_down(request, user, time.time())
