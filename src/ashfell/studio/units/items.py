"""What the pages of the catalogue share: an item that one may take, its drawing, and putting a piece on a
unit."""

from __future__ import annotations

import json
from collections.abc import Sequence

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style, named
from ashfell.core.base.refusal import Refusal
from ashfell.core.seen import Shape
from ashfell.core.unit.edit.hardware import first_with_hardware
from ashfell.core.unit.item import Item
from ashfell.core.unit.piece import piece_shapes
from ashfell.services.documents import change_unit, unit_of
from ashfell.services.kept import published, records
from ashfell.services.kept.models import Record, Stale
from ashfell.studio.answers import person_of

MOST = 120
"""The most items that are shown at once; what is more is told, and found by its words."""


def size_of(item: Item, style: Style) -> str:
    """Its width and height as they are read."""
    return " × ".join(named(size, style) for size in item.size)


def item_of(request: HttpRequest, key: str) -> Item:
    """An item that its person may take."""
    item = published.item_for(person_of(request), key)
    if item is None:
        raise Http404
    return item


def shapes_of(item: Item) -> Sequence[Shape]:
    """What is drawn of an item."""
    return piece_shapes(item.piece) if item.piece is not None else unit_of(item.document).shapes


def put_on(request: HttpRequest, record: Record, item: Item, place: str, base: int) -> HttpResponse:
    """Put a piece on a unit, to the list at a place, or to the first light that takes some; the page that is next."""
    shown = reverse("unit", args=[record.project_id, record.key])
    try:
        if item.piece is None:
            raise Refusal("item", "a piece of hardware", f"{item.name} is a unit.", "Choose a piece of hardware.")
        place = place or first_with_hardware(unit_of(record.data).layout)
        changed = change_unit(record.data, f"{place}.added", json.dumps(dump(item.piece)), record.project.style.bare)
        records.save(record, changed.data, base, request.user, f"{item.name} added")
    except Refusal as refusal:
        messages.error(request, f"{item.name} cannot be put there. {refusal}")
        return redirect(f"{reverse('unit-hardware', args=[record.project_id, record.key])}?at={place}")
    except Stale as stale:
        messages.error(request, f"{record.name} was changed meanwhile: kept aside as version {stale.offered.pk}.")
        return redirect("unit-history", record.project_id, record.key)
    cell = place.removesuffix(".hardware").removesuffix("fill").rstrip(".")
    return redirect(f"{shown}?at={cell}" if cell else shown)
