"""Documents as they are kept: a unit as JSON, a site with all that it uses in one file."""

import json

from ashfell.services.handover.format import FORMATS, Chosen, Format, Option
from ashfell.services.handover.project_file import write_project
from ashfell.services.handover.source import Source


def _document(source: Source, chosen: Chosen) -> bytes:
    return (json.dumps(source.document, indent=1, ensure_ascii=False) + "\n").encode()


def _project(source: Source, chosen: Chosen) -> bytes:
    told = source.revisions() if chosen["revisions"] == "all" else {}
    return write_project(source.document, source.images, source.underlays, told)


FORMATS.register(
    Format(
        "json",
        300,
        "JSON",
        "documents",
        ("unit", "site"),
        ".json",
        "application/json",
        "The document, with all that it names.",
        _document,
    )
)
FORMATS.register(
    Format(
        "project",
        310,
        "Project in one file",
        "documents",
        ("site",),
        ".ashfell.zip",
        "application/zip",
        "Site, units, finishes, images and underlays, to be taken in again as a project.",
        _project,
        (Option("revisions", "Revisions", {"none": "As it is now", "all": "Every change so far"}),),
    )
)
