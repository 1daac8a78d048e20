"""Write one file that was asked for; the worker runs this in a process of its own."""

from __future__ import annotations

import time
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ashfell.core.base.progress import heard_by
from ashfell.core.base.refusal import Refusal
from ashfell.services.handover import told
from ashfell.studio.handover.models import Handover
from ashfell.studio.pictures.negative import write

CALM = 0.5
"""How often it is kept how far the writing has come, seconds."""


class Command(BaseCommand):
    help = "Write one file that was asked for."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("number", type=int)

    def handle(self, *args: Any, number: int, **options: Any) -> None:
        hand_over(number)


class _Kept:
    """How far the writing has come, kept now and then."""

    def __init__(self, number: int) -> None:
        self.number, self.next = number, time.monotonic() + CALM

    def hear(self, what: str, done: int, of: int) -> None:
        if time.monotonic() >= self.next:
            Handover.objects.filter(pk=self.number).update(doing=what, done=done, of=of)
            self.next = time.monotonic() + CALM


def hand_over(number: int) -> None:
    """Write the file of a hand-over, whole or not at all, and say that it is done, or why not."""
    found = Handover.objects.get(pk=number)
    try:
        with heard_by(_Kept(number).hear):
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
