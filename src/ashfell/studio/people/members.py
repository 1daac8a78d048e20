"""The page of a project's members: who they are and what they may do; invited, removed, gone."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.core.mail import send_mail
from django.core.validators import validate_email
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.services.kept.models import Membership, Project, Role
from ashfell.services.kept.records import project_of
from ashfell.studio.answers import person_of
from ashfell.studio.keeping.models import Event
from ashfell.studio.people.models import DAYS, Invitation

SHOWN = 40
"""How much of what happened is shown."""
MOST = 100
"""How many invitations of a project are open at once."""
ROLES = {
    Role.OWNER: "changes it, says who else may, deletes for good",
    Role.EDITOR: "changes it",
    Role.VIEWER: "looks at it, hands over files",
}


@require_GET
def members(request: HttpRequest, project: int) -> HttpResponse:
    """Who the members are."""
    return _page(request, project_of(request.user, project))


def _page(request: HttpRequest, owner: Project, link: str = "", address: str = "") -> HttpResponse:
    found = owner.memberships.select_related("user")
    mine = next(one for one in found if one.user_id == person_of(request).pk)
    context = {
        "project": owner,
        "nav": "members",
        "members": found,
        "mine": mine,
        "owns": mine.role == Role.OWNER,
        "last": mine.role == Role.OWNER and sum(one.role == Role.OWNER for one in found) == 1,
        "roles": [(role.value, words) for role, words in ROLES.items()],
        "invitations": owner.invitations.filter(until__gt=timezone.now()),
        "days": DAYS,
        "events": Event.objects.filter(project=owner).select_related("person")[:SHOWN]
        if mine.role == Role.OWNER
        else (),
        "link": link,
        "address": address,
    }
    return render(request, "people/members.html", context)


@require_POST
def invite(request: HttpRequest, project: int) -> HttpResponse:
    """Invite somebody by mail; the link is also shown, this once."""
    owner, address = project_of(request.user, project), request.POST.get("address", "").strip()[:200]
    role = request.POST.get("role", Role.EDITOR)
    try:
        validate_email(address)
    except ValidationError:
        messages.error(request, f"“{address}” is no address. Type one such as name@example.org.")
        return redirect("members", project)
    if role not in Role.values or owner.invitations.count() >= MOST:
        messages.error(request, f"Choose what they may do; at most {MOST} invitations are open at once.")
        return redirect("members", project)
    _, text = Invitation.issue(owner, role, address, person_of(request))
    Event.tell(owner.pk, request.user, f"invited {address} as {role}")
    link = request.build_absolute_uri(reverse("invited", args=[text]))
    who = person_of(request).get_username()
    holds = f"The link holds for {DAYS} days and for one person."
    words = f"{who} invites you to “{owner.name}” as {role}.\n\n{link}\n\n{holds}"
    send_mail(f"“{owner.name}” in Ashfell", words, settings.DEFAULT_FROM_EMAIL, [address], fail_silently=True)
    return _page(request, owner, link, address)


@require_POST
def withdraw(request: HttpRequest, project: int, invitation: int) -> HttpResponse:
    """An invitation that lets nobody in any more."""
    found = get_object_or_404(Invitation, pk=invitation, project=project_of(request.user, project))
    Event.tell(project, request.user, f"withdrew the invitation of {found.address}")
    found.delete()
    return redirect("members", project)


@require_POST
@transaction.atomic
def change_role(request: HttpRequest, project: int, member: int) -> HttpResponse:
    """Let a member do something else; one owner remains."""
    found, role = _of(request, project, member), request.POST.get("role", "")
    if role not in Role.values:
        messages.error(request, f"“{role}” is no role. Choose {', '.join(Role.values)}.")
    elif role != Role.OWNER and _is_last(found):
        messages.error(request, "A project has an owner. Make somebody else one first.")
    else:
        Membership.objects.filter(pk=found.pk).update(role=role)
        Event.tell(project, request.user, f"made {found.user.get_username()} {role}")
    return redirect("members", project)


@require_POST
@transaction.atomic
def remove(request: HttpRequest, project: int, member: int) -> HttpResponse:
    """Take a member out of the project."""
    found = _of(request, project, member)
    if _is_last(found):
        messages.error(request, "A project has an owner. Make somebody else one first.")
        return redirect("members", project)
    found.delete()
    Event.tell(project, request.user, f"removed {found.user.get_username()}")
    return redirect("projects" if found.user_id == person_of(request).pk else "members", *_own(found, request))


def _own(found: Membership, request: HttpRequest) -> tuple[int, ...]:
    return () if found.user_id == person_of(request).pk else (found.project_id,)


@require_POST
@transaction.atomic
def leave(request: HttpRequest, project: int) -> HttpResponse:
    """Leave a project oneself; its last owner cannot."""
    owner = project_of(request.user, project)
    mine = owner.memberships.get(user=person_of(request))
    if _is_last(mine):
        messages.error(
            request, "You are its only owner. Make somebody else one first, or put the project into the bin."
        )
        return redirect("members", project)
    mine.delete()
    Event.tell(project, request.user, "left")
    messages.success(request, f"You left “{owner.name}”.")
    return redirect("projects")


def _of(request: HttpRequest, project: int, member: int) -> Membership:
    return get_object_or_404(Membership, pk=member, project=project_of(request.user, project))


def _is_last(found: Membership) -> bool:
    """Whether a project has no other owner."""
    others = Membership.objects.filter(project=found.project_id, role=Role.OWNER).exclude(pk=found.pk)
    return found.role == Role.OWNER and not others.exists()


@login_not_required
@require_http_methods(["GET", "POST"])
def invited(request: HttpRequest, text: str) -> HttpResponse:
    """What an invitation is to; a POST accepts it, by somebody who is signed in or makes an account."""
    found = Invitation.of(text)
    if found is None:
        return render(request, "people/invited.html", {"invitation": None}, status=404)
    form: Any = None
    if not request.user.is_authenticated:
        form = UserCreationForm(request.POST or None)
        if request.method == "GET" or not form.is_valid():
            return render(request, "people/invited.html", {"invitation": found, "form": form, "text": text})
    elif request.method == "GET":
        return render(request, "people/invited.html", {"invitation": found, "text": text})
    with transaction.atomic():
        taken, _ = Invitation.objects.filter(pk=found.pk).delete()
        if not taken:  # somebody was faster
            return render(request, "people/invited.html", {"invitation": None}, status=404)
        person = request.user
        if form is not None:
            person = form.save(commit=False)
            person.email = found.address
            person.save()
        assert isinstance(person, User)
        Membership.objects.get_or_create(project=found.project, user=person, defaults={"role": found.role})
        Event.tell(found.project_id, person, f"joined as {found.role}")
    if form is not None:
        login(request, person, backend=settings.AUTHENTICATION_BACKENDS[-1])
    return redirect("project", found.project_id)
