"""What a picture is taken of and how: camera, sun, ground, size, quality."""

from __future__ import annotations

from datetime import datetime
from math import cos, radians, sin
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Key
from ashfell.pictures.sun import Sun, sun_at

Metres = Annotated[float, Field(ge=-10_000, le=10_000)]
Point = tuple[Metres, Metres, Metres]
Quality = Literal["draft", "good", "final"]

PASSES: dict[Quality, tuple[int, int]] = {"draft": (2, 8), "good": (8, 16), "final": (24, 32)}
"""How many passes, and samples a pixel in each."""


class Camera(Document):
    """Where the picture is taken from and looks at, metres in the site; ``view`` is the horizontal angle, degrees."""

    eye: Point = (3.0, -7.0, 1.6)
    target: Point = (3.0, 0.0, 1.5)
    view: Annotated[float, Field(ge=5, le=120)] = 50.0

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Self:
        if sum((a - b) ** 2 for a, b in zip(self.eye, self.target, strict=True)) < 1e-6:
            raise PydanticCustomError("camera_looks_somewhere", "The camera stands on the point it looks at.", {})
        return self


class SunByPlace(Document):
    """The sun of a place and moment; latitude north and longitude east in degrees, local time with its UTC offset."""

    by: Literal["place"] = "place"
    latitude: Annotated[float, Field(ge=-90, le=90)] = 52.0
    longitude: Annotated[float, Field(ge=-180, le=180)] = 0.0
    moment: datetime = datetime(2026, 6, 21, 16, 0)
    utc_offset: Annotated[float, Field(ge=-14, le=14)] = 1.0

    def sun(self) -> Sun:
        return sun_at(self.latitude, self.longitude, self.moment, self.utc_offset)


class SunByAngle(Document):
    """The sun by direct angle: azimuth clockwise from north (the site's y), altitude above the horizon, degrees."""

    by: Literal["angle"] = "angle"
    azimuth: Annotated[float, Field(ge=0, le=360)] = 215.0
    altitude: Annotated[float, Field(ge=-90, le=90)] = 38.0

    def sun(self) -> Sun:
        return Sun(self.azimuth, self.altitude)


class PictureSettings(Document):
    """All that a picture needs besides the scene. ``exposure`` is in stops round the measured one."""

    format: Literal["ashfell/picture/1"] = "ashfell/picture/1"
    camera: Camera = Camera()
    sun: Annotated[SunByPlace | SunByAngle, Field(discriminator="by")] = SunByAngle()
    ground: Key = "pale-gravel"
    width: Annotated[int, Field(ge=16, le=4096)] = 640
    height: Annotated[int, Field(ge=16, le=4096)] = 400
    quality: Quality = "draft"
    exposure: Annotated[float, Field(ge=-8, le=8)] = 0.0

    @property
    def passes(self) -> int:
        return PASSES[self.quality][0]

    @property
    def samples(self) -> int:
        """Samples a pixel in one pass."""
        return PASSES[self.quality][1]


def towards(sun: Sun) -> Point:
    """Unit vector to the sun in the site: x east, y north, z up."""
    azimuth, altitude = radians(sun.azimuth), radians(sun.altitude)
    return sin(azimuth) * cos(altitude), cos(azimuth) * cos(altitude), sin(altitude)
