"""The schedule of a project: its openings as a table on the sheet, handed over, and taken in from a table."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import Style, show
from ashfell.core.base.refusal import Refusal
from ashfell.core.site import schedule
from ashfell.core.site.scene import Scene
from ashfell.core.unit.say.writer import Slot, Writer
from ashfell.formats import tables, workbook
from ashfell.services.documents import scene_of, table_taken
from ashfell.services.handover.kinds.lists import unit_drawings
from ashfell.services.kept import records
from ashfell.services.kept.models import Project, Record, Stale
from ashfell.services.kept.records import record_of
from ashfell.services.reading.table import rows
from ashfell.studio.answers import base_of

KINDS = {"csv": "text/csv", "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"}


@dataclass(frozen=True)
class Line:
    """A row on the sheet: the address of its placement, its mark, its cells, and what is told of it."""

    entry: str
    mark: Slot
    cells: tuple[Slot, ...]
    size: str
    count: int
    refused: bool
    frame: Slot


@dataclass(frozen=True)
class Sheet:
    """What the template of the schedule goes through."""

    lines: tuple[Line, ...]
    uses: tuple[tuple[str, str, int, str], ...]
    first: int
    count: int

    @property
    def last(self) -> int:
        """The number of the last row shown."""
        return self.first + len(self.lines)

    @property
    def before(self) -> int | None:
        """Where the page before this one begins."""
        return max(0, self.first - schedule.PAGE) if self.first else None

    @property
    def after(self) -> int | None:
        """Where the page behind this one begins."""
        return self.last if self.last < self.count else None


def sheet(scene: Scene, writer: Writer, units: dict[str, str], names: Mapping[str, str], first: int) -> Sheet:
    """The schedule from a row on; ``names`` are those of all finishes, the writer's what frames may have."""
    count = len(scene.document.placements)
    first = min(max(first, 0), max(count - 1, 0)) // schedule.PAGE * schedule.PAGE
    rows = schedule.rows(scene, first, schedule.PAGE)
    used = tuple(
        (
            units.get(one.unit, one.unit),
            writer.by(one.width, one.height),
            one.count,
            ", ".join(names.get(key, key) for key in one.finishes),
        )
        for one in schedule.uses(scene)
    )
    return Sheet(tuple(_line(row, writer, units) for row in rows), used, first, count)


def _line(row: schedule.Row, w: Writer, units: dict[str, str]) -> Line:
    placement = row.placement
    path = Address("placements") / placement.id
    level = "head" if placement.head else "sill"
    cells = (
        w.choice(path / "unit", placement.unit or "", {"": "no unit"} | units, "Unit"),
        w.length(path / "offset", placement.offset, "Offset"),
        w.length(path / level, placement.head or placement.sill, level.capitalize()),
        w.length(path / "width", placement.width, "Width", _hint(row, "width", w.style)),
        w.length(path / "height", placement.height, "Height", _hint(row, "height", w.style)),
    )
    frame = w.finish(path / "finishes.frame", placement.finishes.get("frame"), "Finish of the frame")
    size = w.by(row.opening.width, row.opening.height) if row.opening else ""
    mark = Slot(path / "mark", placement.mark, "Mark", "text", hint=placement.id)
    return Line(path, mark, cells, size, row.count, row.refused, frame)


def _hint(row: schedule.Row, name: str, style: Style) -> str:
    return show(getattr(row.opening, name), style) if row.opening else ""


@require_GET
def hand_over(request: HttpRequest, project: int, kind: str) -> HttpResponse:
    """The schedule as a file."""
    record = record_of(request.user, project, "site", "site")
    scene, bare = scene_of(record.data | record.project.stock).scene, record.project.style.bare
    if kind == "csv":
        content = tables.write_csv(schedule.table(scene, bare))
    else:
        openings, units = schedule.counted_table(scene, bare), schedule.unit_table(scene)
        content = workbook.write_xlsx((("Openings", openings), ("Units", units)), {"Units": unit_drawings(scene)})
    answer = HttpResponse(content, content_type=KINDS[kind])
    answer["Content-Disposition"] = f'attachment; filename="schedule.{kind}"'
    return answer


@require_POST
def take_in(request: HttpRequest, project: int) -> HttpResponse:
    """Openings from a table: shown with what they would do, and kept when that is asked for, all or none."""
    record = record_of(request.user, project, "site", "site")
    try:
        content = _content(request)
        lines = rows(content.encode() if isinstance(content, str) else content)
    except Refusal as refusal:
        messages.error(request, f"Nothing was taken in: {refusal}")
        return redirect("project", project)
    taken, built = table_taken(record.data, record.project.stock, lines, record.project.style.bare)
    if request.POST.get("keep") == "1" and taken.is_new and not taken.faults:
        try:
            words = f"take in {len(taken.added)} and change {len(taken.changed)} openings"
            records.save(record, built.data, base_of(request), request.user, words)
        except Stale:
            messages.error(request, "Somebody changed the project meanwhile; both versions are kept. Choose one.")
        else:
            messages.success(request, f"{len(taken.added)} openings added, {len(taken.changed)} changed.")
        return redirect(f"/projects/{project}/?side=schedule")
    return render(request, "projects/schedule_in.html", _preview(record.project, record, taken, lines))


def _content(request: HttpRequest) -> bytes | str:
    file = request.FILES.get("file")
    if file is None:
        return request.POST.get("content", "")
    if (file.size or 0) > tables.LARGEST:
        raise Refusal("file", "a table", f"The file is larger than {tables.LARGEST // 2**20} MiB.")
    return bytes(file.read())


def _preview(project: Project, record: Record, taken: schedule.Taken, lines: list[list[str]]) -> dict[str, Any]:
    wrong = {fault.row: fault for fault in reversed(taken.faults)}
    done = dict.fromkeys(taken.added.values(), "added") | dict.fromkeys(taken.changed.values(), "changed")
    shown = [
        {"number": n, "cells": line, "done": "" if n in wrong else done.get(n, ""), "fault": wrong.get(n)}
        for n, line in enumerate(lines[1:], 2)
    ]
    first_wrong = [row for row in shown if row["fault"]]
    return {
        "project": project,
        "nav": "site",
        "base": record.current_id,
        "headings": lines[0],
        "rows": (first_wrong or shown)[: schedule.PAGE],
        "more": max(0, len(first_wrong or shown) - schedule.PAGE),
        "taken": taken,
        "faults": [fault for fault in taken.faults if fault.row == 1],
        "wrong": len(taken.faults),
        "content": tables.write_csv(lines).decode("utf-8-sig"),
    }
