"""Files that somebody brought: what was understood of them, until it is kept or left."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.db import models

from ashfell.core.base.document import Data
from ashfell.services.kept.models import Project
from ashfell.services.reading.readers import READERS, Reader
from ashfell.services.reading.understood import Understood
from ashfell.studio.queued import Queued


class Intake(Queued):
    """A file as it was brought, its bytes beside the database until it is kept or left. ``understood`` is there once
    it was read; ``drawing`` is the plan of it, as SVG."""

    class State(models.TextChoices):
        WAITING = "waiting"
        READING = "reading"
        READ = "read"
        KEPT = "kept"
        LEFT = "left"
        FAILED = "failed"

    OPEN = (State.WAITING, State.READING)

    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="intakes")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=20)
    options = models.JSONField(default=dict)
    told = models.JSONField(null=True)
    drawing = models.TextField(blank=True)
    entry = models.CharField(max_length=80, blank=True)
    project = models.ForeignKey(Project, models.SET_NULL, null=True, related_name="+")
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)

    def __str__(self) -> str:
        return f"{self.name} ({self.state})"

    @property
    def reader(self) -> Reader:
        return READERS[self.kind]

    @property
    def file(self) -> Path:
        return Path(settings.VAR) / "brought" / str(self.pk)

    @property
    def understood(self) -> Understood | None:
        return Understood(**self.told) if self.told else None

    @property
    def site(self) -> Data:
        """The site that was made of it."""
        found = self.understood
        return found.site if found else {}

    def close(self, state: str, project: Project | None = None) -> None:
        """It is kept or left: its bytes and what was understood go."""
        Intake.objects.filter(pk=self.pk).update(state=state, told=None, drawing="", project=project, size=0)
        self.file.unlink(missing_ok=True)
        self.refresh_from_db()
