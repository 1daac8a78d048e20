"""Behind a proxy: who asks is who the proxy says."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class Proxy:
    """Middleware, there only where the server is told that it stands behind a proxy: the address of who asks is the
    last that was forwarded, which is the proxy's own word; what a client wrote before it is not believed."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        forwarded = request.headers.get("X-Forwarded-For", "").rpartition(",")[2].strip()
        if forwarded:
            request.META["REMOTE_ADDR"] = forwarded
        return self.get_response(request)
