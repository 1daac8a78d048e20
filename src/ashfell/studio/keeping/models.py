"""What happened in a project that its owners may want to know: who came and went, what was put away or refused."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models

from ashfell.services.kept.models import Project

KEPT = 2000
"""How many of a project are kept."""


class Event(models.Model):
    """Something that somebody did, or was not let do."""

    project = models.ForeignKey(Project, models.CASCADE, related_name="events")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    words = models.CharField(max_length=200)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.words

    @classmethod
    def tell(cls, project: int, person: Any, words: str) -> None:
        """Write something down; the oldest go when there are many."""
        cls.objects.create(project_id=project, person=person, words=words[:200])
        oldest = cls.objects.filter(project=project).values_list("pk", flat=True)[KEPT : KEPT + 1]
        if oldest:
            cls.objects.filter(project=project, pk__lte=oldest[0]).delete()
