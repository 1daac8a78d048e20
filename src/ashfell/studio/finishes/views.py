"""The finishes page: those that ship and the project's own; and the page of one, where it is changed and seen."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.http import urlencode
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import Style, named
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, Finish
from ashfell.core.finish.kind import SURFACES
from ashfell.core.finishing.edit import change_finish
from ashfell.core.finishing.say import MAPS, say_finish
from ashfell.core.unit.say.writer import Writer
from ashfell.core.unit.words import entry_words
from ashfell.pictures.develop import png
from ashfell.pictures.swatch import swatch
from ashfell.services.finishes import LARGEST_FILE, taken_in, written
from ashfell.services.images import brought
from ashfell.services.kept import finishes, records
from ashfell.services.kept.models import Asset, Project, Record
from ashfell.services.kept.records import WAYS, project_of, record_of
from ashfell.studio.answers import handed_over, moved, saved

SHOWN = ("still", "board")
MOST = 120
"""The most finishes of one's own that are shown at once; what is more is told, and found by its words."""
BOARD = 240
"""Side of the board on the page, in the units of its drawing."""
LONGEST = 6000
"""The longest document in an address, bytes."""


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    """All finishes by kind, or those that have the words that are asked for."""
    owner = project_of(request.user, project)
    asked = request.GET.get("q", "").strip()
    words = asked.lower().split()
    own = owner.own_finishes()

    def found(some: dict[str, Finish]) -> list[tuple[str, Finish]]:
        told = ((key, one, f"{one.name} {one.surface.label} {key}".lower()) for key, one in some.items())
        return [(key, one) for key, one, text in told if all(word in text for word in words)]

    chosen = found(own)
    shipped = found({key: one for key, one in LIBRARY.items() if key not in own})
    kinds = [(kind.label, [(key, one) for key, one in shipped if one.kind == kind.key]) for kind in SURFACES.values()]
    others = [(record, read(Finish, data)) for record, data in finishes.of_other_projects(request.user, owner)]
    shown = {
        "project": owner,
        "nav": "finishes",
        "asked": asked,
        "style": owner.style,
        "own": chosen[:MOST],
        "more": max(0, len(chosen) - MOST),
        "kinds": [(label, some) for label, some in kinds if some],
        "others": [] if asked else others,
    }
    whole = "finishes/_found.html" if request.headers.get("HX-Request") else "finishes/page.html"
    return render(request, whole, shown)


@require_GET
@cache_control(private=True, max_age=60)
def swatch_png(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """A small picture of a finish."""
    return HttpResponse(png(swatch(_found(project_of(request.user, project), key))), content_type="image/png")


@require_GET
@cache_control(private=True, max_age=31_536_000, immutable=True)
def preview_png(request: HttpRequest, project: int, key: str, shown: str) -> HttpResponse:
    """A finish path traced: ``still`` on a ball and a framed pane, ``board`` square on. It is as ``d`` in the address
    says, so that what is only being typed is seen, too."""
    from ashfell.pictures.preview import preview

    found = _found(project_of(request.user, project), key)
    text = request.GET.get("d", "")
    if shown not in SHOWN or len(text) > LONGEST:
        raise Http404
    if text:
        try:
            found = read(Finish, json.loads(text))
        except (ValueError, RecursionError, Refusal) as error:
            raise Http404 from error
    return HttpResponse(png(preview(found, shown)), content_type="image/png")


@require_POST
def copy(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Start a finish of the project's own from another: one that ships, its own, or one of another project."""
    owner = project_of(request.user, project)
    other = request.POST.get("of", "")
    source = project_of(request.user, int(other)) if other.isdecimal() and len(other) < 15 else owner
    found = _found(source, key)
    name = found.name if source != owner else f"{found.name}, own"[:80]
    made = finishes.start(owner, name, dump(found) | {"name": name}, request.user)
    return redirect("finish", project, made.key)


@require_POST
def take_in(request: HttpRequest, project: int) -> HttpResponse:
    """A finish from a file, with its images."""
    owner, file = project_of(request.user, project), request.FILES.get("file")
    try:
        if file is None or (file.size or 0) > LARGEST_FILE:
            raise Refusal("file", "a finish", f"Choose a JSON file of at most {LARGEST_FILE // 2**20} MiB.")
        data = taken_in(file.read(), Asset.keep)
    except Refusal as refusal:
        messages.error(request, f"{file.name if file else 'No file'} was not taken in: {refusal}")
        return redirect("finishes", project)
    made = finishes.start(owner, data["name"], data, request.user)
    return redirect("finish", project, made.key)


@require_GET
def finish(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """The page of one of the project's own finishes, or of one that ships: that is looked at and copied."""
    owner = project_of(request.user, project)
    record = owner.records.filter(kind="finish", key=key).select_related("project", "current__parent").first()
    found = _found(owner, key)
    used = finishes.uses_of(owner, key)
    choices = [(other, one.name) for other, one in owner.all_finishes().items() if other != key]
    context = {"uses": used, "choices": choices, "maps": MAPS}
    return render(request, "finishes/finish.html", _context(owner, key, found, record) | context)


@require_POST
def edit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Change one entry, once for all units that use it: kept when ``keep`` is 1, otherwise only shown."""
    record = record_of(request.user, project, "finish", key)
    entry, value = request.POST.get("entry", ""), request.POST.get("value", "")
    data = change_finish(record.data, entry, value, record.project.style.bare) if entry else record.data

    def shown() -> HttpResponse:
        return _workspace(request, record, data)

    if request.POST.get("keep") != "1":
        return shown()
    return saved(request, record, data, f"{entry_words(entry)}: {value}", shown)


@require_POST
def move(request: HttpRequest, project: int, key: str, way: str) -> HttpResponse:
    """Undo, redo, or choose one of two versions."""
    if way not in WAYS:
        raise Http404
    record = record_of(request.user, project, "finish", key)
    moved(request, record, way)
    return _workspace(request, record, record.data)


@require_POST
def image(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """An image for the texture of a finish."""
    record, file = record_of(request.user, project, "finish", key), request.FILES.get("file")
    name = request.POST.get("of", "colour")
    try:
        if name not in MAPS:
            raise Refusal("of", "one of a list", f"“{name}” is no image of a texture.", "Choose one of them.")
        kept = Asset.keep(brought(file, (file.size or 0) if file else 0))
        data = record.data
        if not data["texture"] or data["texture"]["pattern"] != "image":
            data = change_finish(data, "texture.pattern", "image")
        data = change_finish(data, f"texture.maps.{name}", kept)
        records.save(record, data, record.current_id or 0, request.user, f"Image of its {MAPS[name]}")
    except Refusal as refusal:
        messages.error(request, f"{file.name if file else 'No file'} was not taken in: {refusal}")
    return redirect("finish", project, key)


@require_POST
def replace(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Another finish in the place of this one, in every unit and on the site."""
    owner, other = project_of(request.user, project), request.POST.get("by", "")
    found, by = _found(owner, key), _found(owner, other)
    words = f"{by.name} in the place of {found.name}"
    changed = finishes.replace_everywhere(owner, key, other, request.user, words)
    told = f"{words}: {changed.said('document', 'it is used nowhere.')}"
    undo = {"told": told, "revisions": changed.revisions, "project": owner, "finish": key}
    messages.success(request, render_to_string("units/_everywhere.html", undo, request))
    return redirect("finish", project, key)


@require_GET
def document(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """A finish as a file with its images."""

    def content(image: str) -> bytes | None:
        asset = Asset.objects.filter(pk=image).first()
        return bytes(asset.content) if asset else None

    text = written(_found(project_of(request.user, project), key), content)
    return handed_over(request, text, "application/json", f"{key}.json")


def _workspace(request: HttpRequest, record: Record, data: Data) -> HttpResponse:
    found = read(Finish, data)
    return render(request, "finishes/_workspace.html", _context(record.project, record.key, found, record))


def _context(project: Project, key: str, found: Finish, record: Record | None) -> dict[str, Any]:
    style = project.style
    writer = Writer(style, {})
    asked = urlencode({"d": json.dumps(dump(found), separators=(",", ":"))})
    return {
        "project": project,
        "nav": "finishes",
        "key": key,
        "finish": found,
        "record": record,
        "base": record.current_id if record else 0,
        "undone": record.undone if record else None,
        "redone": record.redone if record else None,
        "sentences": say_finish(writer, found),
        "still": reverse("finish-preview", args=[project.pk, key, "still"]) + f"?{asked}",
        "board": reverse("finish-preview", args=[project.pk, key, "board"]) + f"?{asked}",
        "rule": _rule(found, style),
    }


def _rule(found: Finish, style: Style) -> dict[str, Any]:
    """The tile of a finish on its board: where it lies there, and how large it is."""
    from ashfell.pictures.preview import MARGIN, size_of

    side, tile = size_of(found)
    if tile is None:
        return {"side": _size(side, style)}
    low = (1 - 1 / MARGIN) / 2
    left, foot = low * BOARD, (1 - low) * BOARD
    across, up = (size / side * BOARD for size in tile)
    return {
        "side": _size(side, style),
        "left": _px(left),
        "foot": _px(foot),
        "across": _px(across),
        "up": _px(up),
        "middle": _px(left + across / 2),
        "centre": _px(foot - up / 2),
        "width": _size(tile[0], style),
        "height": _size(tile[1], style),
    }


def _px(value: float) -> str:
    return f"{value:.2f}"


def _size(metres: float, style: Style) -> str:
    return named(Fraction(round(metres * 100_000), 100), style)


def _found(project: Project, key: str) -> Finish:
    found = project.all_finishes().get(key)
    if found is None:
        raise Http404
    return found
