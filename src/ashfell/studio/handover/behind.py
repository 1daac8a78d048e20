"""What a page shows of a unit that is too large to be made while somebody waits: the worker makes it, once for each
version, and the page asks until it is there."""

from __future__ import annotations

import json
from hashlib import sha256
from typing import Any

from django.db import transaction

from ashfell.core.base.document import Data
from ashfell.core.base.kept import kept
from ashfell.services.documents import scene_of, unit_of
from ashfell.services.kept.models import Record
from ashfell.studio.handover.models import PAGE, Handover
from ashfell.studio.handover.tasks import write_file

LARGE, DENSE = 3_000, 150_000
"""A unit of more members than this is made by the worker, and one of more triangles."""
AUDITED = 600
"""And of how many it is audited by the worker: of leaded glass that takes longest."""
SITE_LARGE, SITE_DENSE = 2_500, 300_000
"""And of how many a site is audited by the worker, those of its units that are alike once."""
WAITED = 202
"""The status of an answer that is not there yet."""


TOLD = 5e6
"""How much of documents is known to be large or not, characters."""


def is_large(data: Data) -> bool:
    """Whether somebody would wait for what is made of a unit's solids. While a page asks again and again for what the
    worker makes, the unit need not be there.

    Raises
    ------
    Refusal
        When it cannot be built.
    """
    members, triangles = _size(json.dumps(data))
    return members > LARGE or triangles > DENSE


def is_large_site(document: Data) -> bool:
    """Whether somebody would wait for the audit of a site with all its units."""
    members, triangles = _site_size(json.dumps(document))
    return members > SITE_LARGE or triangles > SITE_DENSE


def digest_of(document: Data) -> str:
    """What tells one state of a document, and of all that it uses, from another."""
    return sha256(json.dumps(document).encode()).hexdigest()[:16]


@kept(TOLD, lambda _, text: len(text))
def _site_size(text: str) -> tuple[int, int]:
    definitions = scene_of(json.loads(text)).scene.definitions
    units = [definitions[name] for name in definitions if name.startswith("unit.")]
    return sum(map(len, units)), sum(len(part.solid.triangles) for parts in units for part in parts)


def is_audited_behind(data: Data) -> bool:
    """Whether somebody would wait for the audit of a unit."""
    return is_large(data) or _size(json.dumps(data))[0] > AUDITED


@kept(TOLD, lambda _, text: len(text))
def _size(text: str) -> tuple[int, int]:
    unit = unit_of(json.loads(text))
    return len(unit.layout.members), unit.triangles


def made_behind(record: Record, person: Any, kind: str, document: Data, how: str = "", again: bool = False) -> Handover:
    """The file of a kind of a unit or site as it is now, asked for where it was not yet; ``again`` also where it was
    stopped. What waits of an earlier version is not made any more.

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
    own = f"{PAGE}{record.pk}:"
    earlier = record.project.handovers.filter(asked_as__startswith=own, kind=kind, state__in=Handover.OPEN)
    for one in earlier.exclude(asked_as__startswith=f"{own}{record.current_id}:"):
        one.settle(Handover.State.CANCELLED)
    Handover.room_for(person)
    with transaction.atomic():
        made = Handover.objects.create(
            project=record.project,
            author=person,
            what=f"unit:{record.key}" if record.kind == Record.Kind.UNIT else "site",
            kind=kind,
            document=document,
            asked_as=asked_as,
        )
        write_file.enqueue(made.pk)
    return made
