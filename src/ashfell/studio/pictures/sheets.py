"""Sheets: one picture for each camera and each variant, as one job on one page that can be printed."""

from __future__ import annotations

from collections import Counter
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.base.document import dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import finishes_of
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.framing import first_look, through
from ashfell.pictures.settings import PASSES, PictureSettings
from ashfell.services.kept.models import Project
from ashfell.services.kept.records import project_of
from ashfell.studio.answers import person_of
from ashfell.studio.pictures.models import Picture, Sheet
from ashfell.studio.pictures.tasks import ask_pass
from ashfell.studio.pictures.variants import offered_versions, variants_of
from ashfell.studio.pictures.views import SIZES

MOST_CELLS = 36
"""The most pictures of one sheet."""


@require_http_methods(["GET", "POST"])
def new(request: HttpRequest, project: int) -> HttpResponse:
    """Choose cameras and variants; a POST puts a picture of each into the queue."""
    owner = project_of(request.user, project)
    site = read_site(owner.composed_site())
    last = owner.pictures.filter(sheet=None).first()
    usual = last.asked_whole if last else first_look(build_scene(site))
    if request.method == "POST":
        try:
            made = _made(request, owner, site, usual)
        except Refusal as refusal:
            messages.error(request, str(refusal))
            return redirect("sheet-new", project)
        return redirect("sheet", project, made.pk)
    finishes = owner.all_finishes()
    context = {
        "project": owner,
        "nav": "pictures",
        "cameras": site.cameras,
        "finishes": [(key, one.name) for key, one in finishes.items()],
        "used": [(key, finishes[key].name) for key in _used(site) if key in finishes],
        "units": [(unit.key, unit.name) for unit in owner.units],
        "placed": _placed(owner, site),
        "versions": offered_versions(owner),
        "sizes": SIZES,
        "qualities": PASSES,
        "moment": usual.sun.moment if usual.sun.by == "place" else datetime(2026, 6, 21, 12, 0),
        "place": usual.sun if usual.sun.by == "place" else {"latitude": 52, "longitude": 0, "utc_offset": 1},
        "sheets": owner.sheets.all()[:20],
    }
    return render(request, "pictures/sheet_new.html", context)


def _used(site: SiteDocument) -> list[str]:
    """The finishes of what is seen on a site, by how much of it has them."""
    scene, counts = build_scene(site), dict[str, int]()
    for instance in scene.instances:
        for key in (key for part in scene.definitions[instance.definition] for key in finishes_of(part)):
            counts[key] = counts.get(key, 0) + 1
    return sorted(counts, key=lambda key: -counts[key])


def _placed(owner: Project, site: SiteDocument) -> list[tuple[str, str]]:
    """The units that stand on a site, the most frequent first."""
    counts = Counter(one.unit for one in site.placements if one.unit)
    names = {unit.key: unit.name for unit in owner.units}
    return [(key, names[key]) for key, _ in counts.most_common() if key in names]


def _made(request: HttpRequest, owner: Project, site: SiteDocument, usual: PictureSettings) -> Sheet:
    """A sheet with its pictures waiting.

    Raises
    ------
    Refusal
        When nothing is chosen, too much is, or something cannot be read.
    """
    typed = request.POST
    cameras = [camera for camera in site.cameras if camera.id in typed.getlist("camera")]
    if not cameras:
        raise Refusal("camera", "a camera", "No camera is chosen.", "Choose one, or keep one on the pictures page.")
    variants = variants_of(owner, typed)
    cells = len(cameras) * len(variants)
    if not 0 < cells <= MOST_CELLS:
        told = (
            f"{len(cameras)} cameras by {len(variants)} variants are {cells} pictures; a sheet has 1 to {MOST_CELLS}."
        )
        raise Refusal("variants", "a sheet that can be printed", f"{told}.", "Choose fewer, or some.")
    width, _, height = typed.get("size", "").partition("×")
    shared = dump(usual) | {"width": width.strip(), "height": height.strip(), "quality": typed.get("quality", "draft")}
    asked = [
        (
            row,
            column,
            read(PictureSettings, variant.settings(shared | {"camera": dump(through(site, camera))})),
        )
        for row, variant in enumerate(variants)
        for column, camera in enumerate(cameras)
    ]
    kept, person = owner.composed_site(), person_of(request)
    Picture.room_for(person, len(asked))
    sites = [variant.site(kept) for variant in variants]
    name = typed.get("name", "").strip()[:80] or "Sheet"
    rows, columns = [variant.words for variant in variants], [camera.name for camera in cameras]
    with transaction.atomic():
        sheet = Sheet.objects.create(project=owner, name=name, rows=rows, columns=columns)
        for row, column, settings in asked:
            picture = Picture.objects.create(
                project=owner,
                author=person,
                settings=dump(settings),
                site=sites[row],
                sheet=sheet,
                row=row,
                column=column,
            )
            ask_pass(picture)
    return sheet


def _of(request: HttpRequest, project: int, sheet: int) -> Sheet:
    return get_object_or_404(Sheet, pk=sheet, project=project_of(request.user, project))


@require_GET
def page(request: HttpRequest, project: int, sheet: int) -> HttpResponse:
    """A sheet: what is not traced yet is shown as such."""
    found = _of(request, project, sheet)
    pictures = {(one.row, one.column): one for one in found.pictures.all()}
    grid = [
        (words, [pictures.get((row, column)) for column in range(len(found.columns))])
        for row, words in enumerate(found.rows)
    ]
    done = sum(not one.is_open for one in pictures.values())
    context: dict[str, Any] = {
        "project": found.project,
        "nav": "pictures",
        "sheet": found,
        "grid": grid,
        "done": done,
        "count": len(pictures),
        "busy": done < len(pictures),
    }
    whole = "pictures/_sheet.html" if request.headers.get("HX-Request") else "pictures/sheet.html"
    return render(request, whole, context)


@require_POST
def cancel(request: HttpRequest, project: int, sheet: int) -> HttpResponse:
    """Stop all pictures of a sheet that are not done."""
    found = _of(request, project, sheet)
    for picture in found.pictures.all():
        picture.settle(Picture.State.CANCELLED)
    return redirect("sheet", project, sheet)
