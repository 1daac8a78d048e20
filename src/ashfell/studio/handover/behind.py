"""What a page shows of a unit that is too large to be made while somebody waits: the worker makes it, once for each
version, and the page asks until it is there."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from ashfell.core.base.document import Data
from ashfell.core.unit import Unit
from ashfell.services.kept.models import Record
from ashfell.studio.handover.models import PAGE, Handover
from ashfell.studio.handover.tasks import write_file

LARGE, DENSE = 1_200, 150_000
"""A unit of more members than this is made by the worker, and one of more triangles."""
WAITED = 202
"""The status of an answer that is not there yet."""


def is_large(unit: Unit) -> bool:
    """Whether somebody would wait for what is made of its solids."""
    return len(unit.layout.members) > LARGE or unit.triangles > DENSE


def made_behind(record: Record, person: Any, kind: str, document: Data, how: str = "", again: bool = False) -> Handover:
    """The file of a kind of a unit as it is now, asked for where it was not yet; ``again`` also where it was stopped.

    Raises
    ------
    Refusal
        When too much of the person waits already.
    """
    asked_as = f"{PAGE}{record.pk}:{record.current_id}:{kind}:{how}"[:80]
    asked = record.project.handovers.filter(asked_as=asked_as)
    for found in asked:
        if found.is_open or found.has_file or (found.state != Handover.State.DONE and not again):
            return found
    Handover.room_for(person)
    with transaction.atomic():
        made = Handover.objects.create(
            project=record.project,
            author=person,
            what=f"unit:{record.key}",
            kind=kind,
            document=document,
            asked_as=asked_as,
        )
        write_file.enqueue(made.pk)
    return made
