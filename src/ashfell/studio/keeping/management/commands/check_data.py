"""Check all that is kept, and mend what can be mended."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from ashfell.studio.keeping.checking import faults


class Command(BaseCommand):
    help = "Tell what is not whole of all that is kept; with --mend, mend what can be. Fails where something is left."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--mend", action="store_true")

    def handle(self, *args: Any, mend: bool, **options: Any) -> None:
        left = 0
        for fault in [*faults()]:
            mended = mend and fault.mend is not None
            if mended and fault.mend is not None:
                fault.mend()
            left += not mended
            can = "mended" if mended else "can be mended" if fault.mend else "cannot be mended: take it from a backup"
            self.stdout.write(f"{fault.place}: {fault.words} ({can})")
        if left:
            raise CommandError(f"{left} {'is' if left == 1 else 'are'} not whole.")
        self.stdout.write("All is whole.")
