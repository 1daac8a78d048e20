"""Tokens: what a program shows to be let in as a person."""

from __future__ import annotations

import hashlib
import secrets
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

PREFIX = "ash_"
"""What every token begins with, so that one that leaks is recognised."""


class Token(models.Model):
    """A token of a person; only its hash is kept. One for ``read`` changes nothing."""

    SCOPES = {"read": "reads", "write": "reads and writes"}

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=80)
    scope = models.CharField(max_length=5, choices=SCOPES, default="read")
    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.name} of {self.person}"

    @classmethod
    def issue(cls, person: Any, name: str, scope: str) -> tuple[Token, str]:
        """A new token, and its text, which is told this once."""
        text = PREFIX + secrets.token_urlsafe(32)
        return cls.objects.create(person=person, name=name, scope=scope, digest=digest_of(text)), text

    @classmethod
    def of(cls, text: str) -> Token | None:
        """The token of a text, if it is one; that it was used is noted, once a minute."""
        found = cls.objects.select_related("person").filter(digest=digest_of(text), person__is_active=True).first()
        now = timezone.now()
        if found and (found.used is None or (now - found.used).total_seconds() > 60):
            cls.objects.filter(pk=found.pk).update(used=now)
        return found


def digest_of(text: str) -> str:
    """The hash that a token is kept as; it is random enough to need no salt."""
    return hashlib.sha256(text.encode()).hexdigest()
