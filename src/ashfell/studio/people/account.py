"""One's own account: password, sessions."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.forms import PasswordChangeForm
from django.contrib.auth.views import LoginView
from django.contrib.sessions.models import Session
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods, require_POST
from django_otp import user_has_device

from ashfell.studio.answers import person_of
from ashfell.studio.keeping import reserve
from ashfell.studio.people.models import Place
from ashfell.studio.queued import in_words, stored_by


class SignIn(LoginView):
    """The page to sign in, also where the disk is full: room was kept for that."""

    template_name = "sign_in.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Sign in; once more with the room that was kept where there was none."""
        try:
            return super().post(request, *args, **kwargs)
        except OperationalError as error:
            if "full" not in str(error) or not reserve.give_up():
                raise
        return super().post(request, *args, **kwargs)


@sensitive_post_parameters()
@require_http_methods(["GET", "POST"])
def account(request: HttpRequest) -> HttpResponse:
    """One's account; a POST changes the password, and signs one out everywhere else."""
    person = person_of(request)
    form = PasswordChangeForm(person, request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.save()
        update_session_auth_hash(request, person)
        messages.success(request, "Your password is changed. Everywhere else you are signed out.")
        return redirect("account")
    status = 422 if form.errors else 200
    shown = {"form": form, "second": user_has_device(person), "here": request.session.session_key}
    shown |= {"stored": in_words(stored_by(person)), "most": in_words(settings.STORED)}
    shown["places"] = Place.objects.filter(person=person, session__expire_date__gt=timezone.now())
    return render(request, "people/account.html", shown, status=status)


@require_POST
def sign_out_elsewhere(request: HttpRequest) -> HttpResponse:
    """End all other sessions of the person, or the one that is named."""
    count = end_others(request, request.POST.get("place", ""))
    messages.success(request, f"Signed out of {count} other place{'' if count == 1 else 's'}.")
    return redirect("account")


def end_others(request: HttpRequest, only: str = "") -> int:
    """End all other sessions of the person, or one of them; how many there were."""
    others = Place.objects.filter(person=person_of(request)).exclude(pk=request.session.session_key)
    keys = [place.pk for place in others if only in ("", place.name)]
    Session.objects.filter(pk__in=keys).delete()
    return len(keys)
