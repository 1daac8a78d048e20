"""The wall: its document, its openings, and how a unit is fitted into one."""

from ashfell.core.wall.document import Placement, Plate, SiteDocument, Wall, read_site
from ashfell.core.wall.fit import Opening, fit_openings, opening_of
from ashfell.core.wall.solid import wall_parts

__all__ = [
    "Opening", "Placement", "Plate", "SiteDocument", "Wall", "fit_openings", "opening_of", "read_site", "wall_parts",
]  # fmt: skip
