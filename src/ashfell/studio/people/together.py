"""Who else is at a document, and which revision of it is in force: a page asks every few seconds."""

from __future__ import annotations

from datetime import timedelta

from django.http import HttpRequest, JsonResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from django.views.decorators.http import require_POST

from ashfell.services.kept.models import Record
from ashfell.services.kept.records import project_of
from ashfell.studio.answers import person_of
from ashfell.studio.people.models import Presence

HERE, FRESH = timedelta(seconds=20), timedelta(seconds=10)
"""Who was written down so long ago at most is still here; and how long ago that need not be done again."""


@require_POST
def here(request: HttpRequest, project: int) -> JsonResponse:
    """Say that one is at a document; the answer says who else is, what is in force, and who made that."""
    owner, person = project_of(request.user, project), person_of(request)
    kind, _, key = request.POST.get("what", "").partition(":")
    record = get_object_or_404(owner.records.select_related("current__author"), kind=kind[:8], key=key[:60])
    what = f"{record.kind}:{record.key}"
    now = timezone.now()
    if not Presence.objects.filter(person=person, project=owner, what=what, seen__gt=now - FRESH).exists():
        Presence.objects.update_or_create(person=person, project=owner, defaults={"what": what, "seen": now})
    others = Presence.objects.filter(project=owner, seen__gt=timezone.now() - HERE).exclude(person=person)
    told = [
        {"name": one.person.get_username(), "here": one.what == what}
        for one in others.select_related("person").order_by("person__username")
    ]
    return JsonResponse({"others": told, "current": record.current_id, "by": _author(record)})


def _author(record: Record) -> str:
    author = record.current.author if record.current else None
    return author.get_username() if author else "somebody"
