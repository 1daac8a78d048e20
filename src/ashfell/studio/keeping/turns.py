"""Requests take turns: what is sent is taken in first, however slowly it comes, and only so many are worked on at once.
What is larger than it may be is refused before it is read."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from contextlib import ExitStack
from threading import BoundedSemaphore

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.services.reading.readers import LARGEST

AT_ONCE = max(2, os.cpu_count() or 2)
"""How many requests one process works on at once."""
LONG, REMEMBERED = 0.5, 500
"""How long a request takes that does not stand beside another such one, seconds; how many such addresses are known."""
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
        self.free, self.alone = BoundedSemaphore(AT_ONCE), BoundedSemaphore(1)
        self.long: dict[str, None] = {}

    def __call__(self, request: HttpRequest) -> HttpResponse:
        known = settings.SESSION_COOKIE_NAME in request.COOKIES or "Authorization" in request.headers
        most = LARGEST + ROUND if known else STRANGERS
        length = request.META.get("CONTENT_LENGTH") or "0"
        if not length.isdecimal() or int(length) > most:
            told = f"At most {most // 2**20} MiB can be sent at once."
            return render(request, "413.html", {"told": told}, status=413)
        if request.method == "POST" and "json" not in (request.content_type or ""):
            _ = request.POST  # takes in what is sent; files go into the folder of temporary ones
        # What took long before waits for others like it, and not others for it.
        lanes = [self.alone, self.free] if request.path in self.long else [self.free]
        with ExitStack() as held:
            for lane in lanes:
                if not lane.acquire(timeout=PATIENCE):
                    answer = render(request, "503.html", status=503)
                    answer["Retry-After"] = str(int(PATIENCE))
                    return answer
                held.callback(lane.release)
            begun = time.monotonic()
            answer = self.get_response(request)
            self._remember(request.path, time.monotonic() - begun)
            return answer

    def _remember(self, path: str, seconds: float) -> None:
        """Which addresses take long, the last of them."""
        self.long.pop(path, None)
        if seconds > LONG:
            self.long[path] = None
            for oldest in [*self.long][:-REMEMBERED]:
                self.long.pop(oldest, None)
