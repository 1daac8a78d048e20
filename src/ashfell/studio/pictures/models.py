"""Pictures: what was asked for, how far it has come, and where its file is."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.db import models

from ashfell.pictures.develop import Look
from ashfell.pictures.settings import PictureSettings
from ashfell.services.kept.models import Binnable, Project
from ashfell.studio.pictures.negative import is_kept
from ashfell.studio.queued import Queued


class Sheet(models.Model):
    """Pictures of some variants, by row, through some cameras, by column."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="sheets")
    name = models.CharField(max_length=80)
    rows = models.JSONField()
    columns = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.name} of {self.project}"


class Picture(Queued, Binnable):
    """A picture of a project as it was when it was asked for; the site is kept with it."""

    class State(models.TextChoices):
        WAITING = "waiting"
        TRACING = "tracing"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    OPEN = (State.WAITING, State.TRACING)

    project = models.ForeignKey(Project, models.CASCADE, related_name="pictures")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    settings = models.JSONField()
    site = models.JSONField()
    look = models.JSONField(default=dict)
    sheet = models.ForeignKey(Sheet, models.CASCADE, null=True, related_name="pictures")
    row = models.PositiveIntegerField(default=0)
    column = models.PositiveIntegerField(default=0)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    passes_done = models.PositiveIntegerField(default=0)
    seconds = models.FloatField(default=0)
    base = models.ForeignKey("self", models.SET_NULL, null=True, related_name="regions")
    """The picture that this is a region of, traced again."""
    first = models.BooleanField(default=False)
    """Whether it goes before the other pictures that wait."""

    def __str__(self) -> str:
        return f"Picture {self.pk} of {self.project}"

    @property
    def asked_for(self) -> PictureSettings:
        return PictureSettings.model_validate(self.settings)

    @property
    def asked_whole(self) -> PictureSettings:
        """The same of all of it, where it is a region."""
        return self.asked_for.model_copy(update={"region": None})

    @property
    def developed_as(self) -> Look:
        """How it is developed: as somebody said, or as it was asked for."""
        return Look.model_validate(self.look or {"exposure": self.asked_for.exposure})

    @property
    def can_be_developed(self) -> bool:
        """Whether its layers are kept."""
        return self.state == self.State.DONE and is_kept(self.folder)

    @property
    def passes(self) -> int:
        return self.asked_for.passes

    @property
    def percent(self) -> int:
        return round(100 * self.passes_done / self.passes)

    @property
    def folder(self) -> Path:
        return Path(settings.VAR) / "pictures" / str(self.pk)

    @property
    def image(self) -> Path:
        return self.folder / "picture.png"

    @property
    def has_image(self) -> bool:
        """Before its first pass is done there is a glance of it."""
        return self.image.exists()

    @property
    def drawn(self) -> Path:
        """The lines of a picture of lines, as SVG."""
        return self.folder / "lines.svg"

    @property
    def has_lines(self) -> bool:
        return self.state == self.State.DONE and self.drawn.exists()

    def go_first(self) -> bool:
        """Let it go before the others of its project; False when it is not open, or goes first already."""
        open_ones = Picture.objects.filter(project=self.project, state__in=self.OPEN)
        changed = open_ones.filter(pk=self.pk, first=False).update(first=True)
        if changed:
            open_ones.exclude(pk=self.pk).update(first=False)
        self.refresh_from_db()
        return bool(changed)

    def take_up(self) -> bool:
        """Move from stopped to waiting; False when it is not stopped."""
        stopped = Picture.objects.filter(pk=self.pk, state=self.State.CANCELLED)
        changed = stopped.update(state=self.State.WAITING, finished=None)
        self.refresh_from_db()
        return bool(changed)
