"""Restore database and files from a backup, into an empty folder."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from ashfell.studio.keeping import backup


class Command(BaseCommand):
    help = "Restore a backup into the folder ASHFELL_VAR, which holds no database yet."
    requires_migrations_checks = False

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, file: Path, **options: Any) -> None:
        try:
            count = backup.read(file, Path(settings.VAR))
        except backup.Broken as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"{count} files restored. Run migrate, then start the application.")
