"""A picture from its settings in one go: without a queue, for the command line."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.scene import build_scene
from ashfell.pictures.develop import Image, Look, cleaned, developed
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.trace import Tracer


def shoot(
    site: SiteDocument, settings: PictureSettings, look: Look | None = None, tell: Callable[[int], None] | None = None
) -> NDArray[np.uint8]:
    """sRGB bytes (h, w, 3) of a site; ``tell`` hears of every pass that is done.

    Raises
    ------
    Refusal
        When nothing shines, or a finish is not known.
    """
    tracer = Tracer(build_scene(site).parts, settings, site.finishes, hung(site))
    guides = tracer.guides()
    totals: dict[str, Image] = {}
    for number in range(settings.passes):
        for name, layer in tracer.trace(number).items():
            totals[name] = np.nan_to_num(layer, posinf=0, neginf=0) + totals.get(name, np.float32(0))
        if tell:
            tell(number + 1)
    return developed(cleaned(totals, settings.passes, guides), look or Look(exposure=settings.exposure))
