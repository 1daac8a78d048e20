"""The worker reads a file that was brought, in a process with limits, and draws what was understood."""

from __future__ import annotations

from base64 import b64decode

import numpy as np
from django.template.loader import render_to_string
from django_tasks import task

from ashfell.core.base.document import dump
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.plan_sheet import plan_sheet
from ashfell.core.site.document.site import read_site
from ashfell.core.site.surroundings import outline_of
from ashfell.services.documents import ChangedSite, scene_of
from ashfell.services.kept.models import Asset
from ashfell.services.reading.understood import Understood
from ashfell.studio.intake.models import Intake
from ashfell.studio.projects.sheet import drawn_plan
from ashfell.studio.underlay import laid

DRAWN = 2000
"""A site of more openings and walls is told in numbers only."""
ROUND = 12
"""Paper left round a plan, CSS pixels."""


@task(priority=20)
def read_brought(number: int) -> str:
    """Read a file that was brought, unless it was left meanwhile."""
    found = Intake.objects.filter(pk=number).first()
    # One that is being read already was left by a worker that died over it.
    begun = Intake.objects.filter(pk=number, state__in=Intake.OPEN).update(state=Intake.State.READING)
    if found is None or not begun:
        return "nothing to do"

    def wanted() -> bool:
        return Intake.objects.filter(pk=number, state=Intake.State.READING).exists()

    try:
        told = found.reader.understood(found.file.read_bytes(), found.options, wanted)
        for content in told.images.values():
            Asset.keep(b64decode(content))
        told.images = {}
        if found.kind == "model":
            told.site["surroundings"][0]["name"] = found.name.rpartition(".")[0][:80] or "Model"
        drawing = _checked(told, found.reader.as_it_is)
    except Refusal as refusal:
        Intake.objects.filter(pk=number).update(entry=refusal.entry[:80])
        found.settle(Intake.State.FAILED, str(refusal))
        return "refused"
    except OSError as error:
        found.settle(Intake.State.FAILED, f"The file is not there any more: {type(error).__name__}.")
        raise
    Intake.objects.filter(pk=number).update(told=told.as_data(), drawing=drawing)
    found.settle(Intake.State.READ)
    return found.state


def _checked(told: Understood, as_it_is: bool) -> str:
    """What was understood is checked as a document of ours; the plan of it, as SVG."""
    if not as_it_is:
        told.site = dump(read_site(told.site))
    if len(told.site.get("walls", ())) + len(told.site.get("placements", ())) > DRAWN:
        return ""
    built = scene_of(told.site)
    for place, refusal in built.scene.refused:
        told.noted.append(f"{place}: {refusal}")
    return _plan(built, told)


def _plan(built: ChangedSite, told: Understood) -> str:
    if not built.scene.instances:
        return ""
    sheet = drawn_plan(plan_sheet(built.scene, Style()))
    under = laid(told.underlay, "", sheet, Style()) if told.underlay and not told.underlay.get("image") else None
    (left, foot, right, head), scale = (float(edge) for edge in sheet.frame.split()), sheet.scale
    if built.site.surroundings and not built.site.walls:
        around = np.concatenate([outline_of(one) for one in built.site.surroundings])
        (left, foot), (right, head) = around.min(axis=0).tolist(), around.max(axis=0).tolist()
    edges = sheet.left + left * scale, sheet.foot - head * scale, (right - left) * scale, (head - foot) * scale
    frame = f"{edges[0] - ROUND:.1f} {edges[1] - ROUND:.1f} {edges[2] + 2 * ROUND:.1f} {edges[3] + 2 * ROUND:.1f}"
    return render_to_string("intake/_plan.html", {"sheet": sheet, "underlay": under, "frame": frame})
