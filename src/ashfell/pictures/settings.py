"""What a picture is taken of and how: camera, sun, sky, lamps, ground, size, quality."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from math import atan, ceil, cos, degrees, floor, radians, sin, sqrt, tan
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document, Key
from ashfell.core.finish.document import Image
from ashfell.core.site.document.camera import FRAME
from ashfell.pictures.sun import Sun, sun_at

Metres = Annotated[float, Field(ge=-10_000, le=10_000)]
Point = tuple[Metres, Metres, Metres]
Share = Annotated[float, Field(ge=0, le=1)]
LEAST_REGION = 16
"""The least width and height of a region, pixels."""
GLANCED = 40_000
"""About how many pixels the first image of a picture has at most: a third as wide as a draft of 640 by 400."""
Quality = Literal["draft", "good", "final"]

PASSES: dict[Quality, tuple[int, int]] = {"draft": (4, 4), "good": (8, 16), "final": (24, 32)}
"""How many passes, and samples a pixel in each."""
Surfaces = Literal["finished", "clay", "lines"]
SURFACES: dict[Surfaces, str] = {
    "finished": "as finished",
    "clay": "clay, white and dull",
    "lines": "lines, what is hidden left out",
}
SKIES = {"clear": "clear", "hazy": "hazy", "overcast": "overcast", "image": "from an image", "none": "none"}


class Camera(Document):
    """Where the picture is taken from and looks at, metres in the site; ``lens`` in mm for a frame 36 mm wide. Kept
    ``upright`` it is shifted instead of tilted; it is rolled clockwise by ``roll`` degrees, and what is nearer than
    ``clip`` metres is left out."""

    eye: Point = (3.0, -7.0, 1.6)
    target: Point = (3.0, 0.0, 1.5)
    lens: Annotated[float, Field(ge=8, le=400)] = 38.6
    upright: bool = True
    roll: Annotated[float, Field(ge=-180, le=180)] = 0.0
    clip: Annotated[float, Field(ge=0, le=1000)] = 0.0

    @model_validator(mode="after")
    def _looks_somewhere(self) -> Self:
        if sum((a - b) ** 2 for a, b in zip(self.eye, self.target, strict=True)) < 1e-6:
            raise PydanticCustomError("camera_looks_somewhere", "The camera stands on the point it looks at.", {})
        return self

    @property
    def view(self) -> float:
        """The horizontal angle that it sees, degrees."""
        return degrees(2 * atan(FRAME / 2 / self.lens))


def lens_of(view: float) -> float:
    """The lens that sees an angle across, mm.

    >>> round(lens_of(Camera(lens=50).view), 9)
    50.0
    """
    return FRAME / 2 / tan(radians(view) / 2)


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


class Sky(Document):
    """The sky: clear or hazy as the sun makes it, overcast without a sun, of an ``image`` all round, turned clockwise
    by ``turn`` degrees, that lights a level plate with ``klx`` thousand lux; or none."""

    kind: Literal["clear", "hazy", "overcast", "image", "none"] = "clear"
    image: Image = ""
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    klx: Annotated[float, Field(gt=0, le=200)] = 15.0


class PictureSettings(Document):
    """All that a picture needs besides the scene. ``off`` are the layers of light that are not traced: ``sun``, ``sky``
    or ``lamps:`` and a group. ``surfaces`` may all be ``clay``, white and dull, glass being clear, as of a model; of
    ``lines`` the edges are drawn and nothing is traced. A picture is done after the passes of its quality; where it is
    said, after so many ``minutes`` of tracing, or when its noise is at most so many percent of its light.
    ``exposure`` is in stops round the measured one. Of a ``region``, its left, upper, right and lower edge as shares of
    the frame from its upper left, only that is traced."""

    format: Literal["ashfell/picture/2"] = "ashfell/picture/2"
    camera: Camera = Camera()
    sun: Annotated[SunByPlace | SunByAngle, Field(discriminator="by")] = SunByAngle()
    sky: Sky = Sky()
    off: tuple[str, ...] = ()
    surfaces: Surfaces = "finished"
    ground: Key = "pale-gravel"
    width: Annotated[int, Field(ge=16, le=4096)] = 640
    height: Annotated[int, Field(ge=16, le=4096)] = 400
    quality: Quality = "draft"
    minutes: Annotated[float, Field(ge=0, le=10_000)] = 0.0
    noise: Annotated[float, Field(ge=0, le=100)] = 0.0
    exposure: Annotated[float, Field(ge=-8, le=8)] = 0.0
    region: tuple[Share, Share, Share, Share] | None = None

    @model_validator(mode="after")
    def _is_a_region(self) -> Self:
        if self.region is not None:
            left, top, right, bottom = self.crop
            if right - left < LEAST_REGION or bottom - top < LEAST_REGION:
                raise PydanticCustomError(
                    "region_of_some_size",
                    "A region is at least {least} pixels wide and high, from the left to the right and from the top "
                    "down.",
                    {"least": LEAST_REGION},
                )
        return self

    @model_validator(mode="before")
    @classmethod
    def _of_any_format(cls, data: Any) -> Any:
        if not isinstance(data, Mapping) or data.get("format") != "ashfell/picture/1":
            return data
        camera = dict(data.get("camera") or {})
        if isinstance(view := camera.pop("view", None), (int, float)) and 0 < view < 180:
            camera |= {"lens": lens_of(view)}
        return {**data, "format": "ashfell/picture/2", "camera": camera | {"upright": False}}

    @property
    def crop(self) -> tuple[int, int, int, int]:
        """What is traced: left, upper, right and lower edge, pixels; all of it where no region is said."""
        left, top, right, bottom = self.region or (0.0, 0.0, 1.0, 1.0)
        return floor(left * self.width), floor(top * self.height), ceil(right * self.width), ceil(bottom * self.height)

    @property
    def glanced(self) -> PictureSettings:
        """The same picture so small that a first image of it is there within seconds."""
        by = ceil(sqrt(self.width * self.height / GLANCED))
        sizes = {"width": max(LEAST_REGION, self.width // by), "height": max(LEAST_REGION, self.height // by)}
        return self.model_copy(update=sizes | {"region": None})

    @property
    def passes(self) -> int:
        return 1 if self.surfaces == "lines" else PASSES[self.quality][0]

    @property
    def samples(self) -> int:
        """Samples a pixel in one pass, those of all layers together."""
        return PASSES[self.quality][1]


def towards(sun: Sun) -> Point:
    """Unit vector to the sun in the site: x east, y north, z up."""
    azimuth, altitude = radians(sun.azimuth), radians(sun.altitude)
    return sin(azimuth) * cos(altitude), cos(azimuth) * cos(altitude), sin(altitude)
