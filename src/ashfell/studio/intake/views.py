"""A file is brought, what was understood of it is shown, and it becomes a project, or walls of one there is."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.contrib.auth.models import User
from django.core.exceptions import PermissionDenied
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.document import Data, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.join import joined
from ashfell.services.kept import records
from ashfell.services.kept.models import Project, Record, Role, Stale
from ashfell.services.kept.records import project_of, record_of, role_in
from ashfell.services.kept.whole import take_in
from ashfell.services.reading.readers import reader_of
from ashfell.studio.answers import person_of
from ashfell.studio.intake.models import Intake
from ashfell.studio.intake.tasks import read_brought

MOST_OPEN = 5
"""How many files of one person are kept while nothing was decided about them."""
HEAD = 64
TOLD = 12
"""How many of the things that were not understood are told at first."""
LENGTHS = {
    "Walls are thick": {"thinnest": "at least", "thickest": "to"},
    "Openings are wide": {"narrowest": "at least", "widest": "to"},
    "Walls are high": {"height": ""},
    "Windows: sill": {"sill": "", "window": "height"},
    "Doors are high": {"door": ""},
}
"""What a plan is read by, in words."""
TYPED = ("unit", "up", *(key for entries in LENGTHS.values() for key in entries))
UNITS = ("mm", "cm", "m", "in", "ft")


@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """A file is brought: it is put beside the database and the worker is asked to read it."""
    file, into = request.FILES.get("file"), request.POST.get("into", "")
    project = _editable(request, into) if into else None
    try:
        made = _brought(person_of(request), file, project)
    except Refusal as refusal:
        messages.error(request, f"Nothing was taken in: {refusal}")
        return redirect(f"{reverse('intake-new')}?into={project.pk}") if project else redirect("projects")
    return redirect("intake", made.pk)


@require_GET
def new(request: HttpRequest) -> HttpResponse:
    """A model is chosen that is to stand round the building of a project."""
    return render(request, "intake/new.html", {"project": _editable(request, request.GET.get("into", ""))})


def _editable(request: HttpRequest, key: str) -> Project:
    """A project of the person's that they may change; 404 for others, 403 where they may only look."""
    project = project_of(request.user, int(key) if key.isdecimal() else 0)
    if role_in(request.user, project.pk) == Role.VIEWER:
        raise PermissionDenied("You may look at this project, not change it.")
    return project


def _brought(person: User, file: UploadedFile[Any] | None, into: Project | None = None) -> Intake:
    if file is None or not file.size:
        raise Refusal("file", "a file with something in it", "No file is brought.", "Choose one.")
    name = (file.name or "file")[:120]
    reader = reader_of(name, file.read(HEAD), file.size)
    with transaction.atomic():
        for older in person.intakes.filter(state__in=_UNDECIDED)[MOST_OPEN - 1 :]:
            older.close(Intake.State.LEFT)
        made = Intake.objects.create(author=person, name=name, kind=reader.key, size=file.size or 0, project=into)
        made.file.parent.mkdir(parents=True, exist_ok=True)
        file.seek(0)
        with made.file.open("wb") as kept:
            for chunk in file.chunks():
                kept.write(chunk)
        read_brought.enqueue(made.pk)
    return made


_UNDECIDED = (Intake.State.WAITING, Intake.State.READING, Intake.State.READ, Intake.State.FAILED)


@require_GET
def page(request: HttpRequest, intake: int) -> HttpResponse:
    """What was understood of a file; while it is read the page asks again."""
    found = _of(request, intake)
    if found.state == Intake.State.KEPT and found.project_id:
        return redirect("project", found.project_id)
    if found.state not in _UNDECIDED:
        return redirect("projects")
    partial = request.headers.get("HX-Target") == "intake"
    return render(request, "intake/_intake.html" if partial else "intake/page.html", _context(request, found))


def _context(request: HttpRequest, found: Intake) -> dict[str, Any]:
    told = found.understood
    plan, model = found.kind == "dxf", found.kind == "model"
    options = found.reader.options().model_dump(mode="json") | found.options
    own = _editable_projects(request.user) if plan or model else []
    return {
        "intake": found,
        "understood": told,
        "left": told.left[:TOLD] if told else [],
        "more_left": max(0, len(told.left) - TOLD) if told else 0,
        "noted": told.noted[:TOLD] if told else [],
        "more_noted": max(0, len(told.noted) - TOLD) if told else 0,
        "lengths": [
            (words, [(key, options[key], label) for key, label in entries.items()])
            for words, entries in LENGTHS.items()
        ]
        if plan
        else [],
        "units": UNITS if plan or model else (),
        "model": model,
        "up": options.get("up", ""),
        "unit": (told.unit if told else "") or options.get("unit", ""),
        "projects": [(one, one.site.data.get("storeys", [])) for one in own],
        "usual_name": found.name.rpartition(".")[0] if plan or model else str(found.site.get("name", "")),
    }


@require_POST
def again(request: HttpRequest, intake: int) -> HttpResponse:
    """Read it again, with other options."""
    found = _of(request, intake)
    typed: Data = {key: request.POST[key].strip() for key in TYPED if request.POST.get(key, "").strip()}
    if found.kind == "dxf":
        typed["layers"] = request.POST.getlist("layers")[:500]
    read(found.reader.options, typed)
    with transaction.atomic():
        ready = Intake.objects.filter(pk=found.pk, state__in=(Intake.State.READ, Intake.State.FAILED))
        if ready.update(state=Intake.State.WAITING, options=typed, reason="", entry=""):
            read_brought.enqueue(found.pk)
    found.refresh_from_db()
    return render(request, "intake/_intake.html", _context(request, found))


@require_POST
@transaction.atomic
def keep(request: HttpRequest, intake: int) -> HttpResponse:
    """Make a project of it, or put its walls into one there is: once, however often it is sent."""
    found = _of(request, intake)
    told = found.understood
    if told is None or found.state != Intake.State.READ:
        return redirect("intake", found.pk)
    into = request.POST.get("into", "")
    if into and found.kind in ("dxf", "model"):
        project = _editable(request, into.partition(":")[0])
        site = record_of(request.user, project.pk, "site", "site")
        _with_finishes(project, told.site.get("finishes", {}), person_of(request))
        try:
            data = joined(site.data, told.site, into.partition(":")[2])
            records.save(site, data, site.current_id or 0, request.user, f"Taken in: {found.name}")
        except Stale:
            transaction.set_rollback(True)
            messages.error(request, "Somebody changed the project meanwhile. Take it in once more.")
            return redirect("intake", found.pk)
    else:
        project = _project(found, person_of(request), request.POST.get("name", "").strip())
    found.close(Intake.State.KEPT, project)
    messages.success(request, f"Taken in: {told.counted}.")
    return redirect("project", project.pk)


def _with_finishes(project: Project, finishes: Mapping[str, Data], person: User) -> None:
    """The finishes of what is taken in, where the project has none of that key."""
    kept = {record.key for record in Record.everything.filter(project=project, kind=Record.Kind.FINISH)}
    for key, finish in finishes.items():
        if key not in kept:
            Record.start(project, Record.Kind.FINISH, key, finish, person)


def _editable_projects(person: Any) -> list[Project]:
    return [one for one in records.projects_of(person) if role_in(person, one.pk) != Role.VIEWER]


def _project(found: Intake, person: User, name: str) -> Project:
    told = found.understood
    assert told is not None
    site = told.site if not name or found.reader.as_it_is else told.site | {"name": name[:80]}
    underlays = told.underlays | ({"site": told.underlay} if told.underlay else {})
    return take_in(site, person, name, underlays, told.revisions)


@require_POST
def leave(request: HttpRequest, intake: int) -> HttpResponse:
    """Stop reading it, or leave what was understood; nothing of it stays."""
    _of(request, intake).close(Intake.State.LEFT)
    return redirect("projects")


def _of(request: HttpRequest, intake: int) -> Intake:
    return get_object_or_404(Intake, pk=intake, author=person_of(request))
