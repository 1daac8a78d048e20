"""What would keep the first people waiting, done before a process has anything to do: its modules and templates read, a
unit of each group of starting points made; for the worker, a small picture traced and the textures of all finishes
computed, and the units of the site that a picture was last asked of made."""

from __future__ import annotations

import gc
import sys
from contextlib import suppress
from pathlib import Path

from django.template.loader import get_template
from django.template.utils import get_app_template_dirs
from django.urls import get_resolver

from ashfell.core.base.lengths import STYLES
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit.make import make
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.starts import GROUPS, STARTS, start_from
from ashfell.formats import glb
from ashfell.services.textures import jpeg
from ashfell.studio.keeping.trimming import watch_requests
from ashfell.studio.units.sheet import sheet_of


def warm_pages() -> None:
    """Once, as a process starts that answers."""
    _ = get_resolver().url_patterns
    for folder in map(Path, get_app_template_dirs("templates")):
        for found in sorted(folder.rglob("*.html")):
            get_template(found.relative_to(folder).as_posix())
    for group in GROUPS:
        unit = make(start_from(next(key for key, start in STARTS.items() if start.group == group), group))
        sheet_of(unit, STYLES["mm"], "", "outside", 0.5)
        build_up(unit, STYLES["mm"], {}, "")
        glb.write_unit(unit, {}, jpeg)


def settle() -> None:
    """After warming. What is there now stays, and what pages make is values that refer to nothing in circles: the page
    of the largest unit takes a quarter less where the collector looks for them seldom, and after long pages. Who waits
    for a short page beside a long one takes its turn sooner."""
    gc.freeze()
    gc.set_threshold(50_000, 25, 50)
    sys.setswitchinterval(0.001)
    watch_requests()


def warm_pictures() -> None:
    """Once, as a worker starts."""
    from ashfell.core.finish import LIBRARY
    from ashfell.pictures.compiled import trial
    from ashfell.pictures.develop import denoised, mixed
    from ashfell.pictures.materials import bsdf
    from ashfell.pictures.trace import Tracer
    from ashfell.studio.pictures.models import Picture

    tried = Tracer(*trial())
    denoised(mixed(tried.glance([[*tried.quota]])))
    for finish in LIBRARY.values():
        bsdf(finish)
    last = Picture.objects.order_by("-pk").first()
    if last is not None:
        with suppress(Refusal):  # which its own picture tells
            _ = build_scene(read_site(last.site)).coats
