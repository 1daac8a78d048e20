"""What a role may do, asked once for every request that is of a project."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.services.kept.models import Role
from ashfell.services.kept.records import role_in
from ashfell.studio.answers import into_message
from ashfell.studio.keeping.models import Event

SAFE = ("GET", "HEAD", "OPTIONS")
LOOKING = {
    "site-measure",
    "unit-measure",
    "site-view",
    "unit-view",
    "handover-start",
    "handover-cancel",
    "member-leave",
    "here",
}
"""What a viewer may send all the same: nothing of the project changes by it."""
SHOWN_ONLY = {"site-edit", "unit-edit", "finish-edit"}
"""What changes nothing as long as it is not to be kept."""
OWNERS = {"member-invite", "member-withdraw", "member-role", "member-remove", "bin-gone", "project-bin"}
"""What only owners may send."""


class Roles:
    """Middleware: a viewer changes nothing, and only owners say who else may."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: dict[str, Any]) -> HttpResponse | None:
        """None where the view may answer. Who is no member is told by the view that there is no such project."""
        project, match = kwargs.get("project"), request.resolver_match
        if project is None or match is None or not request.user.is_authenticated or match.namespaces:
            return None
        role = role_in(request.user, project)
        request.role = role  # type: ignore[attr-defined]
        if not role or request.method in SAFE:
            return None
        name = match.url_name or ""
        shown = name in SHOWN_ONLY and request.POST.get("keep") != "1"
        looks = role == Role.VIEWER and name not in LOOKING and not shown
        if looks or (name in OWNERS and role != Role.OWNER):
            Event.tell(project, request.user, f"was not let {name.replace('-', ' ')}, being {role}")
        if name in OWNERS and role != Role.OWNER:
            return forbidden(request, "Only an owner of the project may do this.")
        if looks:
            told = "You may look at this project, not change it. Ask one of its owners to make you an editor."
            return forbidden(request, told)
        return None


def forbidden(request: HttpRequest, told: str) -> HttpResponse:
    """The answer to what somebody may not do: on the page that is shown, or as a page of its own."""
    if "HX-Request" in request.headers or request.headers.get("Sec-Fetch-Dest") == "empty":
        return into_message(render(request, "_told.html", {"told": told}, status=403))
    return render(request, "403.html", {"told": told}, status=403)
