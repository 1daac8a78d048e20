"""DXF of a site's drawings, or of a unit's."""

from ashfell.core.drawing.draft import Draft
from ashfell.core.drawing.drafts import unit_draft
from ashfell.core.drawing.sheet import VIEWS
from ashfell.services.handover.drawn import DRAWN, site_drafts
from ashfell.services.handover.format import EXTRAS, FIGURES, FORMATS, MEASURE, Chosen, Format, extras_of
from ashfell.services.handover.source import Source


def _written(drafts: list[Draft], chosen: Chosen) -> bytes:
    from ashfell.formats.dxf import write_dxf  # large, and seldom asked for

    return write_dxf(drafts, chosen["measure"], float(chosen["figures"]))


def _of_site(source: Source, chosen: Chosen) -> bytes:
    return _written(site_drafts(source, chosen), chosen)


def _of_unit(source: Source, chosen: Chosen) -> bytes:
    drafts = [unit_draft(source.unit, source.style, view, extras=extras_of(chosen)) for view in VIEWS]
    return _written(drafts, chosen)


HOLDS = "At true scale, layers by what things are, blocks for units, real dimensions."
MEDIA = "image/vnd.dxf"
FORMATS.register(
    Format(
        "dxf",
        110,
        "DXF",
        "drawings",
        ("site", "storey"),
        ".dxf",
        MEDIA,
        HOLDS,
        _of_site,
        (DRAWN, EXTRAS, MEASURE, FIGURES),
    )
)
FORMATS.register(
    Format("unit-dxf", 111, "DXF", "drawings", ("unit",), ".dxf", MEDIA, HOLDS, _of_unit, (EXTRAS, MEASURE, FIGURES))
)
