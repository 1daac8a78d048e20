"""Lamps in a site document."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ashfell.core.base.document import Document, Key, Name, Place, Size, mm
from ashfell.core.base.registry import KeyOf
from ashfell.core.kinds.lamp import LAMPS, LampKind

Group = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40, pattern=r"^[^:]+$")]
"""What lamps are switched together by."""


class Lamp(Document):
    """A lamp at ``x, y``, ``z`` above the level of its ``storey`` (above 0 without one): its middle.

    It gives ``lumens`` of light as white as a black body at ``kelvin``. A bulb is a ball ``width`` across. A panel and
    a strip are plates of ``width`` by ``length`` that shine down, a spot a cone ``beam`` degrees wide. Tilted by 90
    degrees they shine level, to the side that ``turn`` says, counter-clockwise from the site's x. Those of one
    ``group`` are switched, dimmed and tinted together in pictures.
    """

    id: Key
    name: Name = "Lamp"
    kind: Annotated[str, KeyOf(LAMPS)] = "bulb"
    x: Place = mm("0")
    y: Place = mm("0")
    z: Place = mm("2200")
    storey: Key | None = None
    lumens: Annotated[float, Field(gt=0, le=1_000_000)] = 800.0
    kelvin: Annotated[float, Field(ge=1000, le=20_000)] = 2700.0
    width: Size = mm("100")
    length: Size = mm("600")
    beam: Annotated[float, Field(ge=2, le=160)] = 36.0
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    tilt: Annotated[float, Field(ge=-180, le=180)] = 0.0
    group: Group = "lamps"

    @property
    def of(self) -> LampKind:
        """Its kind."""
        return LAMPS[self.kind]
