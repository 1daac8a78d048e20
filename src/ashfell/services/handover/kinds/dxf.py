"""DXF of a site's drawings, or of a unit's."""

from ashfell.core.drawing.draft import Draft
from ashfell.core.drawing.drafts import plan_drafts, unit_draft, wall_draft
from ashfell.core.drawing.sheet import VIEWS
from ashfell.services.handover.format import EXTRAS, FORMATS, MEASURE, Chosen, Format, Option, extras_of
from ashfell.services.handover.source import Source

DRAWN = Option(
    "drawn", "Drawings", {"all": "plans and elevations", "plans": "plans", "elevations": "elevations of walls"}
)
FIGURES = Option("figures", "Figures for", {str(one): f"1 : {one}" for one in (50, 20, 25, 100, 200, 10, 5)})


def _written(drafts: list[Draft], chosen: Chosen) -> bytes:
    from ashfell.formats.dxf import write_dxf  # large, and seldom asked for

    return write_dxf(drafts, chosen["measure"], float(chosen["figures"]))


def _of_site(source: Source, chosen: Chosen) -> bytes:
    drafts: list[Draft] = []
    if chosen["drawn"] != "elevations":
        plans = plan_drafts(source.scene, source.style, source.planned)
        drafts += [plan for key, plan in plans.items() if source.storey in ("", key)]
    if chosen["drawn"] != "plans":
        built = [key for key, one in source.scene.standing.items() if one.parts and source.shows(key)]
        drafts += [wall_draft(source.scene, source.style, key, extras=extras_of(chosen)) for key in built]
    return _written(drafts, chosen)


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
