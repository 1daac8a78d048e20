"""Who may see what: every object is found through the projects of the person who asks."""

from __future__ import annotations

from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from ashfell.studio.projects.models import Project, Record


def project_of(request: HttpRequest, project: int) -> Project:
    """A project of the person's own; 404 for anybody else's."""
    return get_object_or_404(Project, pk=project, members=request.user)


def record_of(request: HttpRequest, project: int, kind: str, key: str) -> Record:
    """A document of one of the person's own projects."""
    found = Record.objects.select_related("project", "current__parent")
    return get_object_or_404(found, project__members=request.user, project=project, kind=kind, key=key)
