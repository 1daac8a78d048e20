"""The document of a finish: what a surface is, with a physical meaning."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints, model_validator

from ashfell.core.base.document import Document, Gap, Name, Place, Size, mm
from ashfell.core.base.registry import KeyOf
from ashfell.core.finish.kind import SURFACES, Surface
from ashfell.core.finish.pattern import PATTERNS
from ashfell.core.upgrade import upgraded

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$", to_lower=True)]
"""sRGB, ``#rrggbb``."""
Part = Annotated[float, Field(ge=0, le=1)]
Image = Annotated[str, StringConstraints(pattern=r"^([0-9a-f]{64})?$")]
"""The key of an image that is kept, the SHA-256 of its content; empty for none."""

GLASS_IOR = 1.52
"""Refractive index of soda-lime float glass (common handbook value)."""
BRIGHTEST = 0.9
"""More than this nothing that is built reflects: fresh snow and magnesium oxide do (common handbook values)."""


class Maps(Document):
    """Images of one tile: its ``colour``, its ``roughness``, the ``height`` of its relief, or the ``normal`` of it."""

    colour: Image = ""
    roughness: Image = ""
    height: Image = ""
    normal: Image = ""


class Texture(Document):
    """What repeats over a surface, at its real size: computed, or of images where the ``pattern`` is ``image``.

    One tile is ``width`` by ``height`` (square, or as its image is, when that is left out), turned by ``turn`` degrees
    counter-clockwise and begun ``x`` along the grain and ``y`` across it. A computed one goes from the finish's colour
    to its ``second`` by a ``seed``. ``depth`` is how far its relief goes up and down, from the lowest place to the
    highest.
    """

    pattern: Annotated[str, KeyOf(PATTERNS)]
    width: Size = mm("1 m")
    height: Size | None = None
    second: Colour = "#808080"
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    x: Place = mm("0")
    y: Place = mm("0")
    depth: Gap = mm("0")
    maps: Maps = Maps()

    @property
    def across(self) -> float:
        """The width of a tile, m."""
        return float(self.width.mm) / 1000


class Finish(Document):
    """A finish.

    ``roughness`` 0 is a mirror, 1 is chalk; ``metallic`` 1 reflects in its own colour; ``varnish`` 1 is a full coat of
    clear lacquer over it, ``sheen`` 1 the bright edge of cloth; ``transmission`` 1 lets through all that is not
    reflected, tinted by ``colour``: as that is at the ``thickness``, more or less of it in thicker or thinner panes;
    without one every pane has that tint. ``ior`` is the refractive index of what transmits.
    """

    format: Literal["ashfell/finish/2"] = "ashfell/finish/2"
    name: Name
    kind: Annotated[str, KeyOf(SURFACES)]
    colour: Colour
    roughness: Part = 0.5
    metallic: Part = 0.0
    varnish: Part = 0.0
    sheen: Part = 0.0
    transmission: Part = 0.0
    thickness: Size | None = None
    ior: Annotated[float, Field(ge=1, le=3)] = GLASS_IOR
    texture: Texture | None = None

    @model_validator(mode="before")
    @classmethod
    def _of_any_format(cls, data: Any) -> Any:
        return upgraded(data) if isinstance(data, Mapping) else data

    @property
    def surface(self) -> Surface:
        """Its kind."""
        return SURFACES[self.kind]

    @property
    def linear(self) -> tuple[float, float, float]:
        """The colour in linear sRGB, 0 to 1."""
        red, green, blue = (to_linear(value / 255) for value in rgb(self.colour))
        return red, green, blue

    @property
    def reflectance(self) -> float:
        """The share of light that its colour gives back: the luminance of it, by the weights of ITU-R BT.709."""
        red, green, blue = self.linear
        return 0.2126 * red + 0.7152 * green + 0.0722 * blue

    @property
    def transmits(self) -> bool:
        """Whether light goes through it."""
        return self.transmission > 0

    @property
    def is_sheet(self) -> bool:
        """Whether it is seen through as a clear sheet."""
        return self.transmits and self.roughness == 0 and (self.texture is None or not self.texture.depth.mm)

    def through(self, thick: float) -> tuple[float, float, float]:
        """What a pane ``thick`` mm thick lets through of what enters it: Bouguer, Lambert and Beer's law.

        >>> grey = Finish(name="Grey", kind="glass", colour="#bcbcbc", transmission=1, thickness="4")
        >>> round(grey.through(8)[0] / grey.linear[0] ** 2, 9)
        1.0
        """
        if self.thickness is None:
            return self.linear
        red, green, blue = (value ** (thick / float(self.thickness.mm)) for value in self.linear)
        return red, green, blue


def rgb(colour: str) -> tuple[int, int, int]:
    """The bytes of a colour ``#rrggbb``."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def to_linear(value: float) -> float:
    """IEC 61966-2-1, the sRGB transfer function, inverted."""
    return float(value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)


def to_srgb(value: float) -> float:
    """IEC 61966-2-1, the sRGB transfer function."""
    return float(value * 12.92 if value <= 0.0031308 else 1.055 * value ** (1 / 2.4) - 0.055)


def transmittance(ior: float) -> float:
    """Share of light a clear pane lets through at normal incidence, all inner reflections counted: 2n / (n² + 1).

    From Fresnel's equations, e.g. Hecht, *Optics*.

    >>> round(transmittance(1.52), 4)
    0.9183
    """
    return 2 * ior / (ior**2 + 1)
