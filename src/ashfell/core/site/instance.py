"""Where something stands on a site."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.plane.points import Floats


@dataclass(frozen=True, eq=False)
class Instance:
    """One use of a definition: where in the site (4, 4) its parts stand, mm. What stands in a host also knows that, and
    where in it (4, 4) it stands."""

    id: str
    definition: str
    entry: str
    matrix: Floats
    host: str = ""
    in_host: Floats | None = None
