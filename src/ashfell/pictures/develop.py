"""From the sums of passes to an image: layers of light mixed, noise removed, exposed, and written as a file."""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pillow
from pydantic import Field

from ashfell.core.base.document import Document
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.document import Colour, rgb, to_linear
from ashfell.core.site.photometry import WEIGHTS, black_body
from ashfell.pictures.backdrop import BEYOND, THROUGH, Backdrop, laid, standing
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import rays

Image = NDArray[np.float32]

MIDDLE = 0.20
"""What the measured exposure makes of the picture's middle brightness, linear."""
WHITE = 6.0
"""The brightest value that is still told from white, before the curve."""
GREY = 0.18
"""What contrast and the curves turn about, linear."""
NEUTRAL = 6504.0
"""The light that looks white when nothing is said, K."""
KEEPS = 0.8, 1.25
"""As many times the light of a layer may be left when its noise is removed."""
CORRECTED = 10.0
"""How many times as bright, or as dim, what layers show together may make them."""
FILM = 1.2
"""How steep the curve of film is."""


class Dimmed(Document):
    """How a layer of light is mixed in: as many times as strong, in a colour."""

    strength: Annotated[float, Field(ge=0, le=1000)] = 1.0
    colour: Colour = "#ffffff"


class Look(Document):
    """How a picture is developed. ``exposure`` is in stops round the measured one; that is measured of the layers as
    they were ``traced``, or as they are ``mixed``. ``white`` is the light that looks white, in K; ``contrast`` above 0
    is harder; the ``curve`` rolls highlights off softly, as film does, or cuts them. The ``backdrop`` is what is seen
    beyond the building."""

    exposure: Annotated[float, Field(ge=-12, le=12)] = 0.0
    metered: Literal["traced", "mixed"] = "traced"
    white: Annotated[float, Field(ge=1700, le=25_000)] = NEUTRAL
    contrast: Annotated[float, Field(ge=-0.9, le=3)] = 0.0
    curve: Literal["soft", "film", "cut"] = "soft"
    layers: dict[str, Dimmed] = {}
    backdrop: Backdrop = Backdrop()


def mixed(layers: Mapping[str, Image], look: Look | None = None) -> Image:
    """Layers of light (h, w, 3) added up, each as strong and in the colour that a look says, before the sky unless
    something else is to stand there."""
    total: Image | None = None
    for name in light_in(layers):
        layer = layers[name] * _tint(look, name)
        total = layer if total is None else total + layer
    if BEYOND in layers and (look is None or look.backdrop.kind in ("sky", "far")):
        total = _beyond(layers, look) if total is None else total + _beyond(layers, look)
    assert total is not None
    return total.astype(np.float32)


def _beyond(layers: Mapping[str, Image], look: Look | None) -> Image:
    """The sky, as it is seen past all that stands."""
    return np.asarray(layers[THROUGH] * layers[BEYOND] * _tint(look, "sky"))


def mixed_alike(names: Iterable[str], look: Look) -> list[list[str]]:
    """Layers of light that a look makes as strong as each other, and gives one colour; the sky, which is seen itself,
    by itself."""
    groups: dict[object, list[str]] = {}
    for name in names:
        groups.setdefault((name == "sky", *_tint(look, name).tolist()), []).append(name)
    return list(groups.values())


def light_in(layers: Mapping[str, Image]) -> list[str]:
    """The layers that are light."""
    return [name for name in layers if name not in (THROUGH, BEYOND)]


def _tint(look: Look | None, name: str) -> NDArray[np.float32]:
    """By how much a look multiplies a layer."""
    own = look.layers.get(name) if look else None
    if own is None:
        return np.ones(3, dtype=np.float32)
    colour = np.array([to_linear(value / 255) for value in rgb(own.colour)], dtype=np.float32)
    return colour * np.float32(own.strength)


def developed(layers: Mapping[str, Image], look: Look, settings: PictureSettings | None = None) -> NDArray[np.uint8]:
    """sRGB bytes (h, w, 3) of layers without noise; (h, w, 4), the last how much is covered, where nothing is beyond.
    Of its ``settings`` it is told where an image at a distance is seen.

    Raises
    ------
    Refusal
        When another backdrop is asked for than the sky, and the picture does not tell where it is seen.
    """
    return finished(mixed(layers, look), layers, look, settings)


def finished(
    colour: Image, layers: Mapping[str, Image], look: Look, settings: PictureSettings | None = None
) -> NDArray[np.uint8]:
    """The same of layers that are mixed already."""
    backdrop = look.backdrop
    factor = np.float32(measured(colour if look.metered == "mixed" else mixed(layers)))
    pixels = printed(colour * factor, look)
    if backdrop.kind == "sky":
        return pixels
    if backdrop.kind == "none":
        return _alone(pixels, _open(layers))
    if backdrop.kind != "far" or settings is None:
        return _before(pixels, _open(layers), laid(backdrop, *pixels.shape[:2]))
    behind, there = standing(backdrop, *rays(settings, *pixels.shape[:2]))
    without_sky = printed(np.maximum(colour - _beyond(layers, look), 0) * factor, look)
    seen = _before(without_sky, _open(layers), behind)
    return np.where(there > 0, seen, pixels).astype(np.uint8)


def _open(layers: Mapping[str, Image]) -> Image:
    """How much of what is beyond is seen, 0 to 1."""
    if THROUGH not in layers:
        raise Refusal(
            "look.backdrop",
            "a picture that tells where it is open",
            "What is beyond the building was not traced by itself in this picture.",
            "Choose the sky, or trace the picture again.",
        )
    return np.clip(layers[THROUGH], 0, 1).astype(np.float32)


def _alone(pixels: NDArray[np.uint8], open_: Image) -> NDArray[np.uint8]:
    """A printed picture before nothing, transparent where that is seen."""
    covered = 1 - open_.mean(axis=-1, keepdims=True)
    straight = _linear(pixels) / np.maximum(covered, 1e-4)
    return np.concatenate([to_srgb(straight), np.round(covered * 255).astype(np.uint8)], axis=-1)


def _before(pixels: NDArray[np.uint8], open_: Image, behind: Image) -> NDArray[np.uint8]:
    """A printed picture before another, that is seen where it is open."""
    whole = open_ > 0.999
    return np.where(whole, np.round(behind * 255), to_srgb(_linear(pixels) + open_ * decoded(behind))).astype(np.uint8)


def _linear(pixels: NDArray[np.uint8]) -> Image:
    return decoded((pixels / 255).astype(np.float32))


def decoded(held: Image) -> Image:
    """Linear values of sRGB from 0 to 1 (IEC 61966-2-1)."""
    return np.where(held <= 0.04045, held / 12.92, ((held + 0.055) / 1.055) ** 2.4).astype(np.float32)


def printed(colour: Image, look: Look) -> NDArray[np.uint8]:
    """sRGB bytes of an image that is exposed as measured, by a look."""
    bright = colour * np.float32(2.0**look.exposure)
    if look.white != NEUTRAL:
        bright = bright * (np.array(black_body(NEUTRAL)) / np.maximum(black_body(look.white), 0.02)).astype(np.float32)
    if look.contrast:
        level = np.maximum(bright @ WEIGHTS.astype(np.float32), 1e-8)[..., None]
        bright = bright * (level / GREY) ** np.float32(look.contrast)
    return to_srgb(bright if look.curve == "cut" else film(bright) if look.curve == "film" else shoulder(bright))


def cleaned(means: Mapping[str, Image], guides: Image) -> dict[str, Image]:
    """Layers without noise; where all or nothing of what is beyond is seen stays exact.

    What is seen of all layers together is told best from all of them together: that is how bright they are left, each
    with its own share of it."""
    found = {name: mean if name == BEYOND else clean(mean, guides) for name, mean in means.items()}
    if THROUGH in means:
        open_ = means[THROUGH]
        found[THROUGH] = np.where((open_ <= 0) | (open_ >= 1), open_, found[THROUGH].clip(0, 1))
    weights = WEIGHTS.astype(np.float32)
    together = denoised(mixed(means), guides) - (_beyond(found, None) if BEYOND in found else np.float32(0))
    apart = sum(found[name] @ weights for name in light_in(found))
    brighter = together.clip(0) @ weights / np.maximum(apart, 1e-6)
    for name in light_in(found):
        found[name] = found[name] * brighter.clip(1 / CORRECTED, CORRECTED)[..., None]
    return found


def clean(mean: Image, guides: Image) -> Image:
    """A layer, its noise removed."""
    quiet = np.clip(denoised(mean, guides), 0, max(float(mean.max()), 0.0))
    # Of a layer with hardly any light the noise removal makes what is not there; light is neither made nor lost.
    return quiet if KEEPS[0] * mean.sum() <= quiet.sum() <= KEEPS[1] * mean.sum() else mean


def denoised(mean: Image, guides: Image | None = None) -> Image:
    """Noise removed by Open Image Denoise, by what guides it where there are any; unchanged where it is not
    installed."""
    try:
        import pyoidn
    except ImportError:
        return mean
    colour = np.ascontiguousarray(mean, dtype=np.float32)
    if guides is None:
        return np.asarray(pyoidn.denoise(colour, hdr=True))
    albedo, normal = (np.ascontiguousarray(guides[..., k : k + 3], dtype=np.float32) for k in (0, 3))
    return np.asarray(pyoidn.denoise(colour, albedo=albedo.clip(0, 1), normal=normal.clip(-1, 1), hdr=True))


def measured(colour: Image) -> float:
    """The factor that brings the picture's middle brightness (its log mean) to ``MIDDLE``."""
    luminance = colour @ WEIGHTS.astype(np.float32)
    lit = luminance[luminance > 1e-6]
    return float(MIDDLE / np.exp(np.log(lit).mean())) if lit.size else 1.0


def shoulder(colour: Image) -> Image:
    """Highlights rolled off so that ``WHITE`` becomes 1 (extended Reinhard curve on the luminance)."""
    luminance = np.maximum(colour @ WEIGHTS.astype(np.float32), 1e-8)[..., None]
    rolled = luminance * (1 + luminance / WHITE**2) / (1 + luminance)
    return np.asarray(colour / luminance * rolled)


def film(colour: Image) -> Image:
    """Shadows and highlights rolled off as film does: Naka and Rushton's curve through middle grey, each colour by
    itself, so that what is very bright loses its colour."""
    held = np.maximum(colour, 0) ** FILM
    half = GREY**FILM * (1 - GREY) / GREY
    return np.asarray(held / (held + half) * (WHITE**FILM + half) / WHITE**FILM)


def to_srgb(linear: Image) -> NDArray[np.uint8]:
    """IEC 61966-2-1."""
    held = np.clip(linear, 0, 1)
    curved = np.where(held <= 0.0031308, held * 12.92, 1.055 * held ** (1 / 2.4) - 0.055)
    return np.asarray(np.round(curved * 255), dtype=np.uint8)


def enlarged(pixels: NDArray[np.uint8], width: int, height: int) -> NDArray[np.uint8]:
    """Pixels (h, w, c) made as many as are asked for."""
    return np.asarray(Pillow.fromarray(pixels).resize((width, height), Pillow.Resampling.BICUBIC))


def png(pixels: NDArray[np.uint8]) -> bytes:
    """PNG bytes of sRGB pixels."""
    return _written(pixels, "PNG")


def jpeg(pixels: NDArray[np.uint8], quality: int = 92) -> bytes:
    """JPEG bytes of sRGB pixels; what is transparent is white, since a JPEG is not."""
    if pixels.shape[-1] == 4:
        covered = pixels[..., 3:].astype(np.float32) / 255
        pixels = np.round(pixels[..., :3] * covered + 255 * (1 - covered)).astype(np.uint8)
    return _written(pixels, "JPEG", quality=quality)


def _written(pixels: NDArray[np.uint8], kind: str, **options: int) -> bytes:
    held = io.BytesIO()
    Pillow.fromarray(pixels).save(held, kind, **options)
    return held.getvalue()
