"""One line of JSON for each request, faults by a number that their page shows, and headers that all pages have."""

from __future__ import annotations

import json
import logging
import secrets
import time
from collections.abc import Callable

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse, HttpResponseServerError
from django.template.loader import render_to_string

from ashfell.studio.keeping.counters import count

requests = logging.getLogger("ashfell.requests")
faults = logging.getLogger("ashfell.faults")

POLICY = "camera=(), microphone=(), geolocation=(), payment=(), usb=()"
UNKEPT = "private, no-store"


class Telling:
    """Middleware, the outermost: who asked what, what was answered, and in how many milliseconds."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        begun, number = time.perf_counter(), secrets.token_hex(6)
        request.number = number  # type: ignore[attr-defined]
        answer = self.get_response(request)
        if answer.status_code == 405 and not answer.content:
            answer.content = render_to_string("405.html", {"allowed": answer["Allow"]}).encode()
        answer["X-Request-Number"] = number
        answer.setdefault("Permissions-Policy", POLICY)
        person = getattr(request, "user", None)
        signed_in = person is not None and person.is_authenticated
        if signed_in and answer.get("Content-Type", "").startswith("text/html"):
            answer.setdefault("Cache-Control", UNKEPT)
        seconds = time.perf_counter() - begun
        count(request, answer.status_code, seconds)
        told = {
            "number": number,
            "method": request.method,
            "path": request.path[:300],
            "status": answer.status_code,
            "ms": round(seconds * 1000, 1),
            "person": person.pk if signed_in and person is not None else None,
        }
        requests.info(json.dumps(told, ensure_ascii=False))
        return answer

    def process_exception(self, request: HttpRequest, exception: Exception) -> None:
        """A fault is written down under the number of its request."""
        if not isinstance(exception, RequestDataTooBig):
            number = getattr(request, "number", "")
            faults.error(json.dumps({"number": number, "path": request.path[:300]}), exc_info=exception)


def fault(request: HttpRequest) -> HttpResponse:
    """The page of a fault, with its number."""
    number = getattr(request, "number", "")
    return HttpResponseServerError(render_to_string("500.html", {"number": number}))
