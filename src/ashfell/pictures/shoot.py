"""A picture from its settings in one go: without a queue, for the command line."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.scene import build_scene
from ashfell.pictures.develop import Image, Look, cleaned, developed
from ashfell.pictures.many import NoMachine, farm_at, work_of
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sums import Quota, Sums
from ashfell.pictures.trace import Tracer


def shoot(
    site: SiteDocument,
    settings: PictureSettings,
    look: Look | None = None,
    tell: Callable[[int], None] | None = None,
    scheduler: str = "",
) -> NDArray[np.uint8]:
    """sRGB bytes (h, w, 3) of a site; ``tell`` hears of every pass that is done. Where there is a ``scheduler``, its
    machines trace it.

    Raises
    ------
    Refusal
        When nothing shines, a finish is not known, or there is no machine.
    """
    tracer = Tracer(build_scene(site).coats, settings, site.finishes, hung(site))
    guides = tracer.guides()
    trace = partial(_elsewhere, scheduler, site, settings) if scheduler else tracer.trace
    sums = Sums(settings.samples)
    for number in range(settings.passes):
        sums = sums.plus(trace(number, sums.quota))
        if tell:
            tell(number + 1)
    return developed(cleaned(sums.means(), guides), look or Look(exposure=settings.exposure), settings)


def _elsewhere(
    scheduler: str, site: SiteDocument, settings: PictureSettings, number: int, quota: Quota
) -> dict[str, Image]:
    """A pass, traced by another machine."""
    try:
        return farm_at(scheduler).pass_of("", partial(work_of, site, settings), number, settings, quota)
    except NoMachine as error:
        raise Refusal(
            "scheduler", "a machine that traces", str(error), "Start one, or leave the scheduler out."
        ) from None
