"""The library of a project's units: pictures, search, starting points, comparing, history, sizes, outlines from
drawings.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from django.contrib import messages
from django.db.models import Count, Q
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.base.document import Data, dump
from ashfell.core.base.lengths import Length, LengthError, Style, named, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.make import made
from ashfell.core.unit.starts import GROUPS, STARTS, start_from
from ashfell.core.unit.words import difference_words
from ashfell.formats import svg
from ashfell.formats.found import Found
from ashfell.services.documents import unit_of
from ashfell.services.kept import records
from ashfell.services.kept.models import Project, Record, Revision, Stale
from ashfell.services.kept.records import project_of, record_of, revision_of
from ashfell.services.reading import drawing
from ashfell.studio.answers import base_of
from ashfell.studio.handover.behind import is_large

LARGEST_DRAWING = 4 * 1024 * 1024
MOST_SIZES = 12
STRETCHES = (
    (1, 1),
    (Fraction(4, 5), 1),
    (Fraction(5, 4), 1),
    (1, Fraction(6, 5)),
    (Fraction(5, 4), Fraction(6, 5)),
    (Fraction(3, 2), 1),
)
"""How much wider and higher than it is a unit is shown on its sheet of sizes."""


@require_GET
def library(request: HttpRequest, project: int) -> HttpResponse:
    """The units of a project by name or tag, and starting points."""
    owner = project_of(request.user, project)
    asked = request.GET.get("q", "").strip()
    all_rows = [*map(_row, owner.units.annotate(named=Count("revisions", ~Q(revisions__label=""))))]
    rows = [row for row in all_rows if _matches(row, asked)]
    context = {
        "project": owner,
        "nav": "units",
        "rows": rows,
        "asked": asked,
        "starts": [(group, [(key, one) for key, one in STARTS.items() if one.group == group]) for group in GROUPS],
        "tags": sorted({tag for row in all_rows for tag in row["tags"]}),
    }
    return render(request, "units/_cards.html" if request.headers.get("HX-Request") else "units/library.html", context)


def _row(record: Any) -> dict[str, Any]:
    """What a card tells of a record, with how many of its revisions are ``named``."""
    data, style = record.data, record.project.style
    size = " × ".join(_length(data[side], style) for side in ("width", "height"))
    return {
        "record": record,
        "key": record.key,
        "name": record.name,
        "tags": data.get("tags", []),
        "size": size,
        "revision": record.current_id,
        "versions": record.named,
    }


def _length(text: object, style: Style) -> str:
    return named(Length.read(text).mm, style)


def _matches(row: dict[str, Any], asked: str) -> bool:
    words = f"{row['name']} {row['size']} {' '.join(row['tags'])}".lower()
    return all(word in words for word in asked.lower().split())


@require_POST
def start(request: HttpRequest, project: int) -> HttpResponse:
    """Start a unit from a starting point."""
    owner = project_of(request.user, project)
    chosen, name = request.POST.get("start", "fixed"), request.POST.get("name", "").strip()[:80]
    if chosen not in STARTS:
        raise Http404
    document = start_from(chosen, name or STARTS[chosen].name, owner.style.bare)
    record = records.start(owner, "unit", document.name, dump(document), request.user)
    return redirect("unit", project, record.key)


@require_GET
@cache_control(private=True, max_age=31_536_000, immutable=True)
def thumbnail(request: HttpRequest, project: int, key: str, revision: int) -> HttpResponse:
    """A small drawing of a unit at a revision, which never changes."""
    record = record_of(request.user, project, "unit", key)
    data = get_object_or_404(record.revisions, pk=revision).document
    try:
        text = svg.thumbnail_svg(unit_of(data).shapes)
    except Refusal:
        text = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"/>'
    return HttpResponse(text, content_type="image/svg+xml")


@require_GET
@cache_control(private=True, max_age=86400)
def start_drawing(request: HttpRequest, project: int, chosen: str) -> HttpResponse:
    """A small drawing of a starting point, in round numbers of the project's unit."""
    owner = project_of(request.user, project)
    if chosen not in STARTS:
        raise Http404
    unit = made(start_from(chosen, STARTS[chosen].name, owner.style.bare))
    return HttpResponse(svg.thumbnail_svg(unit.shapes), content_type="image/svg+xml")


@dataclass(frozen=True)
class Compared:
    """One side of a comparison."""

    name: str
    when: str
    data: Data
    picture: str


@require_GET
def compare(request: HttpRequest, project: int) -> HttpResponse:
    """Two units, or two versions of one, side by side and as differences in words."""
    owner = project_of(request.user, project)
    sides = [_side(owner, request.GET.get(name, "")) for name in ("a", "b")]
    told = difference_words(sides[0].data, sides[1].data) if sides[0] and sides[1] else []
    choices = [(f"{record.key}@{record.current_id}", record.name) for record in owner.units]
    context = {
        "project": owner,
        "nav": "units",
        "sides": sides,
        "told": told,
        "choices": choices,
        "asked": (request.GET.get("a"), request.GET.get("b")),
    }
    return render(request, "units/compare.html", context)


def _side(owner: Project, asked: str) -> Compared | None:
    key, _, revision = asked.partition("@")
    if not key:
        return None
    record = get_object_or_404(owner.units, key=key)
    found: Revision = revision_of(record, revision if revision.isdecimal() else record.current_id)
    picture = reverse("unit-thumbnail", args=[owner.pk, key, found.pk])
    return Compared(
        str(found.document["name"]), found.label or f"{found.made:%d %b %Y, %H:%M}", found.document, picture
    )


@require_http_methods(["GET", "POST"])
def history(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Every revision of a unit: name one, go back to one, compare one with what is in force."""
    record = record_of(request.user, project, "unit", key)
    if request.method == "POST":
        revision = revision_of(record, request.POST.get("revision", "0"))
        if request.POST.get("do") == "name":
            records.name_version(record, revision, request.POST.get("label", ""))
            return redirect("unit-history", project, key)
        record.choose(revision, record.current_id or 0)
        return redirect("unit", project, key)
    rows = record.revisions.select_related("author").order_by("-pk")[:200]
    return render(
        request, "units/history.html", {"project": record.project, "nav": "units", "record": record, "rows": rows}
    )


@require_GET
def sizes(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """The same unit at several sizes: frame, bars and rails keep theirs, glass and shares take the rest."""
    record = record_of(request.user, project, "unit", key)
    style = record.project.style
    asked = request.GET.get("sizes", "") or ", ".join(_stretched(record, *by) for by in STRETCHES)
    large = is_large(record.data)
    texts = [text.strip() for text in asked.split(",") if text.strip()][: 1 if large else MOST_SIZES]
    rows = [_at_size(record, text, style) for text in texts]
    shown = {"project": record.project, "nav": "units", "record": record, "asked": asked, "rows": rows, "large": large}
    return render(request, "units/sizes.html", shown)


def _stretched(record: Record, wider: int | Fraction, higher: int | Fraction) -> str:
    """A size in proportion to a unit's own, in round numbers of the project's unit."""
    style = record.project.style
    step = Fraction(254, 10) if style.bare in ("in", "ft") else Fraction(10)
    sides = []
    for side, by in (("width", wider), ("height", higher)):
        own = Length.read(record.data[side]).mm
        sides.append(show(own if by == 1 else round(own * by / step) * step, style))
    return " x ".join(sides)


def _at_size(record: Record, text: str, style: Style) -> dict[str, Any]:
    width, _, height = re.sub(r"\s*[x×]\s*", "|", text, count=1).partition("|")
    try:
        data = record.data | {
            "width": Length.read(width, style.bare).text,
            "height": Length.read(height, style.bare).text,
        }
        unit = unit_of(data)
    except LengthError as error:
        return {"text": text, "refusal": f"{error.reason} Sizes stand as 900 x 1200, 1.2 m x 1.5 m."}
    except Refusal as refusal:
        return {"text": text, "refusal": str(refusal)}
    told = [unit.layout.columns.sentence(style), unit.layout.rows.sentence(style)]
    return {
        "text": text,
        "drawing": svg.thumbnail_svg(unit.shapes),
        "told": [line for line in told if not line.startswith("One light")] or told[:1],
    }


@require_http_methods(["GET", "POST"])
def outline_from_file(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """An outline read from an SVG or DXF drawing: upload it, choose one of its closed paths."""
    record = record_of(request.user, project, "unit", key)
    context: dict[str, Any] = {"project": record.project, "nav": "units", "record": record, "base": record.current_id}
    if request.method == "GET":
        return render(request, "units/path.html", context)
    try:
        found = _paths(request)
        context["found"] = [(index, path, svg.path_svg(path.nodes)) for index, path in enumerate(found)]
        chosen = request.POST.get("chosen", "")
        if (chosen.isdecimal() and int(chosen) < len(found)) or len(found) == 1:
            data = record.data | found[int(chosen or 0)].document()
            data["frame"] = data["frame"] | {"sides": {}}
            unit_of(data)
            return _take(request, record, data)
    except Refusal as refusal:
        messages.error(request, str(refusal))
        return (
            redirect("unit-path", project, key)
            if "found" not in context
            else render(request, "units/path.html", context)
        )
    request.session["drawing"] = _kept(request)
    return render(request, "units/path.html", context)


def _take(request: HttpRequest, record: Record, data: Data) -> HttpResponse:
    """Keep an outline, if the unit is still as it was when the page was opened."""
    try:
        records.save(record, data, base_of(request), request.user, "Outline from a drawing")
    except Stale as stale:
        messages.error(
            request,
            f"{record.name} was changed since this page was opened. The outline is kept aside as version "
            f"{stale.offered.pk}: "
            "take it from here, or leave it.",
        )
        return redirect("unit-history", record.project_id, record.key)
    return redirect("unit", record.project_id, record.key)


def _kept(request: HttpRequest) -> dict[str, str]:
    """The uploaded drawing, kept until one of its paths is chosen."""
    file = request.FILES.get("file")
    if file is None:
        return dict(request.session.get("drawing", {}))
    file.seek(0)
    return {
        "name": str(file.name),
        "text": file.read().decode("utf-8", "replace"),
        "unit": request.POST.get("unit", ""),
    }


def _paths(request: HttpRequest) -> list[Found]:
    file = request.FILES.get("file")
    if file is None:
        kept = request.session.get("drawing")
        if not kept:
            raise Refusal("file", "a drawing", "No drawing was chosen.", "Choose an SVG or DXF file.")
        return drawing.outlines(kept["text"].encode(), kept["name"], kept["unit"])
    size = file.size or 0
    if size > LARGEST_DRAWING:
        raise Refusal(
            "file",
            "a smaller drawing",
            f"The file has {size // 1024} KiB.",
            f"{LARGEST_DRAWING // 1024} KiB is the most.",
        )
    return drawing.outlines(file.read(), str(file.name), request.POST.get("unit", ""))
