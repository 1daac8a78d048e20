"""The page of a person's tokens: made, told once, withdrawn."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from ashfell.studio.answers import person_of
from ashfell.studio.api.models import Token

MOST = 50
"""How many tokens a person may have."""


@require_GET
def tokens(request: HttpRequest) -> HttpResponse:
    """The tokens of the person."""
    found = Token.objects.filter(person=person_of(request))
    return render(request, "api/tokens.html", {"tokens": found, "scopes": Token.SCOPES})


@require_POST
def make(request: HttpRequest) -> HttpResponse:
    """Make a token; its text is shown this once."""
    person, name = person_of(request), request.POST.get("name", "").replace("\0", "").strip()[:80]
    scope = request.POST.get("scope", "read")
    found = Token.objects.filter(person=person)
    if not name:
        messages.error(request, "A token needs a name, so that you know later what it is for.")
        return redirect("tokens")
    if found.count() >= MOST:
        messages.error(request, f"You have {MOST} tokens. Withdraw one first.")
        return redirect("tokens")
    _, text = Token.issue(person, name, scope if scope in Token.SCOPES else "read")
    shown = {"tokens": found.all(), "scopes": Token.SCOPES, "text": text}
    return render(request, "api/tokens.html", shown)


@require_POST
def withdraw(request: HttpRequest, token: int) -> HttpResponse:
    """A token that lets nobody in any more."""
    get_object_or_404(Token, pk=token, person=person_of(request)).delete()
    return redirect("tokens")
