"""The projects of a person, and the page of one: plan, 3D, walls and placements."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.audit import audit_scene
from ashfell.core.base.document import Data, dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.scene import Scene, build_scene
from ashfell.core.wall import SiteDocument, read_site
from ashfell.core.wall.edit import add, change, place_unit, refuse_worse, remove
from ashfell.core.wall.solid import wall_matrix
from ashfell.formats import glb
from ashfell.studio.projects.access import project_of, record_of
from ashfell.studio.projects.models import Project, Record
from ashfell.studio.projects.plan import plan_sheet, rows_of
from ashfell.studio.projects.saving import handed_over, moved, refused, save_or_offer

WAYS = ("undo", "redo", "choose")


@dataclass(frozen=True)
class Built:
    """A project's site with all that is made of it."""

    site: SiteDocument
    scene: Scene

    @classmethod
    def of(cls, data: Data) -> Built:
        site = read_site(data)
        return cls(site, build_scene(site))


@require_GET
def projects(request: HttpRequest) -> HttpResponse:
    owned = Project.objects.filter(members=request.user)
    return render(request, "projects/list.html", {"projects": owned, "lengths": Project.LENGTHS})


@require_POST
@transaction.atomic
def new(request: HttpRequest) -> HttpResponse:
    """Start an empty project."""
    name, lengths = request.POST.get("name", "").strip()[:80], request.POST.get("lengths", "mm")
    if not name:
        messages.error(request, "A project needs a name.")
        return redirect("projects")
    project = Project.objects.create(name=name, lengths=lengths if lengths in Project.LENGTHS else "mm")
    project.members.add(request.user)
    Record.start(project, "site", "site", dump(SiteDocument(name=name)), request.user)
    return redirect("project", project.pk)


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    owner = project_of(request, project)
    return render(request, "projects/page.html", _context(owner, owner.site))


@require_POST
def edit(request: HttpRequest, project: int) -> HttpResponse:
    """Change, add or remove an entry of the site: kept when ``keep`` is 1, otherwise only shown."""
    owner = project_of(request, project)
    record = record_of(request, project, "site", "site")
    try:
        data = _changed(request, owner, record.data)
        composed = owner.composed(data)
        refuse_worse(read_site(owner.composed(record.data)), read_site(composed))
    except Refusal as refusal:
        return refused(request, refusal)

    def shown() -> HttpResponse:
        return render(request, "projects/_workspace.html", _context(owner, record, composed))

    if request.POST.get("keep") != "1":
        return shown()
    words = " ".join(request.POST.get(name, "") for name in ("do", "entry", "value")).strip()
    return save_or_offer(request, record, data, words, shown)


@require_POST
def move(request: HttpRequest, project: int, way: str) -> HttpResponse:
    """Undo, redo, or choose one of two versions of the site."""
    if way not in WAYS:
        raise Http404
    owner = project_of(request, project)
    record = record_of(request, project, "site", "site")
    if not moved(request, record, way):
        record.refresh_from_db()
    return render(request, "projects/_workspace.html", _context(owner, record))


@require_http_methods(["GET", "POST"])
def site_glb(request: HttpRequest, project: int) -> HttpResponse:
    """The site in 3D; a POST shows a change that is not kept yet."""
    owner = project_of(request, project)
    try:
        data = _changed(request, owner, owner.site.data) if request.method == "POST" else owner.site.data
        built = Built.of(owner.composed(data))
    except Refusal as refusal:
        return refused(request, refusal)
    content = glb.write_scene(built.site.name, built.scene, built.site.finishes)
    return handed_over(request, content, "model/gltf-binary", "site.glb")


@require_GET
def audit(request: HttpRequest, project: int) -> HttpResponse:
    """Findings about the whole site."""
    built = Built.of(project_of(request, project).composed_site())
    checked = f"{len(built.scene.parts)} parts in {len(built.scene.instances)} places"
    return render(request, "_findings.html", {"findings": audit_scene(built.site, built.scene), "checked": checked})


def _changed(request: HttpRequest, project: Project, data: Data) -> Data:
    """The site document with the change that was sent."""
    asked = request.POST
    match asked.get("do", ""):
        case "add-wall":
            return add(data, "walls", **_beside(data, project.style.bare))
        case "add-plate":
            return add(data, "plates")
        case "add-placement":
            site = read_site(project.composed(data))
            return place_unit(data, site, asked.get("wall", ""), asked.get("unit", ""))
        case "remove":
            return remove(data, asked.get("table", ""), asked.get("key", ""))
    entry = asked.get("entry", "")
    return change(data, entry, asked.get("value", ""), project.style.bare) if entry else data


FIRST_WALL = {"name": "Wall 1"}
FIRST_WALL_IN_FEET = FIRST_WALL | {"length": "16'", "thickness": '12"', "height": "9'", "lining": '1/2"'}


def _beside(data: Data, bare: str) -> dict[str, Any]:
    """Where a new wall starts: at the end of the last one, turned to the left, so that a chain closes."""
    if not data["walls"]:
        return FIRST_WALL_IN_FEET if bare in ("in", "ft") else FIRST_WALL
    site = read_site({"walls": data["walls"]})
    last = site.walls[-1]
    end = wall_matrix(last) @ [float(last.length.mm), 0, 0, 1]
    return {
        "name": f"Wall {len(data['walls']) + 1}",
        "x": f"{end[0]:.6g}",
        "y": f"{end[1]:.6g}",
        "angle": (last.angle + 90) % 360,
        "thickness": last.thickness.text,
        "height": last.height.text,
        "lining": last.lining.text,
        "outside": last.outside,
        "inside": last.inside,
    }


def _context(project: Project, record: Record, composed: Data | None = None) -> dict[str, Any]:
    built = Built.of(composed or project.composed(record.data))
    return {
        "project": project,
        "nav": "site",
        "record": record,
        "base": record.current_id,
        "site": built.site,
        "rows": rows_of(built.site),
        "plates": list(enumerate(built.site.plates)),
        "sheet": plan_sheet(built.site, built.scene, project.style),
        "style": project.style,
        "units": [(unit.key, unit.name) for unit in project.units],
        "finishes": {key: f for key, f in project.all_finishes().items() if not f.transmits},
        "undone": record.undone,
        "redone": record.redone,
        "refused": built.scene.refused,
        "edit_url": reverse("site-edit", args=[project.pk]),
        "view_url": reverse("site-view", args=[project.pk]),
    }
