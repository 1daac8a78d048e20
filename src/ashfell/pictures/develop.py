"""From the sum of passes to an image: mean, noise removed, exposed, and written as PNG."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pillow

Image = NDArray[np.float32]

MIDDLE = 0.20
"""What the measured exposure makes of the picture's middle brightness, linear."""
WHITE = 6.0
"""The brightest value that is still told from white, before the curve."""


def develop(total: Image, passes: int, guides: Image | None = None, exposure: float = 0.0) -> NDArray[np.uint8]:
    """sRGB bytes (h, w, 3) of ``passes`` added up in ``total`` (h, w, 3).

    ``guides`` (h, w, 6), albedo and normal, let the noise be removed; ``exposure`` is in stops round the measured one.
    """
    mean = total / np.float32(max(1, passes))
    colour = mean if guides is None else denoised(mean, guides)
    return to_srgb(shoulder(colour * measured(colour) * 2.0**exposure))


def denoised(mean: Image, guides: Image) -> Image:
    """Noise removed by Open Image Denoise; unchanged where it is not installed."""
    try:
        import pyoidn
    except ImportError:
        return mean
    albedo, normal = (np.ascontiguousarray(guides[..., k : k + 3], dtype=np.float32) for k in (0, 3))
    colour = np.ascontiguousarray(mean, dtype=np.float32)
    return np.asarray(pyoidn.denoise(colour, albedo=albedo.clip(0, 1), normal=normal.clip(-1, 1), hdr=True))


def measured(colour: Image) -> float:
    """The factor that brings the picture's middle brightness (its log mean) to ``MIDDLE``."""
    luminance = colour @ np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)
    lit = luminance[luminance > 1e-6]
    return float(MIDDLE / np.exp(np.log(lit).mean())) if lit.size else 1.0


def shoulder(colour: Image) -> Image:
    """Highlights rolled off so that ``WHITE`` becomes 1 (extended Reinhard curve on the luminance)."""
    luminance = np.maximum(colour @ np.array([0.2126, 0.7152, 0.0722], dtype=np.float32), 1e-8)[..., None]
    rolled = luminance * (1 + luminance / WHITE**2) / (1 + luminance)
    return np.asarray(colour / luminance * rolled)


def to_srgb(linear: Image) -> NDArray[np.uint8]:
    """IEC 61966-2-1."""
    held = np.clip(linear, 0, 1)
    curved = np.where(held <= 0.0031308, held * 12.92, 1.055 * held ** (1 / 2.4) - 0.055)
    return np.asarray(np.round(curved * 255), dtype=np.uint8)


def png(pixels: NDArray[np.uint8]) -> bytes:
    """PNG bytes of sRGB pixels."""
    held = io.BytesIO()
    Pillow.fromarray(pixels).save(held, "PNG")
    return held.getvalue()
