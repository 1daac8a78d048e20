"""Delete for good what has been in the bin for long."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from ashfell.studio.keeping import waste


class Command(BaseCommand):
    help = "Delete for good what has been in the bin for so many days; the worker does it once a day."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--days", type=float, default=waste.DAYS)

    def handle(self, *args: Any, days: float, **options: Any) -> None:
        self.stdout.write(f"{waste.empty(days)} deleted.")
