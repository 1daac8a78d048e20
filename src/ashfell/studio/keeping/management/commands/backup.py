"""Back up database and files into one archive, while the application runs."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from ashfell.studio.keeping import backup


class Command(BaseCommand):
    help = "Back up into FILE, or into a dated file of a FOLDER of which the newest --keep remain."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--keep", type=int, default=14)

    def handle(self, *args: Any, file: Path, keep: int, **options: Any) -> None:
        if keep < 1:
            raise CommandError("Keep at least one backup.")
        folder = file.is_dir()
        target = file / f"ashfell-{timezone.now():%Y%m%d-%H%M%S}.tar.gz" if folder else file
        count = backup.write(Path(settings.VAR), target)
        if folder:
            backup.keep_only(file, keep)
        self.stdout.write(f"{target}: {count} files, {target.stat().st_size} bytes")
