"""What the pages of documents share: the revision a change started from, refusals, the stale save, files handed
over.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib.auth.models import User
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.services.kept import records
from ashfell.services.kept.models import Record, Stale

REFUSED, STALE = 422, 409
FULL = (
    "The disk of the server is full, so this is not kept. What you typed is still here: press Enter once there is room."
)
OFFERED = 40
"""How many entries of two versions are shown beside each other."""
TAKEN = "take:"
"""What the name of a chosen entry begins with."""
LARGEST_NUMBER = 2**63 - 1


def base_of(request: HttpRequest) -> int:
    """The revision the page was showing when the change was made."""
    text = request.POST.get("base", "")
    return int(text) if text.isdecimal() and len(text) < 15 else 0


def person_of(request: HttpRequest) -> User:
    """Who is signed in; the middleware lets nobody else come to a page of documents."""
    assert isinstance(request.user, User)
    return request.user


def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
    """The message for what cannot be built; the page keeps what it shows."""
    if request.headers.get("Sec-Fetch-Dest") == "document":
        return render(request, "422.html", {"refusal": refusal}, status=REFUSED)
    typed = request.POST.get("value", "")
    return into_message(render(request, "_refusal.html", {"refusal": refusal, "typed": typed}, status=REFUSED))


class Refusals:
    """Middleware: what is refused while a page is made is told, whichever page it is."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: dict[str, Any]) -> None:
        """Numbers in an address that no database holds are those of nothing."""
        if any(isinstance(value, int) and value > LARGEST_NUMBER for value in kwargs.values()):
            raise Http404

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """The answer to a refusal, and to a stale save; any other error is not for this."""
        if isinstance(exception, Stale):
            return offered(request, exception)
        if isinstance(exception, OperationalError) and "full" in str(exception):
            return into_message(render(request, "_told.html", {"told": FULL}, status=507))
        return refused(request, exception) if isinstance(exception, Refusal) else None


def saved(
    request: HttpRequest,
    record: Record,
    data: Data,
    words: str,
    shown: Callable[[], HttpResponse],
    underlay: Any = "as it is",
) -> HttpResponse:
    """Save and show the page; when the save is stale, the middleware offers both versions."""
    records.save(record, data, base_of(request), request.user, words, underlay)
    return shown()


def offered(request: HttpRequest, stale: Stale) -> HttpResponse:
    """Both versions, entry by entry: what is in force, and what was to be saved."""
    record = Record.objects.select_related("project", "current__author", "current__parent").get(
        pk=stale.offered.record_id
    )
    rows = records.rivals(record, stale.offered)
    offer = {"record": record, "offered": stale.offered, "rows": rows[:OFFERED], "more": len(rows[OFFERED:])}
    return into_message(render(request, "_stale.html", offer, status=STALE))


def moved(request: HttpRequest, record: Record, way: str) -> None:
    """Undo, redo, or take one of two offered versions, or of each what was chosen, as the page asked.

    Raises
    ------
    Stale
        When the page offered two versions and a third is in force by now.
    """
    revision, seen = (request.POST.get(name, "0") for name in ("revision", "seen"))
    number = int(revision) if revision.isdecimal() and len(revision) < 15 else 0
    if way == "choose" and seen != "0":
        base = int(seen) if seen.isdecimal() and len(seen) < 15 else 0
        taken = [name.removeprefix(TAKEN) for name in request.POST if name.startswith(TAKEN)]
        records.take_of_both(record, number, base, taken, request.user)
        record.refresh_from_db()
    elif not records.move(record, way, base_of(request), number):  # type: ignore[arg-type]
        record.refresh_from_db()


def handed_over(request: HttpRequest, content: bytes | str, kind: str, name: str) -> HttpResponse:
    """A file for the page, or, with ``download`` in the address, for the person."""
    answer = HttpResponse(content, content_type=kind)
    if "download" in request.GET:
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def into_message(answer: HttpResponse) -> HttpResponse:
    """An answer that goes where the page tells what is wrong."""
    answer["HX-Retarget"] = "#message"
    answer["HX-Reswap"] = "innerHTML"
    return answer
