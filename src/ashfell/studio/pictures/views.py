"""The picture page: camera, sun, size and quality; the queue with its progress; the gallery."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import FileResponse, Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import groups
from ashfell.core.site.document.site import read_site
from ashfell.core.site.edit import add
from ashfell.core.site.scene import Scene, build_scene
from ashfell.pictures.framing import first_look, kept_as, look_at, through
from ashfell.pictures.settings import PASSES, SKIES, SURFACES, PictureSettings
from ashfell.services.images import brought
from ashfell.services.kept import records
from ashfell.services.kept.models import Asset, Project
from ashfell.services.kept.records import project_of, record_of
from ashfell.studio.answers import person_of, refused
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import ask_pass

SIZES = ("320 × 200", "640 × 400", "960 × 600", "1280 × 800", "1920 × 1200")


@require_GET
def page(request: HttpRequest, project: int) -> HttpResponse:
    owner = project_of(request.user, project)
    like = request.GET.get("like", "")
    asked = owner.pictures.filter(pk=int(like)) if like.isdecimal() and len(like) < 15 else None
    last = asked.first() if asked else owner.pictures.filter(sheet=None).first()
    scene = build_scene(read_site(owner.composed_site()))
    shown = last.asked_whole if last else first_look(scene)
    told, kept = None, request.GET.get("camera", "")
    camera = next((one for one in scene.site.cameras if one.id == kept), None)
    if camera:
        shown = shown.model_copy(update={"camera": through(scene.site, camera)})
    elif "frame" in request.GET:
        try:
            shown = shown.model_copy(update={"camera": look_at(scene, request.GET["frame"])})
        except Refusal as refusal:
            told = refusal
    context = {
        "settings": shown,
        "left_out": scene.refused,
        "told": told,
        "framed": request.GET.get("frame", ""),
        "through": camera.id if camera else "",
        "cameras": scene.site.cameras,
        "lights": _lights(scene, shown),
        "skies": SKIES,
        "surfaces": SURFACES,
        "chosen_size": f"{shown.width} × {shown.height}" if asked else "640 × 400",
    }
    return render(request, "pictures/page.html", _context(owner) | context | {"frames": _frames(scene)})


def _lights(scene: Scene, shown: PictureSettings) -> list[tuple[str, str, bool]]:
    """What may shine: the key of each layer, its words, and whether it is on."""
    named = [("sun", "Sun"), ("sky", "Sky"), *((f"lamps:{group}", group) for group in groups(scene.site))]
    return [(key, words, key not in shown.off) for key, words in named]


@require_POST
def keep_camera(request: HttpRequest, project: int) -> HttpResponse:
    """Keep where one stands as a camera of the site, under a name."""
    record = record_of(request.user, project, "site", "site")
    camera = read(PictureSettings, _typed(request)).camera
    name = request.POST.get("camera_name", "").strip()[:80] or "Camera"
    data = add(record.data, "cameras", name=name, **kept_as(camera))
    records.save(record, data, record.current_id or 0, request.user, f"Camera {name}")
    key = data["cameras"][-1]["id"]
    return HttpResponse(status=204, headers={"HX-Redirect": f"{reverse('pictures', args=[project])}?camera={key}"})


MOST_FRAMES = 300
"""The most things that are offered to be framed."""


def _frames(scene: Scene) -> list[tuple[str, str]]:
    """What a camera can be framed on: the address and the name of each."""
    walls = [(str(one.host.entry), one.host.name) for one in scene.standing.values()]
    placed = [(str(Address("placements") / one.id), one.id) for one in scene.site.placements if one.id in scene.units]
    return [("", "the whole"), *walls, *placed][:MOST_FRAMES]


@require_POST
def start(request: HttpRequest, project: int) -> HttpResponse:
    """Put a picture into the queue."""
    owner = project_of(request.user, project)
    try:
        settings = read(PictureSettings, _typed(request))
        site = owner.composed_site()
        if not build_scene(read_site(site)).instances:
            raise Refusal("site", "something to see", "There is nothing on the site yet.", "Add a wall first.")
        Picture.room_for(person_of(request))
    except Refusal as refusal:
        return refused(request, refusal)
    with transaction.atomic():
        picture = Picture.objects.create(project=owner, author=person_of(request), settings=dump(settings), site=site)
        ask_pass(picture)
    return gallery_of(request, owner)


@require_GET
def gallery(request: HttpRequest, project: int) -> HttpResponse:
    return gallery_of(request, project_of(request.user, project))


def gallery_of(request: HttpRequest, project: Project) -> HttpResponse:
    return render(request, "pictures/_gallery.html", _context(project))


@require_GET
def image(request: HttpRequest, project: int, picture: int) -> FileResponse:
    """The image as far as it has come."""
    found = get_object_or_404(Picture, pk=picture, project=project_of(request.user, project))
    if not found.has_image:
        raise Http404
    name = f"{found.project.name}-{found.pk}.png".lower().replace(" ", "-")
    return FileResponse(found.image.open("rb"), filename=name, as_attachment="download" in request.GET)


@require_POST
def cancel(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """Stop a picture; the pass that is being traced is its last."""
    owner = project_of(request.user, project)
    get_object_or_404(Picture, pk=picture, project=owner).settle(Picture.State.CANCELLED)
    return gallery_of(request, owner)


@require_POST
def go_on(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """Go on with a picture that was stopped, after the passes that it has."""
    owner = project_of(request.user, project)
    found = get_object_or_404(Picture, pk=picture, project=owner)
    with transaction.atomic():
        if found.take_up():
            ask_pass(found)
    return gallery_of(request, owner)


@require_POST
def go_first(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """Let a picture go before the others that wait."""
    owner = project_of(request.user, project)
    found = get_object_or_404(Picture, pk=picture, project=owner)
    with transaction.atomic():
        if found.go_first():
            ask_pass(found)  # the one that was asked for before finds nothing to do then
    return gallery_of(request, owner)


def _context(project: Project) -> dict[str, Any]:
    pictures = list(project.pictures.filter(sheet=None)[:60])
    return {
        "project": project,
        "nav": "pictures",
        "pictures": pictures,
        "busy": any(picture.is_open for picture in pictures),
        "asked_every": "500ms" if any(one.is_open and not one.passes_done for one in pictures) else "1s",
        "several": project.pictures.filter(state__in=Picture.OPEN).count() > 1,
        "sizes": SIZES,
        "qualities": {
            quality: f"{quality}: {n} passes of {samples} samples" for quality, (n, samples) in PASSES.items()
        },
        "grounds": {key: finish.name for key, finish in project.all_finishes().items() if not finish.transmits},
        "view_url": reverse("site-view", args=[project.pk]),
    }


def _sky(request: HttpRequest) -> Data:
    """The sky as typed; an image that is brought is kept, and lights it."""
    typed, file = request.POST, request.FILES.get("sky_image")
    own = {"kind": typed.get("sky", "clear"), "image": typed.get("sky_key", "")}
    own |= {name: typed.get(f"sky_{name}", "") for name in ("turn", "klx") if typed.get(f"sky_{name}")}
    if own["kind"] == "image" and file is not None:
        own["image"] = Asset.keep(brought(file, file.size or 0))
    if own["kind"] == "image" and not own["image"]:
        raise Refusal("sky", "an image of a sky", "No image of a sky is brought.", "Choose a file, or another sky.")
    return own if own["kind"] == "image" else {"kind": own["kind"]}


def _typed(request: HttpRequest) -> Data:
    """Picture settings as typed; what is no number is left for the settings to refuse."""
    typed = request.POST
    width, _, height = typed.get("size", "").partition("×")
    by = typed.get("by", "angle")
    place = {name: typed.get(name, "") for name in ("latitude", "longitude", "moment", "utc_offset")}
    angle = {name: typed.get(name, "") for name in ("azimuth", "altitude")}
    return {
        "camera": {
            "eye": [typed.get(f"eye_{axis}", "") for axis in "xyz"],
            "target": [typed.get(f"target_{axis}", "") for axis in "xyz"],
            "lens": typed.get("lens", ""),
            "upright": typed.get("upright", "yes") == "yes",
            "roll": typed.get("roll", "0"),
            "clip": typed.get("clip", "0"),
        },
        "sky": _sky(request),
        "surfaces": typed.get("surfaces", "finished"),
        "off": sorted(set(typed.getlist("light")) - set(typed.getlist("on"))),
        "sun": {"by": by} | (place if by == "place" else angle),
        "ground": typed.get("ground", "pale-gravel"),
        "width": width.strip(),
        "height": height.strip(),
        "quality": typed.get("quality", "draft"),
        "minutes": typed.get("minutes") or "0",
        "noise": typed.get("noise") or "0",
        "exposure": typed.get("exposure", "0"),
    }
