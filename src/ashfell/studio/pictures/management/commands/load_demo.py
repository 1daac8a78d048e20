"""Load a demo project from its documents, once."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from ashfell.core.base.document import dump
from ashfell.core.site.document.site import read_site
from ashfell.pictures.settings import PictureSettings
from ashfell.services.documents import load_site
from ashfell.services.kept.models import Project, Record
from ashfell.studio.pictures.models import Picture


class Command(BaseCommand):
    help = (
        "Load a demo project from a folder with site.json, its units and its pictures; does nothing when it is there."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("folder", type=Path)
        parser.add_argument("--user", default="wren")
        parser.add_argument("--password", default="quiet-water-21")

    @transaction.atomic
    def handle(self, *args: Any, folder: Path, user: str, password: str, **options: Any) -> None:
        users = get_user_model().objects
        owner = users.filter(username=user).first() or users.create_user(user, password=password)
        site = read_site(load_site(folder / "site.json"))
        if Project.everything.filter(name=site.name, members=owner).exists():
            return
        project = Project.objects.create(name=site.name)
        project.members.add(owner)
        for key, unit in site.units.items():
            Record.start(project, "unit", key, dump(unit), owner)
        for key, finish in site.finishes.items():
            Record.start(project, "finish", key, dump(finish), owner)
        Record.start(project, "site", "site", dump(site) | {"units": {}, "finishes": {}}, owner)
        for settings in sorted(folder.glob("pictures/*.json")):
            _finished_picture(project, owner, settings)
        self.stdout.write(f"{site.name}: {len(site.walls)} walls, {len(site.units)} units.")


def _finished_picture(project: Project, owner: Any, path: Path) -> None:
    """A picture that ships with the demo: its settings, and the image they gave."""
    data = json.loads(path.read_text())
    look = data.pop("look", {})
    settings = PictureSettings.model_validate(data)
    picture = Picture.objects.create(
        project=project,
        author=owner,
        settings=dump(settings),
        look=look,
        site=project.composed_site(),
        state=Picture.State.DONE,
        passes_done=settings.passes,
    )
    picture.folder.mkdir(parents=True, exist_ok=True)
    picture.image.write_bytes(path.with_suffix(".png").read_bytes())
