"""The page that hands over: what, in which format and how; the files that were asked for; projects taken in again."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from django.db import transaction
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.ifc import door_properties
from ashfell.services.documents import scene_of
from ashfell.services.handover import FORMATS, Format, chosen, of_site, told
from ashfell.services.handover.format import GROUPS
from ashfell.services.kept.models import Project
from ashfell.services.kept.records import project_of
from ashfell.studio.answers import person_of, refused
from ashfell.studio.handover.models import PAGE, SELECTED, Handover, kind_of
from ashfell.studio.handover.tasks import write_file

MOST = 400
"""How much is offered to be selected."""
SHOWN = 30
"""How many of the files that were asked for are listed."""


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    """What can be handed over, as it was chosen last."""
    owner = project_of(request.user, project)
    own = owner.handovers.filter(author=person_of(request)).exclude(asked_as__startswith=PAGE)
    last = own.first()
    what = request.GET.get("what") or (last.what if last else "site")
    offered = _offered(owner)
    if what not in {key for _, choices in offered for key, _ in choices}:
        what = "site"
    of = kind_of(what)
    selected = request.GET.getlist(SELECTED) or (last.options.get(SELECTED, "").split(",") if last else [])
    kinds = {key: one for key, one in FORMATS.items() if of in one.of}
    wanted = request.GET.get("format") or (last.kind if last else "")
    kind = kinds.get(wanted) or next(iter(kinds.values()))
    before = own.filter(kind=kind.key).first()
    context: dict[str, Any] = {
        "what": what,
        "offered": offered,
        "groups": _grouped(kinds),
        "kind": kind,
        "options": [(one, (before.options if before else {}).get(one.key, one.usual)) for one in kind.options],
        "counted": _counted(owner, what, selected),
        "selectable": _selectable(owner, selected) if what == SELECTED else None,
    }
    partial = request.headers.get("HX-Target") in ("handing", "counted")
    name = "handover/_form.html" if partial else "handover/page.html"
    return render(request, name, context | _list(owner))


def _offered(owner: Project) -> list[tuple[str, list[tuple[str, str]]]]:
    """What can be handed over, in groups: keys and names."""
    storeys = [(f"storey:{one['id']}", one.get("name", one["id"])) for one in owner.site.data.get("storeys", ())]
    units = [(f"unit:{record.key}", record.name) for record in owner.units]
    site = [("site", "All of it"), *storeys, (SELECTED, "What is selected of it")]
    groups = [("The site", site), ("Units", units)]
    return [(label, choices) for label, choices in groups if choices]


def _selectable(owner: Project, selected: list[str]) -> list[tuple[str, str, bool]]:
    """What can be selected: id, name, and whether it is."""
    data = owner.site.data
    tables = (data.get(name, ()) for name in ("walls", "roofs", "plates"))
    return [(one["id"], one.get("name", one["id"]), one["id"] in selected) for table in tables for one in table][:MOST]


def _grouped(kinds: dict[str, Format]) -> list[tuple[str, list[Format]]]:
    found: dict[str, list[Format]] = defaultdict(list)
    for one in kinds.values():
        found[GROUPS[one.group]].append(one)
    return [(label, found[label]) for label in GROUPS.values() if found[label]]


def _counted(owner: Project, what: str, selected: list[str]) -> str:
    """What will be in a file, in words."""
    if what.startswith("unit:"):
        return ""
    scene, storey = scene_of(owner.composed_site()).scene, what.partition(":")[2]
    hosts = [one for one in scene.instances if not one.host and (not storey or scene.storey_of(one) == storey)]
    if what == SELECTED:
        hosts = [one for one in hosts if one.id in selected]
    ids = {one.id for one in hosts}
    units = [one for one in scene.instances if one.host and one.host in ids]
    doors = sum(bool(door_properties(scene.units[one.id].document, scene.units[one.id].layout)) for one in units)
    walls = sum(one.id in scene.site.wall_by_id for one in hosts)
    counts = [
        (walls, "wall"),
        (sum(one.id in scene.site.roof_by_id for one in hosts), "roof plane"),
        (sum(one.id not in scene.standing for one in hosts), "plate"),
        (len(units) - doors, "window"),
        (doors, "door"),
    ]
    return ", ".join(f"{count} {words}{'' if count == 1 else 's'}" for count, words in counts if count) or "nothing yet"


@require_POST
def start(request: HttpRequest, project: int) -> HttpResponse:
    """Ask for a file."""
    owner, typed = project_of(request.user, project), request.POST
    what = typed.get("what", "site")
    try:
        kind = told(typed.get("format", ""), kind_of(what))
        options, document = chosen(kind, typed), _document(owner, what)
        if what == SELECTED:
            options[SELECTED] = ",".join(typed.getlist(SELECTED))
            of_site(document, owner.style, selected=typed.getlist(SELECTED))
        Handover.room_for(person_of(request))
    except Refusal as refusal:
        return refused(request, refusal)
    with transaction.atomic():
        made = Handover.objects.create(
            project=owner, author=person_of(request), what=what, kind=kind.key, options=options, document=document
        )
        write_file.enqueue(made.pk)
    return render(request, "handover/_list.html", _list(owner) | {"fresh": made.pk})


def _document(owner: Project, what: str) -> Data:
    kind, _, key = what.partition(":")
    if kind == "unit":
        record = owner.units.filter(key=key).first()
        if record is None:
            raise Refusal("what", "a unit", f"There is no unit “{key}”.", "Choose one of the project.")
        return record.data
    return owner.composed_site()


@require_GET
def listed(request: HttpRequest, project: int) -> HttpResponse:
    return render(request, "handover/_list.html", _list(project_of(request.user, project)))


def _list(owner: Project) -> dict[str, Any]:
    found = list(owner.handovers.exclude(asked_as__startswith=PAGE)[:SHOWN])
    return {
        "project": owner,
        "nav": "handover",
        "handovers": found,
        "busy": any(one.is_open for one in found),
    }


@require_GET
def file(request: HttpRequest, project: int, handover: int) -> FileResponse:
    """A file that was written."""
    found = _of(request, project, handover)
    if not found.has_file:
        raise Http404
    return FileResponse(found.file.open("rb"), filename=found.name, as_attachment=True, content_type=found.format.media)


@require_POST
def cancel(request: HttpRequest, project: int, handover: int) -> HttpResponse:
    """Stop the writing of a file."""
    found = _of(request, project, handover)
    found.settle(Handover.State.CANCELLED)
    return render(request, "handover/_list.html", _list(found.project))


def _of(request: HttpRequest, project: int, handover: int) -> Handover:
    return get_object_or_404(Handover, pk=handover, project=project_of(request.user, project))
