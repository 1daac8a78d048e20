"""The bin of a project, projects in the bin, and whether all is well."""

from __future__ import annotations

from django.conf import settings
from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.crypto import constant_time_compare
from django.views.decorators.http import require_GET, require_POST
from django_tasks_db.models import DBTaskResult
from prometheus_client import CONTENT_TYPE_LATEST

from ashfell.core.base.refusal import Refusal
from ashfell.services.kept.models import Record, Role
from ashfell.services.kept.records import binned_projects_of, project_of, record_of
from ashfell.studio.answers import person_of
from ashfell.studio.keeping import counters, shipped, waste
from ashfell.studio.keeping.models import Event
from ashfell.studio.pictures.models import Picture

SHOWN = 200
"""How much of a bin is listed."""
LISTS = {"unit": "units", "finish": "finishes", "picture": "pictures"}


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    """What lies in the bin of a project."""
    owner = project_of(request.user, project)
    owns = getattr(request, "role", "") == Role.OWNER
    found = waste.in_bin(owner)
    shown = {"project": owner, "nav": "bin", "found": found[:SHOWN], "more": len(found[SHOWN:])}
    shown |= {"days": waste.DAYS, "owns": owns}
    return render(request, "keeping/bin.html", shown)


@require_POST
def put(request: HttpRequest, project: int) -> HttpResponse:
    """Put a unit, a finish or a picture into the bin."""
    owner, what = project_of(request.user, project), request.POST.get("what", "")
    kind, _, key = what.partition(":")
    if kind not in LISTS:
        raise Http404
    found: Record | Picture
    if kind == "picture":
        found = get_object_or_404(owner.pictures, pk=int(key) if key.isdecimal() and len(key) < 15 else 0)
        name = f"Picture {found.pk}"
    else:
        found = record_of(request.user, project, kind, key)
        name = found.name
    address = reverse(LISTS[kind], args=[project])
    try:
        waste.put_away(found)
        Event.tell(project, request.user, f"put “{name}” into the bin")
        messages.success(request, f"“{name}” is in the bin.")
    except Refusal as refusal:
        messages.error(request, str(refusal))
    if "HX-Request" in request.headers:
        return HttpResponse(status=204, headers={"HX-Redirect": address})
    return redirect(address)


@require_POST
def back(request: HttpRequest, project: int) -> HttpResponse:
    """Put something back where it was."""
    found = waste.found_in_bin(project_of(request.user, project), request.POST.get("what", ""))
    if found is None:
        raise Http404
    found.put_back()
    Event.tell(project, request.user, f"put {request.POST.get('what', '')} back")
    return redirect("bin", project)


@require_POST
def gone(request: HttpRequest, project: int) -> HttpResponse:
    """Delete something that lies in the bin for good, or all of it."""
    owner, what = project_of(request.user, project), request.POST.get("what", "")
    keys = [key for key, _, _ in waste.in_bin(owner)] if what == "all" else [what]
    for key in keys:
        found = waste.found_in_bin(owner, key)
        if found is None:
            raise Http404
        waste.remove(found)
        Event.tell(project, request.user, f"deleted {key} for good")
    return redirect("bin", project)


@require_POST
def put_project(request: HttpRequest, project: int) -> HttpResponse:
    """Put a whole project into the bin."""
    owner = project_of(request.user, project)
    owner.put_away()
    Event.tell(project, request.user, "put the project into the bin")
    messages.success(request, f"“{owner.name}” is in the bin, for {waste.DAYS} days.")
    return redirect("projects")


@require_POST
def project_back(request: HttpRequest, binned: int) -> HttpResponse:
    """Put a project back."""
    found = get_object_or_404(binned_projects_of(person_of(request)), pk=binned)
    found.put_back()
    return redirect("project", found.pk)


@require_POST
def project_gone(request: HttpRequest, binned: int) -> HttpResponse:
    """Delete a project for good, by one of its owners who types its name."""
    found = get_object_or_404(binned_projects_of(person_of(request)), pk=binned)
    typed = request.POST.get("name", "").strip()
    if typed != found.name:
        messages.error(request, f"“{typed}” is not its name, so nothing is deleted. Type “{found.name}”.")
        return redirect("projects")
    waste.remove(found)
    messages.success(request, f"“{found.name}” is deleted.")
    return redirect("projects")


@require_GET
def licences(request: HttpRequest) -> HttpResponse:
    """What the application works with, and under which licence."""
    return render(request, "keeping/licences.html", {"shipped": shipped.shipped()})


@require_GET
def bill(request: HttpRequest) -> JsonResponse:
    """The same as a bill of materials."""
    answer = JsonResponse(shipped.bill(), json_dumps_params={"indent": 1})
    answer["Content-Disposition"] = 'attachment; filename="ashfell.cdx.json"'
    return answer


@require_GET
def texts(request: HttpRequest) -> HttpResponse:
    """The licences of the files that ship."""
    content = (settings.BASE / "static/vendor/licences.txt").read_text()
    return HttpResponse(content, content_type="text/plain; charset=utf-8")


@login_not_required
@require_GET
def counted(request: HttpRequest) -> HttpResponse:
    """Counters, for who runs the server: signed in, or with the key that the environment holds."""
    runs = request.user.is_active and getattr(request.user, "is_superuser", False)
    given = request.headers.get("Authorization", "").removeprefix("Bearer ")
    if not runs and not (settings.COUNTERS_KEY and constant_time_compare(given, settings.COUNTERS_KEY)):
        raise Http404
    return HttpResponse(counters.told(DBTaskResult.objects.ready().count()), content_type=CONTENT_TYPE_LATEST)


@login_not_required
@require_GET
def health(request: HttpRequest) -> JsonResponse:
    """Whether the database answers, and how much waits for a worker."""
    try:
        waiting = DBTaskResult.objects.ready().count()
    except DatabaseError:
        return JsonResponse({"database": "does not answer"}, status=503)
    return JsonResponse({"database": "answers", "waiting": waiting})
