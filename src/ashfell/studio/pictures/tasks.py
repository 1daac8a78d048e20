"""One pass of one picture is one task: each saves what it added and asks for the next.

So a picture can be cancelled between two passes, pictures take turns, and a worker that dies loses one pass at most.
"""

from __future__ import annotations

import errno
import logging
import time
from datetime import timedelta
from functools import lru_cache, partial
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from django.conf import settings
from django.db import transaction
from django.db.models import F
from django.utils import timezone
from django_tasks import task
from numpy.typing import NDArray

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.develop import Image, cleaned, denoised, developed, enlarged, finished, mixed, mixed_alike, png
from ashfell.pictures.region import laid_in, put_in
from ashfell.pictures.sums import Quota, Sums
from ashfell.studio.pictures import negative
from ashfell.studio.pictures.models import Picture

if TYPE_CHECKING:
    from ashfell.pictures.trace import Tracer


LOG = logging.getLogger(__name__)

AGAIN = timedelta(minutes=1)
"""When a pass is tried again for which there was no room on the disk."""
FULL = "The disk of the server is full. It goes on by itself once there is room."


DEATHS = 2
"""A picture over whose compiled scene so many workers ended is traced by what is ready."""
FIRST = 10
"""The priority of a picture that goes before the others."""


def ask_pass(picture: Picture) -> None:
    """Ask for the next pass of a picture; one of a picture that goes first comes before those of others."""
    trace_pass.using(priority=FIRST if picture.first else 0).enqueue(picture.pk, picture.passes_done)


@task()
def trace_pass(picture_id: int, number: int) -> str:
    """Trace pass ``number`` (from 0) of a picture, unless it was cancelled or has that pass already."""
    picture = Picture.objects.filter(pk=picture_id).first()
    if picture is None or not picture.is_open or picture.passes_done != number:
        return "nothing to do"
    Picture.objects.filter(pk=picture_id, state=Picture.State.WAITING).update(state=Picture.State.TRACING)
    try:
        seconds, last = _add_pass(picture, number)
    except Refusal as refusal:
        picture.settle(Picture.State.FAILED, str(refusal))
        return "refused"
    except OSError as error:
        if error.errno != errno.ENOSPC:
            picture.settle(Picture.State.FAILED, f"{type(error).__name__}: {error}")
            raise
        return _wait_for_room(picture, number)
    except Exception as error:
        picture.settle(Picture.State.FAILED, f"{type(error).__name__}: {error}")
        raise
    return _go_on(picture, number, seconds, last)


def _wait_for_room(picture: Picture, number: int) -> str:
    """The disk is full: the same pass is tried again in a while, by itself."""
    Picture.objects.filter(pk=picture.pk).update(reason=FULL)
    asked = trace_pass.using(run_after=timezone.now() + AGAIN, priority=FIRST if picture.first else 0)
    asked.enqueue(picture.pk, number)
    return "the disk is full"


def _draw(picture: Picture) -> None:
    """A picture of lines."""
    from ashfell.pictures.lines import line_picture

    site = read_site(picture.site)
    lines = line_picture(build_scene(site).parts, picture.asked_for, site.finishes)
    negative.write(picture.drawn, lines.svg().encode())
    negative.write(picture.image, lines.png())


def _add_pass(picture: Picture, number: int) -> tuple[float, bool]:
    """Trace a pass and add it to those before; how many seconds it took, and whether it was the last."""
    started = time.monotonic()
    picture.folder.mkdir(parents=True, exist_ok=True)
    if picture.asked_for.surfaces == "lines":
        _draw(picture)
        return time.monotonic() - started, True
    before, guides = Sums(picture.asked_for.samples), None
    if not number and not picture.asked_for.region and not settings.SCHEDULER:
        _show_a_glance(picture)
    if number:
        before, guides = negative.read_sums(_passes_file(picture, number), number, picture.asked_for.samples)
    traced = _traced(picture, number, before.quota)
    last = number + 1 >= picture.passes or _is_enough(picture, before, traced, started)
    if guides is None and (number or last):  # the first image is there sooner without them
        guides = _tracer(picture.pk).guides()
    sums = before.plus(traced)
    negative.write_sums(_passes_file(picture, number + 1), sums, guides)
    means, look = sums.means(), picture.developed_as
    if picture.asked_for.region:
        negative.write(picture.image, png(_in_its_picture(picture, means, guides, last)))
    elif not last or guides is None:
        negative.write(
            picture.image, png(finished(denoised(mixed(means, look), guides), means, look, picture.asked_for))
        )
    else:
        layers = cleaned(means, guides)
        negative.keep(picture.folder, layers, {"guides": guides} | _seen(picture))
        negative.write(picture.image, png(developed(layers, look, picture.asked_for)))
    return time.monotonic() - started, last


def _show_a_glance(picture: Picture) -> None:
    """A first image, small and enlarged, before the first pass is traced; not of what is compiled, which would be
    compiled for it."""
    from ashfell.pictures.compiled import READY

    tracer, asked, look = _tracer(picture.pk), picture.asked_for, picture.developed_as
    if tracer.variant == READY:
        layers = tracer.glance(mixed_alike(tracer.quota, look))
        pixels = finished(denoised(mixed(layers, look)), layers, look, asked.glanced)
        negative.write(picture.image, png(enlarged(pixels, asked.width, asked.height)))


def _in_its_picture(picture: Picture, means: dict[str, Image], guides: Image | None, last: bool) -> NDArray[np.uint8]:
    """A region in the picture that it is of, developed; of its last pass all of it is kept.

    Raises
    ------
    Refusal
        When that picture, or what was kept of it, is gone.
    """
    base, crop = picture.base, picture.asked_for.crop
    if base is None or not negative.is_kept(base.folder):
        raise Refusal("base", "a picture to lie in", "The picture that it is a region of is gone.", "Trace it whole.")
    piece = means if guides is None else cleaned(means, guides)
    layers = laid_in(negative.Layers(base.folder), piece, crop)
    if last and guides is not None:
        own = {"guides": guides} | _seen(picture)
        there = negative.read_arrays(base.folder / "seen.npz")
        if base.site != picture.site:  # its parts are numbered otherwise
            there["marks"] = np.zeros_like(there["marks"])
        negative.keep(picture.folder, layers, {name: put_in(there[name], own[name], crop) for name in own})
    return developed(layers, picture.developed_as, picture.asked_whole)


def _is_enough(picture: Picture, before: Sums, traced: dict[str, Image], started: float) -> bool:
    """Whether the time that a picture was given is over, or it has as little noise as was asked for."""
    asked = picture.asked_for
    if asked.minutes and picture.seconds + time.monotonic() - started >= asked.minutes * 60:
        return True
    return bool(asked.noise and before.passes) and 100 * before.noise_with(traced) <= asked.noise


def _go_on(picture: Picture, number: int, seconds: float, last: bool) -> str:
    """Count the pass and ask for the next in one transaction: either both are kept or neither."""
    with transaction.atomic():
        counted = Picture.objects.filter(pk=picture.pk, passes_done=number)
        size = sum(file.stat().st_size for file in picture.folder.glob("*") if file.is_file())
        if not counted.update(passes_done=number + 1, seconds=F("seconds") + seconds, reason="", size=size):
            return "overtaken"
        picture.refresh_from_db()
        if picture.is_open and not last:
            ask_pass(picture)
        if last:
            picture.settle(Picture.State.DONE)
    _passes_file(picture, number).unlink(missing_ok=True)
    if last:
        _passes_file(picture, number + 1).unlink(missing_ok=True)
    return f"pass {number + 1} of {picture.passes}"


def _seen(picture: Picture) -> negative.Arrays:
    """How far what is seen is, and what it is."""
    marks, depth = _tracer(picture.pk).seen()
    return {"depth": depth, "marks": marks}


def _traced(picture: Picture, number: int, quota: Quota) -> dict[str, Image]:
    """A pass, by another machine where there is a scheduler; where that has none, here."""
    if address := settings.SCHEDULER:
        from ashfell.pictures.many import NoMachine, farm_at, work_of

        try:
            work = partial(work_of, read_site(picture.site), picture.asked_for)
            return farm_at(address).pass_of(str(picture.pk), work, number, picture.asked_for, quota)
        except NoMachine as error:
            farm_at.cache_clear()
            LOG.warning("Picture %s is traced here: %s", picture.pk, error)
    from ashfell.pictures.compiled import READY

    tracer, begun = _tracer(picture.pk), _begun(picture)
    if tracer.variant == READY:
        return tracer.trace(number, quota)
    begun.write_text(f"{_times(begun) + 1}")
    traced = tracer.trace(number, quota)
    begun.unlink(missing_ok=True)
    return traced


@lru_cache(maxsize=1)
def _tracer(picture_id: int) -> Tracer:
    from ashfell.pictures.compiled import READY
    from ashfell.pictures.trace import Tracer

    picture = Picture.objects.get(pk=picture_id)
    site = read_site(picture.site)
    # What is compiled may end its process; before the picture is given up, it is traced by what is ready.
    variant = READY if _times(_begun(picture)) >= DEATHS else ""
    return Tracer(build_scene(site).coats, picture.asked_for, site.finishes, hung(site), variant=variant)


def _begun(picture: Picture) -> Path:
    """Holds how often a pass was begun by what is compiled and not ended."""
    return picture.folder / "compiled"


def _times(begun: Path) -> int:
    return int(begun.read_text() or 0) if begun.exists() else 0


def _passes_file(picture: Picture, passes: int) -> Path:
    return picture.folder / f"passes-{passes}.npz"
