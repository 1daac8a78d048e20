"""The unit page: elevation, spacing strips, build-up list and 3D of one unit."""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.audit import audit_unit
from ashfell.core.document import Data, dump
from ashfell.core.lengths import Style, show
from ashfell.core.refusal import Refusal
from ashfell.core.spacing import RULE_NAMES
from ashfell.core.unit import Unit, make, read_unit
from ashfell.core.unit.document import Axis
from ashfell.core.unit.edit import change
from ashfell.core.unit.solve import other_rules
from ashfell.core.unit.starts import ordinary_window
from ashfell.formats import glb, svg
from ashfell.studio.projects.access import project_of, record_of
from ashfell.studio.projects.models import Project, Record
from ashfell.studio.projects.saving import handed_over, moved, refused, save_or_offer
from ashfell.studio.units.sheet import unit_sheet

WAYS = ("undo", "redo", "choose")
LARGEST_FILE = 512 * 1024
ROLES = {"frame": "Frame", "bar": "Bars", "bead": "Beads", "glass": "Glass", "gasket": "Gasket"}


@require_POST
def new(request: HttpRequest, project: int) -> HttpResponse:
    """Start a unit from the usual sizes."""
    owner = project_of(request, project)
    name = request.POST.get("name", "").strip()[:80] or "Window"
    record = _start(request, owner, name, dump(ordinary_window(name, owner.style.bare)))
    return redirect("unit", project, record.key)


@require_POST
def take_in(request: HttpRequest, project: int) -> HttpResponse:
    """Start a unit from a document in a file."""
    owner = project_of(request, project)
    file = request.FILES.get("file")
    try:
        if file is None or file.size > LARGEST_FILE:
            raise Refusal("file", "a unit document", f"Choose a JSON file of at most {LARGEST_FILE // 1024} KiB.")
        unit = make(read_unit(_json_object(file.read())))
    except Refusal as refusal:
        messages.error(request, f"{file.name if file else 'No file'} was not taken in: {refusal}")
        return redirect("project", project)
    record = _start(request, owner, unit.document.name, dump(unit.document))
    return redirect("unit", project, record.key)


@require_POST
def duplicate(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Start a unit as a copy of another."""
    original = record_of(request, project, "unit", key)
    name = f"{original.name[:72]}, copy"
    record = _start(request, original.project, name, original.data | {"name": name})
    return redirect("unit", project, record.key)


def _start(request: HttpRequest, project: Project, name: str, data: Data) -> Record:
    return Record.start(project, "unit", project.free_key("unit", name), data, request.user)


def _json_object(content: bytes) -> Data:
    try:
        data = json.loads(content)
    except ValueError as error:
        raise Refusal("file", "a unit document", "The file is not JSON.") from error
    if not isinstance(data, dict):
        raise Refusal("file", "a unit document", "The file holds no JSON object.")
    return data


@require_GET
def page(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request, project, "unit", key)
    return render(request, "units/page.html", _context(record, make(read_unit(record.data))))


@require_POST
def edit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Change one entry: kept when ``keep`` is 1, otherwise only shown."""
    record = record_of(request, project, "unit", key)
    try:
        data = _changed(request, record)
        unit = make(read_unit(data))
    except Refusal as refusal:
        return refused(request, refusal)

    def shown() -> HttpResponse:
        return _workspace(request, record, unit)

    if request.POST.get("keep") != "1":
        return shown()
    words = f"{request.POST.get('entry', '')}: {request.POST.get('value', '')}"
    return save_or_offer(request, record, data, words, shown)


@require_POST
def move(request: HttpRequest, project: int, key: str, way: str) -> HttpResponse:
    """Undo, redo, or choose one of two versions."""
    if way not in WAYS:
        raise Http404
    record = record_of(request, project, "unit", key)
    if not moved(request, record, way):
        record.refresh_from_db()
    return _workspace(request, record, make(read_unit(record.data)))


@require_http_methods(["GET", "POST"])
def view_glb(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """The unit in 3D; a POST shows a change that is not kept yet."""
    record = record_of(request, project, "unit", key)
    try:
        unit = make(read_unit(_changed(request, record) if request.method == "POST" else record.data))
    except Refusal as refusal:
        return refused(request, refusal)
    content = glb.write_unit(unit.document.name, unit.parts, record.project.own_finishes())
    return handed_over(request, content, "model/gltf-binary", f"{record.key}.glb")


@require_GET
def elevation(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request, project, "unit", key)
    unit = make(read_unit(record.data))
    text = svg.elevation_svg(unit, record.project.style)
    return handed_over(request, text, "image/svg+xml", f"{record.key}.svg")


@require_GET
def document(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request, project, "unit", key)
    return JsonResponse(record.data, json_dumps_params={"indent": 1})


@require_GET
def audit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Findings about the unit as it is kept."""
    record = record_of(request, project, "unit", key)
    unit, style = make(read_unit(record.data)), record.project.style
    findings = audit_unit(unit, style)
    return render(request, "_findings.html", {"findings": findings, "checked": f"{len(unit.parts)} parts"})


def _changed(request: HttpRequest, record: Record) -> Data:
    """The document with the change that was sent, and what was typed before it and not kept yet."""
    entry, value = request.POST.get("entry", ""), request.POST.get("value", "")
    return change(record.data, entry, value, record.project.style.bare) if entry else record.data


def _workspace(request: HttpRequest, record: Record, unit: Unit) -> HttpResponse:
    return render(request, "units/_workspace.html", _context(record, unit))


def _context(record: Record, unit: Unit) -> dict[str, Any]:
    project, style = record.project, record.project.style
    return {
        "project": project,
        "record": record,
        "base": record.current_id,
        "unit": unit.document,
        "layout": unit.layout,
        "style": style,
        "sheet": unit_sheet(unit, style),
        "step": "1/16 in" if style.bare == "in" else "1 mm",
        "axes": [_axis(unit, axis, style) for axis in ("columns", "rows")],
        "roles": [(role, label, getattr(unit.document.finishes, role)) for role, label in ROLES.items()],
        "finishes": project.all_finishes(),
        "undone": record.undone,
        "redone": record.redone,
        "parts": len(unit.parts),
        "edit_url": reverse("unit-edit", args=[project.pk, record.key]),
        "view_url": reverse("unit-view", args=[project.pk, record.key]),
    }


def _axis(unit: Unit, axis: Axis, style: Style) -> dict[str, Any]:
    """One axis for the build-up list: its division, what was done, and what the other rules would give."""
    division = getattr(unit.document, axis)
    spacing = unit.layout.spacing(axis)
    faces = {bar.mm for bar in division.bars}
    others: dict[str, list[str]] = {}
    for rule, other in other_rules(unit.document, axis).items():
        sizes = [light.size for light in other.lights]
        if sizes != [light.size for light in spacing.lights]:
            shown = (
                f"{show(sizes[0], style)} each" if len(set(sizes)) == 1 else " · ".join(show(s, style) for s in sizes)
            )
            others.setdefault(shown, []).append(RULE_NAMES[rule])
    return {
        "axis": axis,
        "division": division,
        "count": len(division.lights),
        "bar": division.bars[0] if len(faces) == 1 else None,
        "sentence": spacing.sentence(style),
        "others": [(" or ".join(rules), shown) for shown, rules in others.items()],
        "rules": RULE_NAMES.items(),
        "word": "across" if axis == "columns" else "up",
        "member": "mullion" if axis == "columns" else "transom",
    }
