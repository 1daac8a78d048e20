"""Hardware of the catalogue: put on a sash or a leaf of a unit, and published from one."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ashfell.core.base.document import read
from ashfell.core.unit.edit.hardware import piece_at
from ashfell.core.unit.item import found
from ashfell.core.unit.piece import PieceDocument, piece_name, piece_shapes, piece_text
from ashfell.formats import svg
from ashfell.services.catalogue.shipped import HARDWARE
from ashfell.services.kept import published
from ashfell.services.kept.records import record_of
from ashfell.studio.answers import base_of, person_of
from ashfell.studio.units.items import MOST, item_of, put_on, size_of


@require_http_methods(["GET", "POST"])
def hardware(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """What of the catalogue can be put on the unit; a POST puts a piece there."""
    record = record_of(request.user, project, "unit", key)
    if request.method == "POST":
        item = item_of(request, request.POST.get("item", ""))
        return put_on(request, record, item, request.POST.get("at", ""), base_of(request))
    owner, asked = record.project, request.GET.get("q", "").strip()
    items = found(published.items_for(person_of(request)), asked, HARDWARE, owner.style.bare)
    context = {
        "project": owner,
        "record": record,
        "nav": "units",
        "base": record.current_id,
        "at": request.GET.get("at", ""),
        "asked": asked,
        "rows": [(item, size_of(item, owner.style)) for item in items[:MOST]],
        "more": max(0, len(items) - MOST),
    }
    return render(request, "units/hardware.html", context)


@require_http_methods(["GET", "POST"])
def publish(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Publish a piece of a unit for all projects of its person."""
    record = record_of(request.user, project, "unit", key)
    asked = request.POST if request.method == "POST" else request.GET
    place = asked.get("at", "")
    piece = read(PieceDocument, {"name": "piece", "hardware": piece_at(record.data, place)}).hardware
    if request.method == "POST":
        name = asked.get("name", "").strip()[:80] or piece_name(piece.kind)
        version = published.publish_piece(record, request.user, place, name)
        messages.success(request, f"{name} is in your catalogue, version {version}.")
        return redirect("unit", project, key)
    names = {key: finish.name for key, finish in record.project.all_finishes().items()}
    context = {
        "project": record.project,
        "record": record,
        "nav": "units",
        "at": place,
        "usual": piece_name(piece.kind),
        "drawing": svg.thumbnail_svg(piece_shapes(piece)),
        "said": piece_text(piece, record.project.style, names),
    }
    return render(request, "units/publish_piece.html", context)
