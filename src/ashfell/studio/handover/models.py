"""Files that were asked for: of what, how far they have come, and where they are."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import models

from ashfell.services.handover import FORMATS, Format, Source, of_site, of_unit
from ashfell.services.kept.models import Asset, Project
from ashfell.services.kept.whole import revisions_of, underlays_of
from ashfell.studio.queued import Queued

PAGE = "page:"
"""How what a page asks for by itself is called; nobody asked for it as a file."""
NAMED = 3
"""How many of a selection are named."""
SMALL = 300
"""A site of no more openings and walls is written where it is asked for."""


SELECTED = "selected"
"""What is handed over when that is a selection; its ids are an option of the same name."""


def kind_of(what: str) -> str:
    """Of what kind something is to formats: a selection is like a storey."""
    kind = what.partition(":")[0]
    return "storey" if kind == SELECTED else kind


class Handover(Queued):
    """A file of a project as it was when it was asked for. ``what`` is ``site``, ``selected``, ``storey:`` or ``unit:``
    and a key."""

    class State(models.TextChoices):
        WAITING = "waiting"
        WRITING = "writing"
        DONE = "done"
        CANCELLED = "cancelled"
        FAILED = "failed"

    OPEN = (State.WAITING, State.WRITING)
    MOST = 20

    project = models.ForeignKey(Project, models.CASCADE, related_name="handovers")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    what = models.CharField(max_length=80)
    kind = models.CharField(max_length=20)
    options = models.JSONField(default=dict)
    document = models.JSONField()
    name = models.CharField(max_length=120, blank=True)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    doing = models.CharField(max_length=40, blank=True, editable=False)
    done = models.PositiveIntegerField(default=0, editable=False)
    of = models.PositiveIntegerField(default=0, editable=False)
    """What is being done while it is written, how many of it are done, and of how many."""

    def __str__(self) -> str:
        return f"{self.kind} of {self.project}"

    @property
    def format(self) -> Format:
        return FORMATS[self.kind]

    @property
    def told(self) -> str:
        """What was chosen about it, in words."""
        return ", ".join(option.words.get(self.options.get(option.key, ""), "") for option in self.format.options)

    @property
    def in_words(self) -> str:
        """What it is of, in words."""
        kind, _, key = self.what.partition(":")
        if kind == SELECTED:
            ids = self.options.get(SELECTED, "").split(",")
            return f"{len(ids)} selected: {', '.join(ids[:NAMED])}{', …' if len(ids) > NAMED else ''}"
        if kind == "unit":
            return str(self.document.get("name", key))
        storeys = {one["id"]: one.get("name", one["id"]) for one in self.document.get("storeys", ())}
        return str(storeys.get(key, key)) if key else "all of the site"

    @property
    def source(self) -> Source:
        """What it is of.

        Raises
        ------
        Refusal
            When that cannot be built.
        """
        kind, _, key = self.what.partition(":")
        style = self.project.style
        if kind == "unit":
            return of_unit(self.document, self.project.own_finishes(), style, content_of)
        if self.kind != "project":
            ids = self.options.get(SELECTED, "").split(",") if kind == SELECTED else None
            return replace(of_site(self.document, style, key, content_of, ids), pictures=self._pictures)
        # With revisions it is to be as it is now: the last of them is what is in force.
        whole = of_site(self.project.composed_site(), style, "", content_of)
        underlays = underlays_of(self.project)
        return replace(whole, underlays=underlays, revisions=lambda: revisions_of(self.project))

    def _pictures(self) -> list[tuple[str, bytes]]:
        """The pictures of the project that are done, the latest first."""
        done = [one for one in self.project.pictures.filter(state="done", sheet=None) if one.has_image]
        return [(f"{self.project.name}, picture {one.pk}", one.image.read_bytes()) for one in done]

    @property
    def is_small(self) -> bool:
        """Whether it is written in a few seconds."""
        if self.asked_as.startswith(PAGE):
            return False
        repeats = sum(_times(one) for one in self.document.get("placements", ()))
        return repeats + len(self.document.get("walls", ())) <= SMALL

    @property
    def file(self) -> Path:
        return Path(settings.VAR) / "handed" / str(self.pk)

    @property
    def has_file(self) -> bool:
        return self.state == self.State.DONE and self.file.exists()


def _times(placement: Mapping[str, Any]) -> int:
    """How many openings an entry makes at most."""
    repeat = placement.get("repeat") or {}
    return int(repeat.get("along") or 1) * int(repeat.get("up") or 1)


def content_of(key: str) -> bytes | None:
    """The bytes of an image that is kept."""
    found = Asset.objects.filter(pk=key).first()
    return bytes(found.content) if found else None
