"""Requests take turns: what is sent is taken in first, however slowly it comes, one is worked on after the other, and
beside one that takes longer the next. What is larger than it may be is refused before it is read."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from math import inf
from threading import Condition

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.services.reading.readers import LARGEST

AT_ONCE = max(2, os.cpu_count() or 2)
"""How many requests one process works on at once, at most, beside one that takes long."""
BESIDE = 0.1
"""How long a request is worked on before the next is begun beside it, seconds: short ones are done sooner one by one.
"""
LONG, REMEMBERED = 0.5, 500
"""How long a request takes that does not stand beside another such one, seconds; how many such addresses are known."""
PATIENCE = 30.0
"""How long a request waits for its turn, seconds."""
ROUND = 2**20
"""What a form may hold besides its file, bytes."""
STRANGERS = 2**20
"""What somebody may send who is not signed in, bytes."""


class Lane:
    """Some requests at once, the next beside those that were begun some time ago."""

    def __init__(self, most: int, beside: float = 0.0) -> None:
        self.most, self.beside = most, beside
        self.begun: list[float] = []
        self.left = Condition()

    def enter(self, patience: float) -> float | None:
        """Wait for a turn, so many seconds at most; when it was begun, or None where there was none."""
        until = time.monotonic() + patience
        with self.left:
            while (wait := self._wait(now := time.monotonic())) > 0:
                if now >= until:
                    return None
                self.left.wait(min(wait, until - now))
            self.begun.append(now)
            return now

    def leave(self, begun: float) -> None:
        """Let the next have its turn."""
        with self.left:
            self.begun.remove(begun)
            self.left.notify()

    def _wait(self, now: float) -> float:
        """How long until the next may be begun unless one is done before, seconds."""
        if len(self.begun) >= self.most:
            return inf
        return self.begun[-1] + self.beside - now if self.begun else 0.0


class Turns:
    """Middleware before all that reads what is sent."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response
        self.free, self.alone = Lane(AT_ONCE, BESIDE), Lane(1)
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
        lane = self.alone if request.path in self.long else self.free
        begun = lane.enter(PATIENCE)
        if begun is None:
            answer = render(request, "503.html", status=503)
            answer["Retry-After"] = str(int(PATIENCE))
            return answer
        try:
            answer = self.get_response(request)
            self._remember(request.path, time.monotonic() - begun)
            return answer
        finally:
            lane.leave(begun)

    def _remember(self, path: str, seconds: float) -> None:
        """Which addresses take long, the last of them."""
        self.long.pop(path, None)
        if seconds > LONG:
            self.long[path] = None
            for oldest in [*self.long][:-REMEMBERED]:
                self.long.pop(oldest, None)
