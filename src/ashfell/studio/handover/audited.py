"""Audits on pages: of what is large the worker's findings, or that they are being made."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from ashfell.core.base.document import Data
from ashfell.formats.findings import read_findings
from ashfell.services.documents import check_site
from ashfell.services.kept.models import Record
from ashfell.studio.handover.behind import digest_of, is_large_site, made_behind


def audited_site(request: HttpRequest, record: Record) -> HttpResponse:
    """The findings about a site as it is kept, with all that it uses."""
    document = record.project.composed(record.data)
    if is_large_site(document):
        return audited_behind(request, record, document)
    scene, findings = check_site(document)
    return render(request, "_findings.html", {"findings": findings, "checked": scene.counted})


def audited_behind(request: HttpRequest, record: Record, document: Data) -> HttpResponse:
    """The findings about a large unit or site, or a line that asks for them again in a while."""
    made = made_behind(record, request.user, "audit", document, digest_of(document), again="again" in request.GET)
    if not made.has_file:
        return render(request, "_audited.html", {"project": record.project, "made": made, "address": request.path})
    findings, checked = read_findings(made.file.read_bytes())
    return render(request, "_findings.html", {"findings": findings, "checked": checked})
