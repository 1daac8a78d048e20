"""The unit page: elevation, spacing strips, build-up list and 3D of one unit."""

from __future__ import annotations

import json
from math import isfinite
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump
from ashfell.core.base.kept import kept
from ashfell.core.base.lengths import LengthError, Style, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.points import points_sheet
from ashfell.core.drawing.sheet import VIEWS, View
from ashfell.core.finish import Finish
from ashfell.core.kinds.roles import ROLES
from ashfell.core.unit import Unit
from ashfell.core.unit.edit.change import change, with_opened
from ashfell.core.unit.effects import Clear, clear_sizes, effects
from ashfell.core.unit.measure import snap
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.say.finishes import inner_said
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.starts import ordinary_window
from ashfell.core.unit.words import entry_words
from ashfell.formats import glb, svg
from ashfell.services.documents import Changed, change_unit, check_unit, clear_sizes_of, taken_in, unit_of
from ashfell.services.kept import finishes, records
from ashfell.services.kept.models import Record
from ashfell.services.kept.published import update_for
from ashfell.services.kept.records import WAYS, project_of, record_of
from ashfell.services.textures import jpeg
from ashfell.services.underlays import placed
from ashfell.studio.answers import handed_over, moved, saved
from ashfell.studio.handover.audited import audited_behind
from ashfell.studio.handover.behind import WAITED, is_audited_behind, is_large, made_behind
from ashfell.studio.measure import measured, points_of
from ashfell.studio.underlay import AS_KEPT, brought, image_of, laid
from ashfell.studio.units.sheet import drawn_points, sheet_of

LARGEST_FILE = 512 * 1024
SEEN = 24e6
"""How much of what was shown in 3D is kept, bytes."""


@require_POST
def new(request: HttpRequest, project: int) -> HttpResponse:
    """Start a unit from the usual sizes."""
    owner = project_of(request.user, project)
    name = request.POST.get("name", "").strip()[:80] or "Window"
    record = records.start(owner, "unit", name, dump(ordinary_window(name, owner.style.bare)), request.user)
    return redirect("unit", project, record.key)


@require_POST
def take_in(request: HttpRequest, project: int) -> HttpResponse:
    """Start a unit from a document in a file."""
    owner = project_of(request.user, project)
    file = request.FILES.get("file")
    try:
        if file is None or (file.size or 0) > LARGEST_FILE:
            raise Refusal("file", "a unit document", f"Choose a JSON file of at most {LARGEST_FILE // 1024} KiB.")
        data = taken_in(file.read())
        record = records.start(owner, "unit", data["name"], data, request.user)
    except Refusal as refusal:
        messages.error(request, f"{file.name if file else 'No file'} was not taken in: {refusal}")
        return redirect("project", project)
    return redirect("unit", project, record.key)


@require_POST
def duplicate(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Start a unit as a copy of another."""
    record = records.duplicate(record_of(request.user, project, "unit", key), request.user)
    return redirect("unit", project, record.key)


@require_GET
def page(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request.user, project, "unit", key)
    try:
        unit = unit_of(record.data)
    except Refusal as refusal:
        return _cannot_be_built(request, record, refusal)
    offered = update_for(record, request.user)
    newer = {"item": offered[0], "told": offered[2]} if offered else None
    return render(request, "units/page.html", _context(request, record, unit) | {"update": newer})


def _cannot_be_built(request: HttpRequest, record: Record, refusal: Refusal, told: str = "") -> HttpResponse:
    """The page of a unit that is kept and cannot be built, e.g. since a rule has been added: what is wrong, and where
    to mend it."""
    context = {
        "project": record.project,
        "record": record,
        "refusal": refusal,
        "told": told,
        "words": entry_words(refusal.entry),
        "nearest": exact(refusal.nearest) if refusal.nearest is not None else "",
    }
    return render(request, "units/refused.html", context)


@require_POST
def mend(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Change one entry of a unit that cannot be built; kept when it is nearer to being built: when the same is not
    refused again."""
    record = record_of(request.user, project, "unit", key)
    entry, value = request.POST.get("entry", ""), request.POST.get("value", "")
    try:
        unit_of(record.data)
    except Refusal as refusal:
        try:
            data = change(record.data, entry, value, record.project.style.bare)
            unit_of(data)
        except Refusal as again:
            if (again.rule, again.entry) == (refusal.rule, refusal.entry) or again.entry == entry:
                return _cannot_be_built(request, record, refusal, f"{value}: {again}")
        records.save(record, data, record.current_id or 0, request.user, f"{entry_words(entry)}: {value}")
        return redirect("unit", project, key)
    messages.info(request, "It can be built again; what you typed was not kept.")
    return redirect("unit", project, key)


@require_POST
def edit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Change one entry: kept when ``keep`` is 1, otherwise only shown."""
    record = record_of(request.user, project, "unit", key)
    style, entry, value = record.project.style, request.POST.get("entry", ""), request.POST.get("value", "")
    under: Data | None = record.underlay
    told: tuple[str, ...] = ()
    if entry.startswith("underlay."):
        under = placed(under, entry, value, style)
        changed = Changed(record.data, unit_of(record.data))
    else:
        before = _clear_before(record)  # first, while the unit may still be there
        changed = change_unit(record.data, entry, value, style.bare)
        if changed.data != record.data:
            told = effects(before, clear_sizes(changed.unit.layout), style)
    _looked_at(request, changed.unit, style)

    def shown() -> HttpResponse:
        return workspace(request, record, changed.unit, told, under)

    if request.POST.get("keep") != "1":
        return shown()
    return saved(request, record, changed.data, f"{entry_words(entry)}: {value}", shown, under)


def _clear_before(record: Record) -> Clear:
    """The clear lights of a unit as it is kept; none where it cannot be built."""
    try:
        return clear_sizes_of(record.data)
    except Refusal:
        return {}


@require_POST
def move(request: HttpRequest, project: int, key: str, way: str) -> HttpResponse:
    """Undo, redo, or choose one of two versions."""
    if way not in WAYS:
        raise Http404
    record = record_of(request.user, project, "unit", key)
    moved(request, record, way)
    return workspace(request, record, unit_of(record.data))


@require_http_methods(["GET", "POST"])
def view_glb(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """The unit in 3D; a POST shows a change that is not kept yet."""
    record = record_of(request.user, project, "unit", key)
    opened = request.POST.get("opened") or request.GET.get("opened") or ""
    asked = request.POST if request.method == "POST" else {}
    entry, bare = asked.get("entry", ""), record.project.style.bare
    typed = change_unit(record.data, entry, asked.get("value", ""), bare).data if entry else record.data
    data = with_opened(typed, min(100.0, float(opened))) if opened.isdecimal() else typed
    if is_large(typed):
        return _view_behind(request, record, data, opened)
    content = _in_3d(json.dumps(data), json.dumps(record.project.documents(Record.Kind.FINISH)))
    return handed_over(request, content, "model/gltf-binary", f"{record.key}.glb")


@kept(SEEN, lambda content, *asked: len(content) + sum(map(len, asked)))
def _in_3d(unit: str, own: str) -> bytes:
    """A unit's document in 3D, with its project's own finishes: pages are opened again, and changes undone."""
    of_project = {key: Finish.model_validate(data) for key, data in json.loads(own).items()}
    return glb.write_unit(unit_of(json.loads(unit)), of_project, jpeg)


def _view_behind(request: HttpRequest, record: Record, data: Data, opened: str) -> HttpResponse:
    """The 3D of a large unit: made by the worker as it is kept; what is only being typed is not shown."""
    if request.POST.get("entry"):
        return HttpResponse(status=WAITED)
    made = made_behind(record, request.user, "glb", data, opened)
    if made.has_file:
        return handed_over(request, made.file.read_bytes(), "model/gltf-binary", f"{record.key}.glb")
    if not made.is_open:
        raise Refusal("view", "3D that can be made", made.reason, "Hand it over as a file, or make it smaller.")
    return HttpResponse(status=WAITED, headers={"Retry-After": "1"})


@require_GET
def elevation(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request.user, project, "unit", key)
    unit = unit_of(record.data)
    text = svg.elevation_svg(unit, record.project.style)
    return handed_over(request, text, "image/svg+xml", f"{record.key}.svg")


@require_GET
def document(request: HttpRequest, project: int, key: str) -> HttpResponse:
    record = record_of(request.user, project, "unit", key)
    return JsonResponse(record.data, json_dumps_params={"indent": 1})


@require_http_methods(["GET", "POST"])
def underlay(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """The image under a unit; a POST lays another file there."""
    record = record_of(request.user, project, "unit", key)
    if request.method == "GET":
        return image_of(record)
    unit = unit_of(record.data)
    under, name = brought(request, exact(unit.document.width.mm))
    return saved(
        request, record, record.data, f"Laid under: {name}", lambda: workspace(request, record, unit, (), under), under
    )


@require_POST
def everywhere(request: HttpRequest, project: int) -> HttpResponse:
    """The finish of a role in every unit of a project."""
    owner = project_of(request.user, project)
    entry, key = Address(request.POST.get("entry", "")), request.POST.get("value", "")
    if entry.parent not in finishes.ROLE_TABLES:
        raise Refusal(
            entry, "the finish of a role", "That is no finish of a role.", "Name finishes or inner, and a role."
        )
    name = owner.all_finishes()[key].name if key in owner.all_finishes() else key
    words = f"{entry_words(entry)}, in every unit: {name}"
    changed = finishes.give_everywhere(owner, entry, key, request.user, words)
    told = {"told": changed.said("other unit", "All units are alike."), "revisions": changed.revisions}
    return render(request, "units/_everywhere.html", told | {"project": owner})


LONGEST = 15
"""Digits of the number of a revision, at most."""


@require_POST
def undo_everywhere(request: HttpRequest, project: int) -> HttpResponse:
    """Undo what was changed in many documents at once: of the finish that this was begun at, on its page."""
    asked = [one for one in request.POST.get("revisions", "").split() if one.isdecimal() and len(one) <= LONGEST]
    owner, key = project_of(request.user, project), request.POST.get("finish")
    told = finishes.taken_back(owner, {int(one) for one in asked})
    if key in owner.all_finishes():
        messages.success(request, told)
        return redirect("finish", project, key)
    return HttpResponse(told, "text/plain")


@require_GET
def audit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Findings about the unit as it is kept."""
    record = record_of(request.user, project, "unit", key)
    if is_audited_behind(record.data):
        return audited_behind(request, record, record.data)
    unit, findings = check_unit(record.data, record.project.style)
    return render(request, "_findings.html", {"findings": findings, "checked": f"{len(unit.parts)} parts"})


def workspace(
    request: HttpRequest, record: Record, unit: Unit, told: tuple[str, ...] = (), under: Data | None = AS_KEPT
) -> HttpResponse:
    """The page's workspace, and what the change that led to it did to the spacing."""
    return render(request, "units/_workspace.html", _context(request, record, unit, under) | {"told": told})


def _looked_at(request: HttpRequest, unit: Unit, style: Style) -> tuple[str, View, float]:
    """The cell whose strips are shown, the side of the unit that is drawn, and where a section is taken: a share, or
    behind ``@`` a length from the sill or from the left."""
    asked = request.POST if request.method == "POST" else request.GET
    side, text = asked.get("side", "outside"), asked.get("cut", "0.5")
    outer = unit.layout.outer
    try:
        share = (
            float(parse(text[1:], style.bare) / (outer.width if side == "up" else outer.height))
            if text[:1] == "@"
            else float(text)
        )
    except LengthError as error:
        raise Refusal(
            "cut",
            "a length",
            error.reason,
            "Type how far the section is from the sill, or from the left.",
            position=error.position,
        ) from error
    except ValueError:
        share = 0.5
    cut = min(0.99, max(0.01, share)) if isfinite(share) else 0.5
    return asked.get("at", ""), side if side in VIEWS else "outside", cut


def _context(request: HttpRequest, record: Record, unit: Unit, under: Data | None = AS_KEPT) -> dict[str, Any]:
    project, style = record.project, record.project.style
    at, side, cut = _looked_at(request, unit, style)
    names = {key: finish.name for key, finish in project.all_finishes().items()}
    points = points_sheet(unit, style, (request.POST if request.method == "POST" else request.GET).get("points", ""))
    sheet = None if points else sheet_of(unit, style, at, side, cut)
    under = record.underlay if under is AS_KEPT else under
    inside = Writer(style, names)
    return {
        "project": project,
        "record": record,
        "base": record.current_id,
        "unit": unit.document,
        "style": style,
        "at": at,
        "side": side,
        "side_words": VIEWS[side],
        "sides": VIEWS.items(),
        "cut": f"{cut:.9g}",
        "cut_percent": round(cut * 100),
        "sheet": sheet,
        "underlay": laid(under, reverse("unit-underlay", args=[project.pk, record.key]), sheet, style, sheet.mirrored)
        if sheet and side in ("outside", "inside")
        else None,
        "sentences": build_up(unit, style, names, at),
        "points": drawn_points(points) if points else None,
        "step": "1/16 in" if style.bare == "in" else "1 mm",
        "roles": [
            (role.key, role.label, unit.document.finishes.of(role.key), inner_said(inside, unit.document, role))
            for role in ROLES.values()
            if role.always or role.key in unit.roles
        ],
        "finish_options": tuple(names.items()),
        "undone": record.undone,
        "redone": record.redone,
        "parts": len(unit.parts),
        "edit_url": reverse("unit-edit", args=[project.pk, record.key]),
        "view_url": reverse("unit-view", args=[project.pk, record.key]),
    }


@require_POST
def measure(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Points on the drawing snapped to what they are near, and the exact distance between two of them."""
    record, asked = record_of(request.user, project, "unit", key), points_of(request)
    layout = unit_of(record.data).layout
    return measured([snap(layout, point, asked.reach) for point in asked.points], record.project.style)
