"""What the worker makes: it waits, is worked on, and comes to an end once."""

from __future__ import annotations

from typing import Any, ClassVar, Self

from django.db import models
from django.utils import timezone

from ashfell.core.base.refusal import Refusal


class Queued(models.Model):
    """Something that was asked for. Its kinds name their own states; those that are ``OPEN`` are not final."""

    OPEN: ClassVar[tuple[str, ...]]
    MOST: ClassVar[int] = 60
    """How many of them one person may have open at once."""
    state: models.CharField[str, str]
    reason = models.TextField(blank=True)
    asked_as = models.CharField(max_length=80, blank=True, editable=False)
    """What a program calls the asking, so that asking again is not asking twice."""
    asked = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-pk"]

    @classmethod
    def room_for(cls, person: Any, more: int = 1) -> None:
        """Refuse what would be too much at once.

        Raises
        ------
        Refusal
        """
        everyones: Any = cls._default_manager
        waiting = everyones.filter(author=person, state__in=cls.OPEN).count()
        if waiting + more > cls.MOST:
            message = f"{waiting} of yours wait already; with {more} more there are more than {cls.MOST}."
            raise Refusal("queue", "a queue of a sensible length", message, "Wait for some of them, or stop some.")

    @classmethod
    def asked_before(cls, project: int, person: Any, asked_as: str) -> Self | None:
        """What the same person asked for under the same name."""
        everyones: Any = cls._default_manager
        found = everyones.filter(project=project, author=person, asked_as=asked_as[:80]) if asked_as else None
        first: Self | None = found.first() if found is not None else None
        return first

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
