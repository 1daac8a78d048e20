"""The page of one picture: developed again without tracing, looked into, compared, handed over in layers."""

from __future__ import annotations

import zlib
from functools import lru_cache
from typing import Any

import numpy as np
from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.roles import ROLES
from ashfell.core.site.coats import Coats
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.backdrop import BACKDROPS, THROUGH
from ashfell.pictures.develop import Look, developed, jpeg, light_in, png
from ashfell.pictures.settings import PASSES, PictureSettings
from ashfell.services.documents import json_object
from ashfell.services.images import brought
from ashfell.services.kept.models import Asset
from ashfell.services.kept.records import project_of
from ashfell.studio.answers import handed_over, person_of
from ashfell.studio.pictures import negative
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import ask_pass

CURVES = {"soft": "soft", "film": "as film", "cut": "cut off"}
METERED = {"traced": "as traced", "mixed": "as mixed"}
MASKS = {"part": "Parts", "role": "Roles", "finish": "Finishes"}
LONGEST = 4000
"""The longest look in an address, bytes."""


def picture_of(request: HttpRequest, project: int, picture: int) -> Picture:
    """A picture of one of the person's own projects."""
    return get_object_or_404(Picture, pk=picture, project=project_of(request.user, project))


def _developed_of(request: HttpRequest, project: int, picture: int) -> Picture:
    """One whose layers are kept."""
    found = picture_of(request, project, picture)
    if not found.can_be_developed:
        raise Http404
    return found


@require_GET
def page(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """One picture, large."""
    found = picture_of(request, project, picture)
    if request.headers.get("HX-Request") and not found.is_open:
        return HttpResponse(headers={"HX-Refresh": "true"})
    kept = negative.Layers(found.folder) if found.can_be_developed else {}
    others = [one for one in found.project.pictures.filter(state="done")[:60] if one != found and one.has_image]
    asked = request.GET.get("with", "")
    beside = next((one for one in others if str(one.pk) == asked), None)
    look = found.developed_as
    context: dict[str, Any] = {
        "project": found.project,
        "nav": "pictures",
        "picture": found,
        "settings": found.asked_for,
        "look": look,
        "layers": [(name, _words(name), look.layers.get(name)) for name in light_in(kept)],
        "backdrops": BACKDROPS if THROUGH in kept else {},
        "curves": CURVES,
        "metered": METERED,
        "masks": MASKS,
        "qualities": PASSES,
        "others": others,
        "beside": beside,
        "look_url": reverse("picture-look", args=[project, picture]),
    }
    return render(request, "pictures/picture.html", context)


def _words(layer: str) -> str:
    """What a layer of light is called."""
    return layer.partition(":")[2] if layer.startswith("lamps:") else layer.capitalize()


@require_GET
@cache_control(private=True, max_age=3600)
def look_jpeg(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """The picture as it would look; a large one smaller, unless it is to be handed over."""
    found = _developed_of(request, project, picture)
    text = request.GET.get("look", "")
    if len(text) > LONGEST:
        raise Http404
    look = read(Look, json_object(text, "a look")) if text else found.developed_as
    whole = "download" in request.GET
    layers = negative.Layers(found.folder) if whole else negative.shown_layers(found.folder, found.asked_for.width)
    content = jpeg(developed(layers, look, found.asked_whole))
    return handed_over(request, content, "image/jpeg", f"{_name(found)}.jpg")


@require_POST
def keep_look(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """Keep how the picture is developed: its image is written anew."""
    found = _developed_of(request, project, picture)
    try:
        typed = _typed(request)
        if (file := request.FILES.get("backdrop_file")) is not None:
            typed["backdrop"]["image"] = Asset.keep(brought(file, file.size or 0))
        look = read(Look, typed)
        pixels = developed(negative.Layers(found.folder), look, found.asked_whole)
    except Refusal as refusal:
        messages.error(request, str(refusal))
        return redirect("picture", project, picture)
    found.look = dump(look)
    found.save(update_fields=["look"])
    negative.write(found.image, png(pixels))
    return redirect("picture", project, picture)


@require_POST
def region(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """A region of the picture traced again, in percent of the frame from its upper left, and laid into it: another
    picture."""
    found, typed = _developed_of(request, project, picture), request.POST
    edges = [_share(typed.get(name, "")) for name in ("left", "top", "right", "bottom")]
    now, person = "now" in typed, person_of(request)
    try:
        asked = {"region": edges, "quality": typed.get("quality", "final"), "minutes": 0, "noise": 0}
        settings = read(PictureSettings, dump(found.asked_for) | asked)
        Picture.room_for(person)
    except Refusal as refusal:
        messages.error(request, f"The region was not traced: {refusal}")
        return redirect("picture", project, picture)
    site = found.project.composed_site() if now else found.site
    with transaction.atomic():
        made = Picture.objects.create(
            project=found.project, author=person, settings=dump(settings), site=site, look=found.look, base=found
        )
        ask_pass(made)
    return redirect("picture", project, made.pk)


def _share(text: str) -> float | str:
    """Percent as typed, as a share; what is no number is left for the settings to refuse."""
    try:
        return float(text.replace(",", ".").rstrip("% ")) / 100
    except ValueError:
        return text


def _typed(request: HttpRequest) -> Data:
    """A look as typed; what is no number is left for the look to refuse."""
    typed = request.POST
    layers: dict[str, Data] = {}
    for name, value in typed.items():
        what, _, layer = name.partition(" ")
        if layer and what in ("strength", "colour"):
            layers.setdefault(layer, {})[what] = str(value).lower()
    plain = {name: typed[name] for name in ("exposure", "metered", "white", "contrast", "curve") if name in typed}
    backdrop = {name.partition(".")[2]: typed[name] for name in typed if name.startswith("backdrop.")}
    return plain | {"layers": layers, "backdrop": backdrop}


@lru_cache(maxsize=2)
def _parts(picture: int) -> Coats:
    """The parts that a picture was traced of, in its order."""
    return build_scene(read_site(Picture.objects.get(pk=picture).site)).coats


@require_GET
def seen(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """What is seen at a place, shares of the width and height from the upper left."""
    found = _developed_of(request, project, picture)
    marks = negative.kept_seen(found.folder)["marks"]
    try:
        x, y = (float(request.GET.get(name, "")) for name in "xy")
    except ValueError as error:
        raise Http404 from error
    if not (0 <= x < 1 and 0 <= y < 1):
        raise Http404
    number = int(marks[int(y * marks.shape[0]), int(x * marks.shape[1])])
    parts = _parts(picture)
    if not 0 < number <= len(parts):
        return render(request, "pictures/_seen.html", {"part": None})
    part = parts[number - 1]
    place = Address(part.id.partition("/")[0])
    context = {
        "part": part,
        "place": place,
        "role": ROLES[part.role].label if part.role in ROLES else part.role.capitalize(),
        "unit": _unit(found, place),
        "finish": found.project.all_finishes().get(part.finish),
        "project": found.project,
        "depth": float(negative.kept_seen(found.folder)["depth"][int(y * marks.shape[0]), int(x * marks.shape[1])]),
    }
    return render(request, "pictures/_seen.html", context)


def _unit(picture: Picture, place: str) -> str:
    """The key of the unit of a placement, if the project has it."""
    site = read_site(picture.site)
    placed = next((one for one in site.placements if place.startswith(one.id)), None)
    return placed.unit or "" if placed else ""


@require_GET
def layers_exr(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """All layers as OpenEXR: light, colour, normal, depth, and numbers of parts, roles and finishes."""
    from ashfell.pictures.exr import exr

    found = _developed_of(request, project, picture)
    content = exr(negative.Layers(found.folder), negative.kept_seen(found.folder), [*_parts(picture).named])
    return handed_over(request, content, "image/x-exr", f"{_name(found)}.exr")


@require_GET
def lines_svg(request: HttpRequest, project: int, picture: int) -> HttpResponse:
    """The lines of a picture of lines."""
    found = picture_of(request, project, picture)
    if not found.has_lines:
        raise Http404
    return handed_over(request, found.drawn.read_text(), "image/svg+xml", f"{_name(found)}.svg")


@require_GET
def mask_png(request: HttpRequest, project: int, picture: int, of: str) -> HttpResponse:
    """Flat colours of parts, roles or finishes, each always the same."""
    if of not in MASKS:
        raise Http404
    found = _developed_of(request, project, picture)
    marks, parts = negative.kept_seen(found.folder)["marks"], _parts(picture)
    words = [part.id if of == "part" else str(getattr(part, of)) for part in parts]
    colours = np.array([(0, 0, 0), *map(_flat, words)], dtype=np.uint8)
    return handed_over(request, png(colours[marks]), "image/png", f"{_name(found)}-{of}.png")


def _flat(word: str) -> tuple[int, int, int]:
    """A colour that stands for a word; none is black."""
    spread = zlib.crc32(word.encode())
    return 48 + spread % 208, 48 + (spread >> 8) % 208, 48 + (spread >> 16) % 208


def _name(picture: Picture) -> str:
    return f"{picture.project.name}-{picture.pk}".lower().replace(" ", "-")
