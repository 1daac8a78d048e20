"""The finishes page: those that ship, and the project's own."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, Finish
from ashfell.pictures.develop import png
from ashfell.pictures.swatch import swatch
from ashfell.services.kept.models import Project, Record, Stale
from ashfell.services.kept.records import project_of, record_of
from ashfell.studio.answers import base_of

NUMBERS = ("roughness", "metallic", "transmission", "ior")


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    owner = project_of(request.user, project)
    shown = {"project": owner, "nav": "finishes", "library": LIBRARY, "own": owner.own_finishes()}
    return render(request, "finishes/page.html", shown)


@require_GET
@cache_control(private=True, max_age=60)
def swatch_png(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """A small picture of a finish."""
    return HttpResponse(png(swatch(_found(project_of(request.user, project), key))), content_type="image/png")


@require_POST
def copy(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Start a finish of the project's own from another."""
    owner = project_of(request.user, project)
    finish = _found(owner, key)
    name = f"{finish.name}, own"[:80]
    made = Record.start(owner, "finish", _free_key(owner, name), dump(finish) | {"name": name}, request.user)
    return redirect("finish", project, made.key)


@require_http_methods(["GET", "POST"])
def edit(request: HttpRequest, project: int, key: str) -> HttpResponse:
    """Change one of the project's own finishes, once for all units that use it."""
    record = record_of(request.user, project, "finish", key)
    refusal, data = None, record.data
    if request.method == "POST":
        data = _typed(request, record.data)
        try:
            record.save_change(dump(read(Finish, data)), base_of(request), request.user, "Finish changed")
        except Refusal as error:
            refusal = error
        except Stale as stale:
            record.refresh_from_db()
            messages.error(request, f"{record.current} is newer; yours is kept as version {stale.offered.pk}.")
            return redirect("finish", project, key)
        else:
            messages.success(request, f"{data['name']} is kept.")
            return redirect("finishes", project)
    shown = {"project": record.project, "nav": "finishes", "record": record, "finish": data, "refusal": refusal}
    return render(request, "finishes/edit.html", shown, status=422 if refusal else 200)


def _typed(request: HttpRequest, data: Data) -> Data:
    """The finish with what was typed; text that is no number is left for the document to refuse."""
    typed = data | {"name": request.POST.get("name", ""), "colour": request.POST.get("colour", "").lower()}
    typed |= {name: request.POST.get(name, data[name]) for name in NUMBERS}
    if data["texture"]:
        second, tile = request.POST.get("second", ""), request.POST.get("tile", "")
        typed["texture"] = data["texture"] | {"second": second.lower(), "tile": tile}
    return typed


def _free_key(project: Project, name: str) -> str:
    key = project.free_key("finish", name)
    return key if key not in LIBRARY else f"{key}-own"


def _found(project: Project, key: str) -> Finish:
    finish = project.all_finishes().get(key)
    if finish is None:
        raise Http404
    return finish
