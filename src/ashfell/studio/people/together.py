"""Who else is at a document, and which revision of it is in force: a page asks every few seconds."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.contrib.auth.models import User
from django.db.models import F
from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from django.views.decorators.http import require_POST

from ashfell.services.kept.models import Record
from ashfell.services.kept.prepared import Prepared
from ashfell.services.kept.records import record_of
from ashfell.studio.answers import person_of
from ashfell.studio.people.models import Presence

HERE, FRESH = timedelta(seconds=20), timedelta(seconds=10)
"""Who was written down so long ago at most is still here; and how long ago that need not be done again."""
PRESENT: Prepared[Any] = Prepared(
    lambda project: Presence.objects.filter(project=project).annotate(name=F("person__username")), "project"
)
"""Who was ever seen in a project, each with their name."""


@require_POST
def here(request: HttpRequest, project: int) -> JsonResponse:
    """Say that one is at a document; the answer says who else is, what is in force, and who made that."""
    person, now = person_of(request), timezone.now()
    kind, _, key = request.POST.get("what", "").partition(":")
    record = record_of(person, project, kind[:8], key[:60])
    what = f"{record.kind}:{record.key}"
    near = [one for one in PRESENT(project=project) if one.seen > now - HERE]
    own = [one for one in near if one.person_id == person.pk]
    others = [one for one in near if one.person_id != person.pk]
    if not any(one.what == what and one.seen > now - FRESH for one in own):
        Presence.objects.update_or_create(person=person, project_id=project, defaults={"what": what, "seen": now})
    told = sorted((one.name, one.what == what) for one in others)
    answer = {"current": record.current_id, "by": _author(record, person)}
    return JsonResponse(answer | {"others": [{"name": name, "here": same} for name, same in told]})


def _author(record: Record, person: User) -> str:
    if record.current and record.current.author_id == person.pk:
        return person.get_username()
    author = record.current.author if record.current else None
    return author.get_username() if author else "somebody"
