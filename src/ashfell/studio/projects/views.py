"""The projects of a person, and the page of one: plan, 3D, walls and placements."""

from __future__ import annotations

from collections.abc import Container
from typing import Any, cast, get_args

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.paper import Extent
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.drawing.wall_face import Looks
from ashfell.core.drawing.wall_sheet import wall_sheet
from ashfell.core.finish import LIBRARY
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.edit import ROOM
from ashfell.core.site.listing import Listing, entry_of, listing, some
from ashfell.core.site.measure import outlines, snap
from ashfell.core.site.say.aside import say_camera, say_lamp, say_surrounding
from ashfell.core.site.say.building import say_plate, say_roof, say_storey, say_wall
from ashfell.core.site.say.placement import Around, say_placement
from ashfell.core.site.stands_in import vacant
from ashfell.core.unit.say.writer import Sentence, Writer
from ashfell.formats import glb
from ashfell.services.documents import WALL, ChangedSite, change_site, opened_all, scene_of
from ashfell.services.kept.models import Project, Record
from ashfell.services.kept.records import WAYS, binned_projects_of, listed_projects_of, project_of, record_of
from ashfell.services.textures import jpeg
from ashfell.services.underlays import placed
from ashfell.studio.answers import handed_over, moved, person_of, saved
from ashfell.studio.handover.audited import audited_site
from ashfell.studio.measure import measured, points_of
from ashfell.studio.projects.schedule import sheet as schedule_sheet
from ashfell.studio.projects.sheet import drawn_plan, drawn_wall, hung_in_3d, levels_in_3d, room_of
from ashfell.studio.underlay import AS_KEPT, brought, image_of, laid

ADDED = {
    "add-storey": "storeys",
    "add-wall": "walls",
    "add-plate": "plates",
    "add-roof": "roofs",
    "add-bay": "plates",
    "add-placement": "placements",
    "add-opening": "placements",
    "add-lamp": "lamps",
    "add-camera": "cameras",
    "add-surrounding": "surroundings",
    "add-holes": "walls",
}
"""Where what a request adds is put."""
KEYS = (
    (
        "Everywhere",
        (
            ("?", "this page"),
            ("Ctrl Z", "undo"),
            ("Ctrl Shift Z", "redo"),
            ("Tab", "the next number, button or opening"),
        ),
    ),
    (
        "In a number",
        (
            ("Enter", "keep what is typed"),
            ("Escape", "go back to what was there"),
            ("↑ ↓", "one more or less, with Shift ten"),
        ),
    ),
    (
        "On a drawing",
        (
            ("+ −", "nearer, farther"),
            ("0", "all of it"),
            ("F", "the drawing alone, as large as the page"),
            ("M", "measure"),
            ("Enter, Space", "pick the light or the opening that has the focus"),
            (
                "← → ↑ ↓",
                "move what has the focus: a bar, a point, an opening, the line of a section; with Shift ten times",
            ),
            ("← →", "on the line between two panes: make one wider"),
            ("P", "put the chosen unit where you click, or end that"),
            ("W", "draw walls on the plan, or end that; Escape ends it too"),
        ),
    ),
    (
        "In 3D",
        (
            ("drag", "turn; the opening that is worked on goes along its wall instead, and Escape lets it go"),
            ("drag, Shift drag", "the lamp that is worked on goes along on its level, or up and down"),
            ("← → ↑ ↓", "walk and turn, once Walk is on; with Shift aside"),
        ),
    ),
)
"""What can be done with the keyboard, by where."""
ASKED = ("do", "entry", "value", "wall", "unit", "place", "table", "key", "kind", *WALL)
"""What a request may ask for, besides the sizes of a room."""
ARRANGING = (
    ("equal", "Equal piers", "Make the piers between the openings at this height equal"),
    ("bays", "Equal bays", "Put each opening at this height into the middle of an equal part of the wall"),
    ("heads", "Heads", "Bring the heads at this height into line with this one"),
    ("sills", "Sills", "Bring the sills at this height into line with this one"),
    ("copied", "Copy", "Put another like it behind it"),
    ("alike", "Same unit", "Give every opening at this height its unit, fitted to each"),
)
"""What can be done to the openings at the height of the one that is worked on."""
FARTHEST = 1e8
"""No plan reaches further, mm."""
OTHERS = 60
"""How many other openings of a wall can be chosen to stand beside."""
WALL_WORK = (
    ("split", "Split", "Make two walls of it, in its middle"),
    ("joined", "Join", "Make one wall of it and the one that goes on from it"),
    ("reversed", "Turn over", "Let its outside be where its inside is"),
)
"""What can be done to the wall that is worked on, on the plan."""
SIDES = {"plan": "Plan", "outside": "Outside", "inside": "Inside", "schedule": "Schedule"}
"""What the sheet can show: the site from above, or the wall that is worked on."""


@require_GET
def projects(request: HttpRequest) -> HttpResponse:
    person = person_of(request)
    shown = {"projects": listed_projects_of(person), "binned": binned_projects_of(person), "lengths": Project.LENGTHS}
    return render(request, "projects/list.html", shown)


@require_GET
def keys(request: HttpRequest) -> HttpResponse:
    """Everything that can be done with the keyboard."""
    return render(request, "keys.html", {"tables": KEYS})


@require_POST
@transaction.atomic
def new(request: HttpRequest) -> HttpResponse:
    """Start an empty project."""
    name, lengths = request.POST.get("name", "").strip()[:80], request.POST.get("lengths", "mm")
    if not name:
        messages.error(request, "A project needs a name.")
        return redirect("projects")
    project = Project.objects.create(name=name, lengths=lengths if lengths in Project.LENGTHS else "mm")
    project.members.add(person_of(request))
    Record.start(project, "site", "site", dump(SiteDocument(name=name)), request.user)
    return redirect("project", project.pk)


@require_POST
def lengths(request: HttpRequest, project: int) -> HttpResponse:
    """Show the lengths of a project in another unit; what was typed stays as it was typed."""
    found, asked = project_of(request.user, project), request.POST.get("lengths", "")
    if asked not in Project.LENGTHS:
        known = ", ".join(Project.LENGTHS)
        raise Refusal("lengths", "a known unit", f"Lengths cannot be shown in “{asked}”.", f"Choose one of {known}.")
    found.lengths = asked
    found.save(update_fields=["lengths"])
    return HttpResponse(status=204, headers={"HX-Refresh": "true"})


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    record = record_of(request.user, project, "site", "site")
    return render(request, "projects/page.html", _context(request, record, _kept(record)))


@require_POST
def edit(request: HttpRequest, project: int) -> HttpResponse:
    """Change, add or remove an entry of the site: kept when ``keep`` is 1, otherwise only shown."""
    record = record_of(request.user, project, "site", "site")
    entry, under = request.POST.get("entry", ""), record.underlay
    if entry.startswith("underlay."):
        under = placed(under, entry, request.POST.get("value", ""), record.project.style)
        changed = _kept(record)
    else:
        changed = _changed(request, record)

    def shown() -> HttpResponse:
        return render(request, "projects/_workspace.html", _context(request, record, changed, under))

    if request.POST.get("keep") != "1":
        return shown()
    words = " ".join(request.POST.get(name, "") for name in ("do", "entry", "value")).strip()
    return saved(request, record, changed.data, words, shown, under)


@require_http_methods(["GET", "POST"])
def underlay(request: HttpRequest, project: int) -> HttpResponse:
    """The image under the plan; a POST lays another file there."""
    record = record_of(request.user, project, "site", "site")
    if request.method == "GET":
        return image_of(record)
    under, name = brought(request, "20 m")

    def shown() -> HttpResponse:
        return render(request, "projects/_workspace.html", _context(request, record, _kept(record), under))

    return saved(request, record, record.data, f"Laid under: {name}", shown, under)


@require_POST
def move(request: HttpRequest, project: int, way: str) -> HttpResponse:
    """Undo, redo, or choose one of two versions of the site."""
    if way not in WAYS:
        raise Http404
    record = record_of(request.user, project, "site", "site")
    moved(request, record, way)
    return render(request, "projects/_workspace.html", _context(request, record, _kept(record)))


@require_http_methods(["GET", "POST"])
def site_glb(request: HttpRequest, project: int) -> HttpResponse:
    """The site in 3D; a POST shows a change that is not kept yet."""
    record = record_of(request.user, project, "site", "site")
    built = _changed(request, record) if request.method == "POST" else _kept(record)
    opened = request.POST.get("opened", "")
    if opened.isdecimal() and int(opened) <= 100:
        built = opened_all(built, int(opened))
    content = glb.write_scene(built.site.name, built.scene, built.site.finishes, jpeg)
    return handed_over(request, content, "model/gltf-binary", "site.glb")


@require_POST
def measure(request: HttpRequest, project: int) -> HttpResponse:
    """Points on the plan or on the elevation of a wall snapped to what they are near, and the distance between two."""
    record = record_of(request.user, project, "site", "site")
    asked = points_of(request)
    scene, wall = _kept(record).scene, request.POST.get("host", "")
    named = wall if request.POST.get("side") in get_args(Looks) and wall in scene.standing else ""
    shown = outlines(scene, request.POST.get("at", ""), named)
    return measured([snap(shown, point, asked.reach) for point in asked.points], record.project.style)


@require_GET
def audit(request: HttpRequest, project: int) -> HttpResponse:
    """Findings about the whole site, as it is kept."""
    return audited_site(request, record_of(request.user, project, "site", "site"))


def _kept(record: Record) -> ChangedSite:
    """The site as it is kept."""
    return scene_of(record.data | record.project.stock)


def _changed(request: HttpRequest, record: Record) -> ChangedSite:
    """The site with the change that was sent."""
    asked = {name: request.POST.get(name, "") for name in (*ASKED, *ROOM)}
    return change_site(record.data, record.project.stock, asked, record.project.style.bare)


def _picked(request: HttpRequest, site: SiteDocument) -> str:
    """The address of what is worked on: what was just added, or what the page says."""
    table = ADDED.get(request.POST.get("do", ""))
    if table is None:
        return request.POST.get("at", "") or request.GET.get("at", "")
    key: str = getattr(site, table)[-1].id
    return Address(table) / key


def _said(
    built: ChangedSite, listed: Listing, writer: Writer, units: dict[str, str]
) -> tuple[Sentence | None, Sentence | None]:
    """The sentence of the wall or roof that is opened, and that of what is picked in it or beside it."""
    site, at = built.site, Address(listed.picked)
    storeys = {storey.id: storey.name for storey in site.storeys}
    host = site.wall_by_id.get(listed.wall) or site.roof_by_id.get(listed.wall)
    of_wall = None
    if host is not None:
        of_wall = say_roof(writer, host, storeys) if isinstance(host, Roof) else say_wall(writer, host, storeys)
    match at.parent:
        case "placements":
            placement, standing = site.placement_by_id[at.last], built.scene.standing.get(listed.wall)
            names = {
                one.id: f"{units.get(one.unit or '', one.unit or 'Opening')} ({one.id})"
                for one in site.placements_in.get(listed.wall, ())[:OTHERS]
                if one.id != placement.id
            }
            folds = bool(standing and standing.host.folds)
            panes = {key: one.name for key, one in (LIBRARY | site.finishes).items() if one.transmits}
            unit = site.units.get(placement.unit or "")
            own = unit.finishes.root if unit else {}
            around = Around(units, storeys, names, folds, isinstance(host, Roof), own, panes)
            return of_wall, say_placement(writer, placement, around, built.scene.openings.get(placement.id))
        case "plates":
            plate = next(one for one in site.plates if one.id == at.last)
            walls = {wall.id: wall.name for wall in site.walls}
            return of_wall, say_plate(writer, plate, storeys, walls)
        case "lamps":
            return of_wall, say_lamp(writer, next(one for one in site.lamps if one.id == at.last), storeys)
        case "cameras":
            return of_wall, say_camera(writer, next(one for one in site.cameras if one.id == at.last), storeys)
        case "surroundings":
            openings = vacant(built.scene.openings, built.scene.site, built.scene.units)
            one = next(one for one in site.surroundings if one.id == at.last)
            return of_wall, say_surrounding(writer, one, openings)
        case "storeys":
            return of_wall, say_storey(writer, next(one for one in site.storeys if one.id == at.last))
    return of_wall, None


def _frame(request: HttpRequest) -> Extent | None:
    """What of the plan the page shows: left, foot, right and head, mm."""
    try:
        left, foot, right, head = (float(edge) for edge in request.POST.get("frame", "").split())
    except ValueError:
        return None
    sound = all(abs(edge) < FARTHEST for edge in (left, foot, right, head)) and left < right and foot < head
    return (left, foot, right, head) if sound else None


WORKED = ("paint", "timber", "metal", "rubber")
"""The kinds of surfaces that frames are finished with."""


def _finishes_of(project: Project, kinds: Container[str] = ()) -> dict[str, str]:
    """What walls and roofs can be finished with, or what is of some kinds, by key."""
    finishes = project.all_finishes().items()
    return {key: one.name for key, one in finishes if (one.kind in kinds if kinds else not one.transmits)}


def _asides(listed: Listing) -> list[tuple[Any, ...]]:
    """What stands beside the building: table, words, those that are listed, and how many more there are."""
    return [
        ("lamps", "Lamps", *some(listed.lamps, listed.picked)),
        ("cameras", "Cameras", *some(listed.cameras, listed.picked)),
        ("surroundings", "Surroundings", *some(listed.surroundings, listed.picked)),
    ]


def _context(request: HttpRequest, record: Record, built: ChangedSite, under: Data | None = AS_KEPT) -> dict[str, Any]:
    project, site = record.project, built.site
    picked = _picked(request, site)
    listed = listing(site, picked)
    picked = picked if entry_of(picked) == listed.picked else listed.picked
    side = request.POST.get("side", "") or request.GET.get("side", "")
    units = [(unit.key, unit.name) for unit in project.units]
    unrolled = request.POST.get("unrolled", "") == "1"
    faced = listed.wall or request.POST.get("host", "")  # where a lamp is picked, the wall that was looked at
    sheet, elevation, listed_rows = None, None, None
    if side in get_args(Looks):
        elevation = wall_sheet(built.scene, project.style, faced, picked, cast(Looks, side), unrolled)
    writer = Writer(project.style, _finishes_of(project))
    if side == "schedule":
        first = request.POST.get("first", "")
        frames = Writer(project.style, _finishes_of(project, WORKED))
        names = {key: one.name for key, one in project.all_finishes().items()}
        begin = int(first) if first.isdecimal() else 0
        listed_rows = schedule_sheet(built.scene, frames, dict(units), names, begin)
    elif elevation is None:
        hold = request.POST.get("keep") == "0"
        side, sheet = "plan", plan_sheet(built.scene, project.style, picked, _frame(request), hold)
    drawn = drawn_plan(sheet) if sheet else None
    under = record.underlay if under is AS_KEPT else under
    of_wall, sentence = _said(built, listed, writer, dict(units))
    return {
        "project": project,
        "nav": "site",
        "record": record,
        "base": record.current_id,
        "site": site,
        "listed": listed,
        "at": listed.picked,
        "side": side,
        "sides": SIDES,
        "unrolled": unrolled,
        "faced": faced,
        "room": [(name, name.capitalize(), size) for name, size in room_of(project.style).items()],
        "arranging": ARRANGING,
        "wall_work": WALL_WORK,
        "sheet": drawn,
        "underlay": laid(under, reverse("site-underlay", args=[project.pk]), drawn, project.style) if drawn else None,
        "elevation": drawn_wall(elevation) if elevation else None,
        "schedule": listed_rows,
        "of_wall": of_wall,
        "asides": _asides(listed),
        "hung": hung_in_3d(built.scene.document),
        "at_placement": Address(listed.picked).parent == "placements",
        "sentence": sentence,
        "step": "1/16 in" if project.style.bare in ("in", "ft") else "1 mm",
        "style": project.style,
        "levels": levels_in_3d(site),
        "units": units,
        "names": dict(units),
        "undone": record.undone,
        "redone": record.redone,
        "refused": built.scene.refused,
        "edit_url": reverse("site-edit", args=[project.pk]),
        "view_url": reverse("site-view", args=[project.pk]),
    }
