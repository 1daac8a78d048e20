"""One's own account: password, sessions."""

from __future__ import annotations

from django.contrib import messages
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.forms import PasswordChangeForm
from django.contrib.sessions.models import Session
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods, require_POST

from ashfell.studio.answers import person_of


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
    others = sum(1 for _ in _others(request))
    return render(request, "people/account.html", {"form": form, "others": others}, status=status)


@require_POST
def sign_out_elsewhere(request: HttpRequest) -> HttpResponse:
    """End all other sessions of the person."""
    found = _others(request)
    for session in found:
        session.delete()
    messages.success(request, f"Signed out of {len(found)} other place{'' if len(found) == 1 else 's'}.")
    return redirect("account")


def _others(request: HttpRequest) -> list[Session]:
    person = str(person_of(request).pk)
    holding = Session.objects.filter(expire_date__gt=timezone.now()).exclude(pk=request.session.session_key)
    return [one for one in holding if one.get_decoded().get("_auth_user_id") == person]
