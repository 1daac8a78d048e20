"""The catalogue: items found by words, family or size, looked at, taken into a project in a size of their own, and what
people publish into it."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.document import dump, typed_length
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.item import found, taken
from ashfell.core.unit.piece import piece_text
from ashfell.core.unit.say.build_up import build_up
from ashfell.formats import svg
from ashfell.services.catalogue import shipped
from ashfell.services.documents import unit_of
from ashfell.services.kept import published, records
from ashfell.services.kept.models import Stale
from ashfell.services.kept.records import project_of, record_of
from ashfell.studio.answers import base_of, person_of
from ashfell.studio.keeping import waste
from ashfell.studio.units.items import MOST, item_of, put_on, shapes_of, size_of


@require_GET
def catalogue(request: HttpRequest, project: int) -> HttpResponse:
    """All items, or those that are asked for."""
    owner = project_of(request.user, project)
    asked, family = request.GET.get("q", "").strip(), request.GET.get("family", "")
    items = published.items_for(person_of(request))
    chosen = found(items, asked, family, owner.style.bare)
    context = {
        "project": owner,
        "nav": "units",
        "asked": asked,
        "family": family,
        "families": [one for one in published.ALL_FAMILIES if any(item.family == one for item in items)],
        "rows": [(item, size_of(item, owner.style)) for item in chosen[:MOST]],
        "more": max(0, len(chosen) - MOST),
        "taken_out": published.taken_out(person_of(request)),
    }
    whole = "units/_items.html" if request.headers.get("HX-Request") else "units/catalogue.html"
    return render(request, whole, context)


@require_GET
def item(request: HttpRequest, project: int, item: str) -> HttpResponse:
    """One item: drawn large, said, and where it can be taken in a size of its own."""
    owner, one = project_of(request.user, project), item_of(request, item)
    names = {key: finish.name for key, finish in owner.all_finishes().items()}
    if one.piece is not None:
        said = [piece_text(one.piece, owner.style, names)]
    else:
        unit = unit_of(one.document)
        said = [sentence.text.rstrip(" ,") for sentence in build_up(unit, owner.style, names, "")]
    context: dict[str, Any] = {
        "project": owner,
        "nav": "units",
        "item": one,
        "size": size_of(one, owner.style),
        "drawing": svg.thumbnail_svg(shapes_of(one)),
        "sentences": [text for text in said if text != "Add"],
        "own": one.key not in shipped.catalogue(),
        "units": [(record.key, record.name) for record in owner.units[:MOST]] if one.piece is not None else (),
    }
    return render(request, "units/item.html", context)


@require_GET
@cache_control(private=True, max_age=31_536_000, immutable=True)
def drawing(request: HttpRequest, project: int, item: str, version: int) -> HttpResponse:
    """A small drawing of an item, which a version never changes."""
    project_of(request.user, project)
    one = item_of(request, item)
    return HttpResponse(svg.thumbnail_svg(shapes_of(one)), content_type="image/svg+xml")


@require_POST
def take(request: HttpRequest, project: int, item: str) -> HttpResponse:
    """Take a unit into the project, solved anew for the size that is asked for; or put a piece on one of its units."""
    owner, one = project_of(request.user, project), item_of(request, item)
    if one.piece is not None:
        record = record_of(request.user, project, "unit", request.POST.get("unit", ""))
        return put_on(request, record, one, "", record.current_id or 0)
    try:
        sizes = [
            typed_length(side, request.POST.get(side, "").strip(), owner.style.bare) if request.POST.get(side) else ""
            for side in ("width", "height")
        ]
        data = taken(one, *sizes)
        name = request.POST.get("name", "").strip()[:80] or one.name
        data = dump(read_unit(data | {"name": name}))
        unit_of(data)
        record = records.start(owner, "unit", name, data, request.user)
    except Refusal as refusal:
        messages.error(request, str(refusal))
        return redirect("catalogue-item", project, item)
    return redirect("unit", project, record.key)


@require_POST
def take_out(request: HttpRequest, project: int, item: str) -> HttpResponse:
    """Take what one published out of the catalogue."""
    project_of(request.user, project)
    one = item_of(request, item)
    if one.key in shipped.catalogue():
        raise Http404
    used = published.take_out(person_of(request), one.key)
    stay = (
        f" {used} unit{'' if used == 1 else 's'} came from it and stay{'s' if used == 1 else ''} as before."
        if used
        else ""
    )
    messages.success(request, f"{one.name} is out of your catalogue, for {waste.DAYS} days.{stay}")
    return redirect("catalogue", project)


@require_POST
def put_back(request: HttpRequest, project: int, item: str) -> HttpResponse:
    """Put what was taken out back."""
    project_of(request.user, project)
    if item not in published.taken_out(person_of(request)):
        raise Http404
    published.put_back(person_of(request), item)
    return redirect("catalogue", project)


@require_POST
def publish(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Publish a unit for all projects of its person."""
    record = record_of(request.user, project, "unit", key)
    version = published.publish(record, request.user)
    messages.success(request, f"{record.name} is in your catalogue, version {version}.")
    return redirect("units", project)


@require_POST
def update(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Take the newest version of the item that a unit was taken from."""
    record = record_of(request.user, project, "unit", key)
    offered = published.update_for(record, request.user)
    if offered is not None:
        one, data, _ = offered
        try:
            data = dump(read_unit(data))
            unit_of(data)
            records.save(record, data, base_of(request), request.user, f"Version {one.version} of {one.name}")
        except Refusal as refusal:
            messages.error(request, f"Version {one.version} does not fit its size. {refusal}")
        except Stale as stale:
            told = f"{record.name} was changed meanwhile. The new version is kept aside as version {stale.offered.pk}."
            messages.error(request, told)
            return redirect("unit-history", project, key)
    return redirect(reverse("unit", args=[project, key]))
