"""What the worker makes: it waits, is worked on, and comes to an end once."""

from __future__ import annotations

from typing import Any, ClassVar, Self

from django.apps import apps
from django.conf import settings
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
    size = models.PositiveBigIntegerField(default=0, editable=False)
    """How many bytes are kept of it."""
    asked = models.DateTimeField(auto_now_add=True)
    finished = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-pk"]

    @classmethod
    def room_for(cls, person: Any, more: int = 1) -> None:
        """Refuse what would be too much at once, or too much in all.

        Raises
        ------
        Refusal
        """
        stored = stored_by(person)
        if stored > settings.STORED:
            message = f"{in_words(stored)} of pictures and files are yours; {in_words(settings.STORED)} may be."
            raise Refusal(
                "queue", "room for what is made", message, "Delete some from the bin, or ask who runs this server."
            )
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


def stored_by(person: Any) -> int:
    """How many bytes of what the worker made or was brought are somebody's, in the bin or not."""
    kinds = [model for model in apps.get_models() if issubclass(model, Queued)]
    managers: list[Any] = [model._base_manager for model in kinds]
    held = (manager.filter(author=person).aggregate(bytes=models.Sum("size")) for manager in managers)
    return sum(one["bytes"] or 0 for one in held)


def in_words(size: int) -> str:
    """Bytes as they are read.

    >>> in_words(3 * 2**29)
    '1.5 GiB'
    """
    return f"{size / 2**30:.1f} GiB" if size >= 2**30 else f"{size / 2**20:.1f} MiB"
