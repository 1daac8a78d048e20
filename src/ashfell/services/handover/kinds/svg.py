"""SVG of a unit's elevation, or of the drawings of a site in their real millimetres."""

import re

from ashfell.formats.archive import packed
from ashfell.formats.svg import elevation_svg
from ashfell.formats.svg_drafts import write_svg
from ashfell.services.handover.drawn import DRAWN, site_drafts
from ashfell.services.handover.format import EXTRAS, FIGURES, FORMATS, Chosen, Format
from ashfell.services.handover.source import Source


def _write(source: Source, chosen: Chosen) -> bytes:
    return elevation_svg(source.unit, source.style).encode()


FORMATS.register(
    Format(
        "svg",
        120,
        "SVG",
        "drawings",
        ("unit",),
        ".svg",
        "image/svg+xml",
        "The outer elevation with all its dimensions.",
        _write,
    )
)


def _of_site(source: Source, chosen: Chosen) -> bytes:
    drafts = site_drafts(source, chosen)
    names = [re.sub(r"[^a-z0-9]+", "-", draft.title.lower()).strip("-")[:60] for draft in drafts]
    files = zip(names, drafts, strict=True)
    return packed({f"{number:03}-{name}.svg": write_svg(draft, float(chosen["figures"]))
                   for number, (name, draft) in enumerate(files, 1)})  # fmt: skip


FORMATS.register(
    Format(
        "svg-drawings",
        121,
        "SVG",
        "drawings",
        ("site", "storey"),
        ".svg.zip",
        "application/zip",
        "A ZIP with a file of each drawing, in its real millimetres, layers as groups.",
        _of_site,
        (DRAWN, EXTRAS, FIGURES),
    )
)
