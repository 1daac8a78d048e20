"""The fit bench: openings and units side by side, and what becomes of them, before it is done."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from ashfell.core.base.document import typed_length
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import SIDES
from ashfell.core.site.schedule import Row, rows
from ashfell.core.unit.say.writer import Writer
from ashfell.services.documents import ChangedSite, fit_units, scene_of
from ashfell.services.kept import records
from ashfell.services.kept.models import Record, Stale
from ashfell.services.kept.records import record_of
from ashfell.studio.answers import base_of

SHOWN = 200
"""How many openings are listed at once; more are chosen by their wall."""
WAYS = {"unit": "Solve the unit to the openings", "opening": "Make the openings for the unit"}


@require_http_methods(["GET", "POST"])
def bench(request: HttpRequest, project: int) -> HttpResponse:
    """The bench; a POST shows what would become of the openings that are chosen, or keeps it."""
    record = record_of(request.user, project, "site", "site")
    built = scene_of(record.data | record.project.stock)
    if request.method == "GET":
        return render(request, "projects/fit.html", _context(request, record, built))
    try:
        told = _fitted(request, record, built)
    except Refusal as refusal:
        return render(request, "projects/_fitted.html", {"refusal": refusal})
    if request.POST.get("keep") == "1" and told["done"]:
        return _keep(request, record, told)
    return render(request, "projects/_fitted.html", told)


def _keep(request: HttpRequest, record: Record, told: dict[str, Any]) -> HttpResponse:
    words = f"fit {told['unit']} to {told['done']} openings"
    try:
        records.save(record, told["data"], base_of(request), request.user, words)
        messages.success(request, f"{told['done']} openings are fitted.")
    except Stale:
        messages.error(request, "Somebody changed the project meanwhile; both versions are kept. Choose one.")
    answer = redirect("project", record.project_id)
    return HttpResponse(status=204, headers={"HX-Redirect": answer["Location"]}) if _is_part(request) else answer


def _is_part(request: HttpRequest) -> bool:
    return request.headers.get("HX-Request") == "true"


def _fitted(request: HttpRequest, record: Record, built: ChangedSite) -> dict[str, Any]:
    """What becomes of the openings that are chosen."""
    bare = record.project.style.bare
    gaps = {
        name: typed_length(f"gap.{name}", text, bare)
        for name in ("all", *SIDES)
        if (text := request.POST.get(f"gap-{name}", "").strip())
    }
    way: Any = request.POST.get("way", "unit")
    if way not in WAYS:
        raise Refusal("way", "a known way", f"“{way}” is no way to fit.", f"Choose {', '.join(WAYS)}.")
    chosen, unit = set(request.POST.getlist("at")), request.POST.get("unit", "")
    data, results = fit_units(record.data, record.project.stock, built, chosen, unit, gaps, way)
    w = Writer(record.project.style, {})
    names = {one.id: one.mark or one.id for one in built.site.placements}
    lines = [
        {
            "name": names[one.placement],
            "opening": w.by(*one.opening),
            "unit": w.by(*one.unit) if one.unit else "",
            "lights": one.lights,
            "refusal": one.refusal,
        }
        for one in results
    ]
    done = sum(1 for one in results if one.refusal is None)
    return {"lines": lines, "done": done, "refused": len(lines) - done, "data": data, "unit": unit}


def _context(request: HttpRequest, record: Record, built: ChangedSite) -> dict[str, Any]:
    project, site = record.project, built.site
    hosts = [*((one.id, one.name) for one in site.walls), *((one.id, one.name) for one in site.roofs)]
    walls = [(key, name) for key, name in hosts if site.placements_in.get(key)]
    wall = request.GET.get("wall", "")
    if wall not in dict(walls) and len(site.placements) > SHOWN:
        wall = walls[0][0]
    w, names = Writer(project.style, {}), {unit.key: unit.name for unit in project.units}
    here = [row for row in rows(built.scene) if row.opening and (not wall or row.placement.wall == wall)][:SHOWN]
    return {
        "project": project,
        "nav": "site",
        "base": record.current_id,
        "walls": walls,
        "wall": wall,
        "openings": [_line(row, dict(walls), names, w) for row in here],
        "units": [(unit.key, unit.name, unit.current_id) for unit in project.units],
        "sides": [(side, side.capitalize()) for side in SIDES],
        "ways": WAYS,
    }


def _line(row: Row, walls: dict[str, str], names: dict[str, str], w: Writer) -> dict[str, Any]:
    placement = row.placement
    assert row.opening is not None
    return {
        "id": placement.id,
        "mark": placement.mark or placement.id,
        "wall": walls.get(placement.wall, placement.wall),
        "unit": names.get(placement.unit or "", "no unit"),
        "size": w.by(row.opening.width, row.opening.height),
        "count": row.count,
    }
