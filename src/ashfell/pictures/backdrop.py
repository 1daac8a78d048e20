"""What stands beyond the building: the sky that lights it, or what is put in its place when the picture is developed.

How much of what is beyond is seen at each pixel, past all that stands and through clear glass, is a layer of its own
(``THROUGH``); so the backdrop is changed without tracing, and can be left out for those who compose the picture later.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pillow
from pydantic import Field, model_validator
from pydantic_core import PydanticCustomError

from ashfell.core.base.document import Document
from ashfell.core.finish.document import Colour, Image, rgb
from ashfell.core.finish.images import image
from ashfell.core.plane.points import Floats

Pixels = NDArray[np.float32]

THROUGH, BEYOND = "through", "beyond"
"""The layers that are no light of the building: how much of what is beyond is seen, and the sky that is there."""
BACKDROPS = {
    "sky": "the sky",
    "plain": "one colour",
    "gradient": "two colours",
    "image": "an image",
    "far": "an image at a distance",
    "night": "a sky of stars",
    "none": "nothing, transparent",
}
STARS = 700
"""How many stars there are in a frame as wide as it is high."""
GLOW = (0.30, 0.52, 1.0)
"""The air of the made-up planet, linear."""


class Backdrop(Document):
    """What is seen beyond the building. ``colour`` is the plain one, and the lower of two; ``upper`` the other.
    An ``image`` fills the frame; ``far`` it stands ``away`` m from the site's origin, clockwise from north by its
    ``bearing``, square to that, so many m ``across``, its foot at a height, before the sky. A sky of stars has the limb
    of a planet as high as ``limb`` of the frame."""

    kind: Literal["sky", "plain", "gradient", "image", "far", "night", "none"] = "sky"
    colour: Colour = "#dfe3e6"
    upper: Colour = "#8fa3b5"
    image: Image = ""
    bearing: Annotated[float, Field(ge=-360, le=360)] = 0.0
    away: Annotated[float, Field(gt=0, le=20_000)] = 200.0
    across: Annotated[float, Field(gt=0, le=20_000)] = 300.0
    foot: Annotated[float, Field(ge=-1000, le=1000)] = 0.0
    limb: Annotated[float, Field(ge=0, le=1)] = 0.7

    @model_validator(mode="after")
    def _has_its_image(self) -> Self:
        if self.kind in ("image", "far") and not self.image:
            raise PydanticCustomError("backdrop_image", "No image is brought for the backdrop.", {})
        return self


def laid(backdrop: Backdrop, height: int, width: int) -> Pixels:
    """What is beyond, as it is printed: (height, width, 3), 0 to 1, in the encoding of sRGB."""
    if backdrop.kind == "image":
        return _filled(backdrop.image, height, width)
    if backdrop.kind == "night":
        return night(backdrop.limb, height, width)
    low = np.array(rgb(backdrop.colour), dtype=np.float32) / 255
    high = np.array(rgb(backdrop.upper), dtype=np.float32) / 255 if backdrop.kind == "gradient" else low
    rise = np.linspace(1, 0, height, dtype=np.float32)[:, None, None]
    return np.broadcast_to(low + (high - low) * rise, (height, width, 3)).astype(np.float32)


def _filled(key: str, height: int, width: int) -> Pixels:
    """An image that fills the frame, what is too much cut off on both sides alike."""
    held = Pillow.fromarray(image(key))
    scale = max(width / held.width, height / held.height)
    wide, high = max(width, round(held.width * scale)), max(height, round(held.height * scale))
    left, top = (wide - width) // 2, (high - height) // 2
    shown = held.resize((wide, high), Pillow.Resampling.LANCZOS).crop((left, top, left + width, top + height))
    return (np.asarray(shown, dtype=np.float32)[..., :3] / 255).astype(np.float32)


def standing(backdrop: Backdrop, eye: Floats, ways: Floats) -> tuple[Pixels, Pixels]:
    """An image at a distance as it is seen from an ``eye`` along ``ways`` (h, w, 3): (h, w, 3) as it is printed, and
    how much of it is there (h, w, 1)."""
    from scipy.ndimage import map_coordinates  # slow to read, and seldom wanted

    bearing = np.radians(backdrop.bearing)
    ahead, across = np.array([np.sin(bearing), np.cos(bearing), 0]), np.array([np.cos(bearing), -np.sin(bearing), 0])
    held = np.asarray(image(backdrop.image), dtype=np.float32)[..., :3] / 255
    rows, columns = held.shape[:2]
    nearer = ways @ ahead
    times = (backdrop.away - eye @ ahead) / np.where(np.abs(nearer) < 1e-9, 1e-9, nearer)
    place = eye + times[..., None] * ways
    scale = columns / backdrop.across
    x, y = (place @ across) * scale + columns / 2, rows - (place[..., 2] - backdrop.foot) * scale
    inside = (times > 0) & (x >= 0) & (x < columns) & (y >= 0) & (y < rows)
    at = [np.where(inside, y - 0.5, 0), np.where(inside, x - 0.5, 0)]
    seen = np.stack([map_coordinates(held[..., k], at, order=1, mode="nearest") for k in range(3)], axis=-1)
    return seen.astype(np.float32), inside[..., None].astype(np.float32)


def night(limb: float, height: int, width: int) -> Pixels:
    """Stars, and the limb of a planet with its air, as high as ``limb`` of the frame; the same at every size."""
    random = np.random.default_rng(7)
    size = float(height)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    x, y = (x + 0.5 - width / 2) / size, (height - y - 0.5) / size
    sky = np.full((height, width, 3), (0.004, 0.006, 0.012), dtype=np.float32)
    places = random.uniform([-2, 0], [2, 1], (4 * STARS, 2))
    bright = random.pareto(1.3, 4 * STARS).clip(0.02, 30) * 0.03
    warm = random.uniform(-0.25, 0.25, 4 * STARS)
    spread = max(0.0007, 0.45 / size)
    for (across, up), level, tint in zip(places, bright, warm, strict=True):
        column, row = across * size + width / 2, height - up * size
        if not (0 <= column < width and 0 <= row < height):
            continue
        reach = int(np.ceil(3 * spread * size)) + 1
        rows = slice(max(0, int(row) - reach), int(row) + reach + 1)
        columns = slice(max(0, int(column) - reach), int(column) + reach + 1)
        near = np.exp(-((x[rows, columns] - across) ** 2 + (y[rows, columns] - up) ** 2) / (2 * spread**2))
        sky[rows, columns] += (near * level)[..., None] * np.array([1 + tint, 1, 1 - tint], dtype=np.float32)
    if limb:
        sky = _planet(sky, x, y, limb)
    held = sky.clip(0, 1)
    return np.where(held <= 0.0031308, held * 12.92, 1.055 * held ** (1 / 2.4) - 0.055).astype(np.float32)


def _planet(sky: Pixels, x: Pixels, y: Pixels, limb: float) -> Pixels:
    """The limb before the stars: dark ground, lit from the right, under a thin glow of air."""
    radius = 2.6
    away = np.hypot(x - 0.2, y - (limb - radius)) - radius
    lit = np.clip(0.62 + 0.42 * x, 0.05, 1)[..., None]
    air = np.exp(-np.maximum(away, 0) / 0.028) * (away > 0) + np.exp(np.minimum(away, 0) / 0.010) * (away <= 0)
    rim = np.exp(-((away / 0.0035) ** 2))
    ground = np.clip((-away) / 0.002, 0, 1)[..., None]
    body = np.array([0.010, 0.016, 0.026], dtype=np.float32) * lit
    glow = air[..., None] * np.array(GLOW, dtype=np.float32) * 0.55 + rim[..., None] * np.array([0.8, 0.9, 1.0])
    return np.asarray(sky * (1 - ground) + body * ground + glow * lit, dtype=np.float32)
