"""What the pages of documents share: saving, the stale save, undo and redo, refusals, files handed over."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render

from ashfell.core.base.refusal import Refusal
from ashfell.studio.projects.models import Data, Record, Stale

REFUSED, STALE = 422, 409


def base_of(request: HttpRequest) -> int:
    """The revision the page was showing when the change was made."""
    text = request.POST.get("base", "")
    return int(text) if text.isdecimal() else 0


def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    """The message for what cannot be built; the page keeps what it shows."""
    typed = request.POST.get("value", "")
    answer = render(request, "_refusal.html", {"refusal": refusal, "typed": typed}, status=REFUSED)
    return _into_message(answer)


def save_or_offer(
    request: HttpRequest, record: Record, data: Data, words: str, shown: Callable[[], HttpResponse]
) -> HttpResponse:
    """Save and show the page, or, when the save is stale, offer both versions."""
    if data == record.data and base_of(request) == record.current_id:
        return shown()
    try:
        record.save_change(data, base_of(request), request.user, words)
    except Stale as stale:
        record.refresh_from_db()
        answer = render(request, "_stale.html", {"record": record, "offered": stale.offered}, status=STALE)
        return _into_message(answer)
    return shown()


def moved(request: HttpRequest, record: Record, way: str) -> bool:
    """Undo, redo, or take one of two offered versions; False when there is nothing to move to."""
    if way == "choose":
        revision: Any = get_object_or_404(record.revisions, pk=request.POST.get("revision", "0"))
        return record.choose(revision, record.current_id)
    target = record.undone if way == "undo" else record.redone
    return target is not None and record.choose(target, base_of(request))


def handed_over(request: HttpRequest, content: bytes | str, kind: str, name: str) -> HttpResponse:
    """A file for the page, or, with ``download`` in the address, for the person."""
    answer = HttpResponse(content, content_type=kind)
    if "download" in request.GET:
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def _into_message(answer: HttpResponse) -> HttpResponse:
    answer["HX-Retarget"] = "#message"
    answer["HX-Reswap"] = "innerHTML"
    return answer
