"""What the worker makes: it waits, is worked on, and comes to an end once."""

from __future__ import annotations

from typing import ClassVar, Self

from django.db import models
from django.utils import timezone


class Queued(models.Model):
    """Something that was asked for. Its kinds name their own states; those that are ``OPEN`` are not final."""

    OPEN: ClassVar[tuple[str, ...]]
    state: models.CharField[str, str]
    reason = models.TextField(blank=True)
    asked = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-pk"]

    @property
    def is_open(self) -> bool:
        """Whether work on it goes on."""
        return self.state in self.OPEN

    def settle(self: Self, state: str, reason: str = "") -> bool:
        """Move from an open state to a final one; False when it is in one already."""
        open_ones = type(self)._default_manager.filter(pk=self.pk, state__in=self.OPEN)
        changed = open_ones.update(state=state, reason=reason, finished=timezone.now())
        self.refresh_from_db()
        return bool(changed)
