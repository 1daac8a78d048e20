"""Invitations to a project, links that show its pictures, who is at it, and where somebody is signed in."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta
from typing import Any, Self

from django.conf import settings
from django.contrib.sessions.models import Session
from django.db import models
from django.utils import timezone

from ashfell.services.kept.models import Project, Role

DAYS = 7
"""How long an invitation holds."""


class Invitation(models.Model):
    """A link that makes whoever opens it first a member; only its hash is kept."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=8, choices=Role, default=Role.EDITOR)
    address = models.EmailField()
    digest = models.CharField(max_length=64, unique=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.address} to {self.project}"

    @classmethod
    def issue(cls, project: Project, role: str, address: str, author: Any) -> tuple[Self, str]:
        """A new invitation, and the text of its link, which is told this once. An earlier one of the same address
        holds no more."""
        cls.objects.filter(project=project, address__iexact=address).delete()
        text = secrets.token_urlsafe(32)
        until = timezone.now() + timedelta(days=DAYS)
        made = cls.objects.create(
            project=project, role=role, address=address, digest=_digest(text), author=author, until=until
        )
        return made, text

    @classmethod
    def of(cls, text: str) -> Self | None:
        """The invitation of a link, as long as it holds."""
        holding = cls.objects.filter(digest=_digest(text), until__gt=timezone.now(), project__binned=None)
        return holding.select_related("project", "author").first()


class ShareLink(models.Model):
    """A link that shows a picture of a project, or all of them, to whoever has it; only its hash is kept."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="links")
    picture = models.ForeignKey("gallery.Picture", models.CASCADE, null=True, related_name="links")
    digest = models.CharField(max_length=64, unique=True)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.words} of {self.project}"

    @property
    def words(self) -> str:
        """What it shows."""
        return f"picture {self.picture_id}" if self.picture_id else "all pictures"

    @classmethod
    def issue(cls, project: Project, picture: Any, author: Any) -> tuple[Self, str]:
        """A new link and its text, which is told this once."""
        text = secrets.token_urlsafe(32)
        return cls.objects.create(project=project, picture=picture, digest=_digest(text), author=author), text

    @classmethod
    def of(cls, text: str) -> Self | None:
        """The link of a text, unless it was withdrawn or what it shows is in the bin."""
        found = cls.objects.filter(digest=_digest(text), project__binned=None, picture__binned=None)
        return found.select_related("project").first()


class Presence(models.Model):
    """When somebody was last at which document of a project."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    project = models.ForeignKey(Project, models.CASCADE, related_name="presences")
    what = models.CharField(max_length=80)
    seen = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "project"], name="one_place_at_a_time")]

    def __str__(self) -> str:
        return f"{self.person} at {self.what}"


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


class Place(models.Model):
    """Where somebody is signed in: it goes with its session."""

    session = models.OneToOneField(Session, models.CASCADE, primary_key=True)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="places")
    address = models.CharField(max_length=45)
    since = models.DateTimeField(default=timezone.now)
    seen = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-seen"]

    def __str__(self) -> str:
        return f"{self.person} from {self.address}"

    @property
    def name(self) -> str:
        """What a page calls it: the key of a session is nobody's to read."""
        return _digest(self.pk)[:20]
