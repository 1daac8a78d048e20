"""Which drawings of a site are handed over."""

from __future__ import annotations

from ashfell.core.base.refusal import Refusal
from ashfell.core.drawing.draft import Draft
from ashfell.core.drawing.drafts import plan_drafts, wall_draft
from ashfell.core.drawing.sections import section_drafts
from ashfell.services.handover.format import Chosen, Option, extras_of
from ashfell.services.handover.source import Source

DRAWN = Option(
    "drawn",
    "Drawings",
    {
        "all": "plans, elevations and sections",
        "plans": "plans",
        "elevations": "elevations of walls",
        "sections": "sections through units",
    },
)


def site_drafts(source: Source, chosen: Chosen) -> list[Draft]:
    """The drawings that are chosen, each of what is handed over.

    Raises
    ------
    Refusal
        When there are none.
    """
    drawn, scene, style = chosen[DRAWN.key], source.scene, source.style
    drafts: list[Draft] = []
    if drawn in ("all", "plans"):
        plans = plan_drafts(scene, style, source.planned)
        drafts += [plan for key, plan in plans.items() if source.storey in ("", key)]
    if drawn in ("all", "elevations"):
        built = [key for key, one in scene.standing.items() if one.parts and source.shows(key)]
        drafts += [wall_draft(scene, style, key, extras=extras_of(chosen)) for key in built]
    if drawn in ("all", "sections"):
        drafts += section_drafts(scene, style, source.shows)
    if not drafts:
        raise nothing_for(DRAWN, chosen)
    return drafts


def nothing_for(option: Option, chosen: Chosen) -> Refusal:
    """The refusal of a file that would be empty."""
    words = option.words[chosen[option.key]]
    told = f"Of what is handed over there are no {words}."
    return Refusal(option.key, "something to be drawn", told, "Choose others, hand over more, or place a unit first.")
