"""What a surface is: a finish with physical meaning, and the library that ships."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ashfell.core.base.document import Document, Name
from ashfell.core.base.refusal import Refusal

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$", to_lower=True)]
"""sRGB, ``#rrggbb``."""
Share = Annotated[float, Field(ge=0, le=1)]
Kind = Literal["paint", "timber", "metal", "glass", "rubber", "plaster", "masonry", "ground"]
Pattern = Literal["plain", "timber", "brick", "plaster", "gravel", "brushed"]

GLASS_IOR = 1.52
"""Refractive index of soda-lime float glass (common handbook value)."""


class Texture(Document):
    """A computed, tileable pattern. ``tile`` is the side of one tile in metres; the same size on every face."""

    pattern: Pattern
    tile: Annotated[float, Field(gt=0, le=20)]
    second: Colour
    seed: int = 1


class Finish(Document):
    """A finish.

    ``roughness`` 0 is a mirror, 1 is chalk; ``metallic`` 1 reflects in its own colour; ``transmission`` 1 lets through
    all that is not reflected, tinted by ``colour``; ``ior`` is the refractive index of what transmits.
    """

    format: Literal["ashfell/finish/1"] = "ashfell/finish/1"
    name: Name
    kind: Kind
    colour: Colour
    roughness: Share = 0.5
    metallic: Share = 0.0
    transmission: Share = 0.0
    ior: Annotated[float, Field(ge=1, le=3)] = GLASS_IOR
    texture: Texture | None = None

    @property
    def linear(self) -> tuple[float, float, float]:
        """The colour in linear sRGB, 0 to 1."""
        red, green, blue = (int(self.colour[k : k + 2], 16) / 255 for k in (1, 3, 5))
        return _to_linear(red), _to_linear(green), _to_linear(blue)

    @property
    def transmits(self) -> bool:
        return self.transmission > 0


def _to_linear(value: float) -> float:
    """IEC 61966-2-1, the sRGB transfer function, inverted."""
    return float(value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4)


def transmittance(ior: float) -> float:
    """Share of light a clear pane lets through at normal incidence, all inner reflections counted: 2n / (n² + 1).

    From Fresnel's equations, e.g. Hecht, *Optics*.

    >>> round(transmittance(1.52), 4)
    0.9183
    """
    return 2 * ior / (ior**2 + 1)


TINT = re.compile(r"tint-([0-9a-f]{6})")


def tinted(colour: tuple[float, float, float]) -> str:
    """The key of coloured glass of an sRGB colour (0 to 1); :func:`find` knows all of them.

    >>> find(tinted((0.2, 0.4, 0.6))).colour
    '#336699'
    """
    return "tint-" + "".join(f"{round(value * 255):02x}" for value in colour)


LIBRARY: dict[str, Finish] = {
    "white-paint": Finish(name="Chalk white paint", kind="paint", colour="#e9e6df", roughness=0.42),
    "slate-paint": Finish(name="Wet slate paint", kind="paint", colour="#3b4246", roughness=0.38),
    "ember-paint": Finish(name="Ember red paint", kind="paint", colour="#a4452c", roughness=0.4),
    "ash-timber": Finish(
        name="Pale ash, oiled",
        kind="timber",
        colour="#c9a878",
        roughness=0.48,
        texture=Texture(pattern="timber", tile=0.9, second="#a27c4e", seed=11),
    ),
    "smoked-oak": Finish(
        name="Smoked oak",
        kind="timber",
        colour="#6f4e35",
        roughness=0.5,
        texture=Texture(pattern="timber", tile=0.9, second="#43301f", seed=23),
    ),
    "brushed-metal": Finish(
        name="Brushed aluminium",
        kind="metal",
        colour="#c3c5c6",
        roughness=0.32,
        metallic=1.0,
        texture=Texture(pattern="brushed", tile=0.4, second="#aeb1b3", seed=5),
    ),
    "clear-glass": Finish(name="Clear glass", kind="glass", colour="#ffffff", roughness=0.0, transmission=1.0),
    "grey-glass": Finish(name="Grey tinted glass", kind="glass", colour="#8f9a9d", roughness=0.0, transmission=1.0),
    "frosted-glass": Finish(name="Frosted glass", kind="glass", colour="#f4f8f7", roughness=0.35, transmission=1.0),
    "dull-lead": Finish(name="Dull lead", kind="metal", colour="#55575a", roughness=0.55, metallic=0.9),
    "black-rubber": Finish(name="Black rubber", kind="rubber", colour="#1d1d1e", roughness=0.75),
    "lime-plaster": Finish(
        name="Lime plaster",
        kind="plaster",
        colour="#ddd7ca",
        roughness=0.9,
        texture=Texture(pattern="plaster", tile=2.0, second="#cfc7b7", seed=7),
    ),
    "river-brick": Finish(
        name="River brick",
        kind="masonry",
        colour="#8b5843",
        roughness=0.88,
        texture=Texture(pattern="brick", tile=1.8, second="#b9b1a3", seed=3),
    ),
    "floor-stone": Finish(
        name="Honed stone",
        kind="masonry",
        colour="#8d8a84",
        roughness=0.55,
        texture=Texture(pattern="plaster", tile=2.0, second="#7d7a75", seed=19),
    ),
    "pale-gravel": Finish(
        name="Pale gravel",
        kind="ground",
        colour="#8f897c",
        roughness=0.95,
        texture=Texture(pattern="gravel", tile=3.0, second="#6f6a5d", seed=31),
    ),
    "mown-grass": Finish(
        name="Mown grass",
        kind="ground",
        colour="#6b7a45",
        roughness=0.95,
        texture=Texture(pattern="gravel", tile=1.6, second="#4c5a31", seed=43),
    ),
}
"""Finishes that ship, by key."""


def find(key: str, own: Mapping[str, Finish] | None = None) -> Finish:
    """A finish by key, the project's own before the library's.

    Raises
    ------
    Refusal
        When there is none of that key.
    """
    finish = (own or {}).get(key) or LIBRARY.get(key) or _coloured_glass(key)
    if finish is None:
        raise Refusal(
            "finishes", "a known finish", f"There is no finish “{key}”.", "Choose one from the finishes page."
        )
    return finish


def _coloured_glass(key: str) -> Finish | None:
    colour = TINT.fullmatch(key)
    if colour is None:
        return None
    return Finish(name="Coloured glass", kind="glass", colour=f"#{colour[1]}", roughness=0.0, transmission=1.0)
