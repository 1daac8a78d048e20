"""Who is let in: a token's person, with what the token may do; and how what is wrong is told."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.security import HttpBearer

from ashfell.core.base.refusal import Refusal
from ashfell.services.kept.models import Project, Role, Stale
from ashfell.services.kept.records import project_of, role_in
from ashfell.studio.answers import REFUSED, STALE
from ashfell.studio.api.models import Token


class Bearer(HttpBearer):
    """A token in the header ``Authorization: Bearer …``."""

    def authenticate(self, request: HttpRequest, token: str) -> Any:
        found = Token.of(token)
        if found is not None:
            request.user = found.person
        return found


def project_for(request: HttpRequest, project: int, write: bool = False) -> Project:
    """A project of the token's person, to be changed only by a token that may.

    Raises
    ------
    Http404, HttpError
    """
    found = project_of(request.user, project)
    if write:
        may_write(request)
        if role_in(request.user, project) == Role.VIEWER:
            raise HttpError(403, "You may look at this project, not change it. Ask one of its owners.")
    return found


def asked_as_of(request: HttpRequest) -> str:
    """What a program calls its asking, in the header ``Idempotency-Key``."""
    return str(request.headers.get("Idempotency-Key", "")).replace("\0", "")[:80]


def may_write(request: HttpRequest) -> None:
    """Refuse a token that only reads."""
    if request.auth.scope != "write":  # type: ignore[attr-defined]
        raise HttpError(403, "This token only reads. Make one that writes.")


def told(refusal: Refusal) -> dict[str, Any]:
    """A refusal as data."""
    return {
        "entry": refusal.entry,
        "rule": refusal.rule,
        "message": refusal.message,
        "remedy": refusal.remedy,
        "nearest": None if refusal.nearest is None else str(refusal.nearest),
    }


def tell_what_is_wrong(api: NinjaAPI) -> None:
    """Refusals and stale saves are answers with what is wrong and what to do."""

    @api.exception_handler(Refusal)
    def refused(request: HttpRequest, refusal: Refusal) -> HttpResponse:
        return api.create_response(request, told(refusal), status=REFUSED)

    @api.exception_handler(ValidationError)
    def misfit(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first: dict[str, Any] = {
            "loc": ("body",),
            "type": "value",
            "msg": "It does not fit.",
            **(error.errors or [{}])[0],
        }
        places = [str(step) for step in first["loc"] if step not in ("body", "path", "query", "typed")]
        body = {
            "entry": ".".join(places),
            "rule": str(first["type"]).replace("_", " "),
            "message": f"{first['msg']}.",
            "remedy": "Send what the description of this address says.",
            "nearest": None,
        }
        return api.create_response(request, body, status=REFUSED)

    @api.exception_handler(Stale)
    def stale(request: HttpRequest, error: Stale) -> HttpResponse:
        record = error.offered.record
        record.refresh_from_db()
        body = {
            "entry": "revision",
            "rule": "the revision in force",
            "message": "It was changed since that revision.",
            "remedy": "Read it again, make the change there, and send its revision.",
            "nearest": None,
            "current": record.current_id,
            "offered": error.offered.pk,
        }
        return api.create_response(request, body, status=STALE)
