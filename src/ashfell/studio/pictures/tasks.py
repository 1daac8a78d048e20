"""One pass of one picture is one task: each saves what it added and asks for the next.

So a picture can be cancelled between two passes, pictures take turns, and a worker that dies loses one pass at most.
"""

from __future__ import annotations

import time
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from django.db import transaction
from django.db.models import F
from django_tasks import task

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.develop import Image, cleaned, denoised, developed, finished, mixed, png
from ashfell.studio.pictures import negative
from ashfell.studio.pictures.models import Picture

if TYPE_CHECKING:
    from ashfell.pictures.trace import Tracer


@task()
def trace_pass(picture_id: int, number: int) -> str:
    """Trace pass ``number`` (from 0) of a picture, unless it was cancelled or has that pass already."""
    picture = Picture.objects.filter(pk=picture_id).first()
    if picture is None or not picture.is_open or picture.passes_done != number:
        return "nothing to do"
    Picture.objects.filter(pk=picture_id, state=Picture.State.WAITING).update(state=Picture.State.TRACING)
    try:
        seconds = _add_pass(picture, number)
    except Refusal as refusal:
        picture.settle(Picture.State.FAILED, str(refusal))
        return "refused"
    except Exception as error:
        picture.settle(Picture.State.FAILED, f"{type(error).__name__}: {error}")
        raise
    return _go_on(picture, number, seconds)


def _add_pass(picture: Picture, number: int) -> float:
    started = time.monotonic()
    tracer = _tracer(picture.pk)
    picture.folder.mkdir(parents=True, exist_ok=True)
    held = negative.read_arrays(_passes_file(picture, number)) if number else {}
    # The first image is there sooner without them.
    guides = held.get("guides")
    if guides is None and (number or picture.passes == 1):
        guides = tracer.guides()
    before, traced = negative.layers_in(held), tracer.trace(number)
    totals = {name: _sound(layer + before.get(name, 0)) for name, layer in traced.items()}
    negative.write_arrays(
        _passes_file(picture, number + 1), ({} if guides is None else {"guides": guides}) | negative.named(totals)
    )
    passes, look = number + 1, picture.developed_as
    if passes < picture.passes or guides is None:
        layers = {name: total / np.float32(passes) for name, total in totals.items()}
        pixels = finished(denoised(mixed(layers, look), guides), layers, look)
    else:
        layers = cleaned(totals, passes, guides)
        seen = {"guides": guides, "depth": tracer.depth(), "marks": tracer.marks()}
        negative.keep(picture.folder, layers, seen)
        pixels = developed(layers, look)
    negative.write(picture.image, png(pixels))
    return time.monotonic() - started


def _sound(total: Image) -> Image:
    """A sum with nothing in it that is no number."""
    return total if np.isfinite(total).all() else np.nan_to_num(total, posinf=0, neginf=0)


def _go_on(picture: Picture, number: int, seconds: float) -> str:
    """Count the pass and ask for the next in one transaction: either both are kept or neither."""
    with transaction.atomic():
        counted = Picture.objects.filter(pk=picture.pk, passes_done=number)
        if not counted.update(passes_done=number + 1, seconds=F("seconds") + seconds):
            return "overtaken"
        picture.refresh_from_db()
        if picture.is_open and number + 1 < picture.passes:
            trace_pass.enqueue(picture.pk, number + 1)
    _passes_file(picture, number).unlink(missing_ok=True)
    if number + 1 >= picture.passes:
        picture.settle(Picture.State.DONE)
        _passes_file(picture, number + 1).unlink(missing_ok=True)
    return f"pass {number + 1} of {picture.passes}"


@lru_cache(maxsize=1)
def _tracer(picture_id: int) -> Tracer:
    from ashfell.pictures.trace import Tracer

    picture = Picture.objects.get(pk=picture_id)
    site = read_site(picture.site)
    return Tracer(build_scene(site).parts, picture.asked_for, site.finishes, hung(site))


def _passes_file(picture: Picture, passes: int) -> Path:
    return picture.folder / f"passes-{passes}.npz"
