"""PDF sheets."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ashfell.core.base.refusal import Refusal
from ashfell.services.handover.drawn import nothing_for
from ashfell.services.handover.format import EXTRAS, FORMATS, PAPER, SCALE, Chosen, Format, Option, extras_of
from ashfell.services.handover.source import Source

if TYPE_CHECKING:
    from ashfell.formats.pdf import Page

SHEETS = Option(
    "sheets",
    "Sheets",
    {
        "site": "plans, elevations, schedule",
        "drawings": "plans and elevations",
        "sections": "sections through units",
        "schedule": "schedule",
        "units": "a sheet of every unit",
        "pictures": "pictures alone",
        "all": "everything",
    },
)
MOST_PICTURES = 40
PICTURES = Option(
    "pictures",
    "Pictures",
    {"0": "no pictures", "1": "the latest picture", "6": "the latest six pictures", str(MOST_PICTURES): "all pictures"},
)


def _of_site(source: Source, chosen: Chosen) -> bytes:
    from ashfell.formats.pdf import write_pdf  # large, and seldom asked for
    from ashfell.formats.pdf_sheets import detail_page, schedule_pages, section_pages, site_pages, unit_page

    scene, style, paper, sheets = source.scene, source.style, chosen["paper"], chosen["sheets"]
    per, extras = float(chosen["scale"] or 0), extras_of(chosen)
    pages: list[Page] = []
    if sheets in ("site", "drawings", "all"):
        pages += site_pages(scene, style, paper, per, source.storey, source.shows, extras)
    if sheets in ("sections", "all"):
        pages += section_pages(scene, style, paper, per, source.shows)
    if sheets in ("site", "schedule", "all"):
        pages += schedule_pages(scene, style, paper, source.shows)
    if sheets in ("units", "all"):
        units = {id(unit): unit for key, unit in scene.units.items() if source.shows(key)}
        ordered = sorted(units.values(), key=lambda unit: unit.document.name)
        for unit in ordered:
            pages += [unit_page(unit, style, source.finishes, paper, extras=extras), detail_page(unit, style, paper)]
    most = int(chosen["pictures"]) or (MOST_PICTURES if sheets == "pictures" else 0)
    pages += _pictures(source, most, paper)
    if not pages:
        raise nothing_for(SHEETS, chosen)
    return write_pdf(source.name, pages)


def _pictures(source: Source, most: int, paper: str) -> list[Page]:
    """The latest pictures, so many of them at most, one on each page."""
    from ashfell.formats.pdf_sheets import picture_pages

    if not most:
        return []
    shown = source.pictures()[:most]
    if not shown:
        raise Refusal("pictures", "a picture that is done", "No picture is done yet.", "Trace one, or choose none.")
    return picture_pages(shown, paper)


def _of_unit(source: Source, chosen: Chosen) -> bytes:
    from ashfell.formats.pdf import write_pdf
    from ashfell.formats.pdf_sheets import detail_page, unit_page

    paper, per = chosen["paper"], float(chosen["scale"] or 0)
    page = unit_page(source.unit, source.style, source.finishes, paper, per, extras_of(chosen))
    return write_pdf(source.name, [page, detail_page(source.unit, source.style, paper)])


MEDIA = "application/pdf"
FORMATS.register(
    Format(
        "pdf",
        100,
        "PDF",
        "drawings",
        ("site", "storey"),
        ".pdf",
        MEDIA,
        "Sheets at a true scale with their title and a bar of the scale.",
        _of_site,
        (SHEETS, PAPER, SCALE, EXTRAS, PICTURES),
    )
)
FORMATS.register(
    Format(
        "unit-pdf",
        101,
        "PDF",
        "drawings",
        ("unit",),
        ".pdf",
        MEDIA,
        "Both elevations, both sections, the build-up list and the finishes on one sheet.",
        _of_unit,
        (PAPER, SCALE, EXTRAS),
    )
)
