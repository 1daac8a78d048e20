"""Requests take turns: what is sent is taken in first, however slowly it comes, and only so many are worked on at once.
What is larger than it may be is refused before it is read."""

from __future__ import annotations

import os
from collections.abc import Callable
from threading import BoundedSemaphore

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.services.reading.readers import LARGEST

AT_ONCE = max(2, os.cpu_count() or 2)
"""How many requests one process works on at once."""
PATIENCE = 30.0
"""How long a request waits for its turn, seconds."""
ROUND = 2**20
"""What a form may hold besides its file, bytes."""
STRANGERS = 2**20
"""What somebody may send who is not signed in, bytes."""


class Turns:
    """Middleware before all that reads what is sent."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.free = BoundedSemaphore(AT_ONCE)

    def __call__(self, request: HttpRequest) -> HttpResponse:
        known = settings.SESSION_COOKIE_NAME in request.COOKIES or "Authorization" in request.headers
        most = LARGEST + ROUND if known else STRANGERS
        length = request.META.get("CONTENT_LENGTH") or "0"
        if not length.isdecimal() or int(length) > most:
            told = f"At most {most // 2**20} MiB can be sent at once."
            return render(request, "413.html", {"told": told}, status=413)
        if request.method == "POST" and "json" not in (request.content_type or ""):
            _ = request.POST  # takes in what is sent; files go into the folder of temporary ones
        if not self.free.acquire(timeout=PATIENCE):
            answer = render(request, "503.html", status=503)
            answer["Retry-After"] = str(int(PATIENCE))
            return answer
        try:
            return self.get_response(request)
        finally:
            self.free.release()
