"""Write one file that was asked for; the worker runs this in a process of its own."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ashfell.core.base.refusal import Refusal
from ashfell.services.handover import told
from ashfell.studio.handover.models import Handover
from ashfell.studio.pictures.negative import write


class Command(BaseCommand):
    help = "Write one file that was asked for."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("number", type=int)

    def handle(self, *args: Any, number: int, **options: Any) -> None:
        hand_over(number)


def hand_over(number: int) -> None:
    """Write the file of a hand-over, whole or not at all, and say that it is done, or why not."""
    found = Handover.objects.get(pk=number)
    try:
        source = found.source
        kind = told(found.kind, source.kind)
        content = kind.write(source, found.options)
    except Refusal as refusal:
        found.settle(Handover.State.FAILED, str(refusal))
        return
    found.file.parent.mkdir(parents=True, exist_ok=True)
    write(found.file, content)
    Handover.objects.filter(pk=number).update(name=kind.name(source), size=len(content))
    found.settle(Handover.State.DONE)
