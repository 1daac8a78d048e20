"""Who asks: the session of a request and the person it is of, as Django keeps them, found by prepared queries. Every
request asks for both."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.contrib.auth.models import User
from django.contrib.sessions.backends import db
from django.contrib.sessions.models import Session
from django.utils import timezone

from ashfell.services.kept.prepared import Prepared

SESSION = Prepared(lambda key: Session.objects.filter(session_key=key), "key")
PERSON = Prepared(lambda person: User.objects.filter(pk=person), "person")


class SessionStore(db.SessionStore):
    """Django's store of sessions."""

    def _get_session_from_db(self) -> Session | None:
        found = SESSION.first(key=self.session_key)
        if found is None or found.expire_date <= timezone.now():
            self._session_key = None
            return None
        return found


class Known(ModelBackend):
    """Django's way to sign in with a password."""

    def get_user(self, user_id: Any) -> User | None:
        found = PERSON.first(person=user_id)
        return found if found is not None and self.user_can_authenticate(found) else None
