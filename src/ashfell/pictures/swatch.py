"""A small picture of a finish: a ball of it, shaded, without path tracing, so that it is there at once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ashfell.core.finish import Finish
from ashfell.core.finish.texture import albedo, detail, laid

PAPER = np.array([0.945, 0.937, 0.918])
BALL = 0.42
"""Radius of the ball as a share of the swatch."""
METRES = 0.6
"""Diameter of the ball."""
LARGER = 2.5
"""How much larger the ball is of what is laid piece by piece."""


def swatch(finish: Finish, size: int = 160) -> NDArray[np.uint8]:
    """sRGB bytes (size, size, 3)."""
    grid = (np.arange(size) + 0.5) / size - 0.5
    x, y = np.meshgrid(grid / BALL, -grid / BALL)
    inside = x**2 + y**2 < 1
    z = np.sqrt(np.clip(1 - x**2 - y**2, 0, 1))
    normal = np.stack([x, y, z], axis=-1)
    backdrop = _backdrop(size)
    shaded = _glass(finish, normal, backdrop) if finish.transmits else _opaque(finish, normal)
    edge = np.clip((1 - np.sqrt(x**2 + y**2)) * size * BALL, 0, 1)[..., None]
    image = np.where(inside[..., None], shaded * edge + backdrop * (1 - edge), backdrop)
    return np.asarray(np.clip(image, 0, 1) * 255, dtype=np.uint8)


def _backdrop(size: int) -> NDArray[np.float64]:
    stripes = (np.arange(size) // max(1, size // 16) % 2)[None, :, None] * 0.035
    return np.broadcast_to(PAPER - stripes, (size, size, 3)).copy()


def _opaque(finish: Finish, normal: NDArray[np.float64]) -> NDArray[np.float64]:
    light = np.array([-0.45, 0.65, 0.62])
    light /= np.linalg.norm(light)
    facing = np.clip(normal @ light, 0, 1)
    sky = 0.5 + 0.5 * normal[..., 1]
    base = _colours(finish, normal)
    half = (light + np.array([0, 0, 1])) / np.linalg.norm(light + np.array([0, 0, 1]))
    gloss = np.clip(normal @ half, 0, 1) ** (2 / max(0.02, finish.roughness**2)) * (1.1 - finish.roughness)
    tint = base if finish.metallic else np.ones(3)
    return np.asarray(base * (0.34 + 0.26 * sky[..., None] + 0.46 * facing[..., None]) + gloss[..., None] * 0.3 * tint)


def _colours(finish: Finish, normal: NDArray[np.float64]) -> NDArray[np.float64]:
    pixels = albedo(finish, 512).astype(float) / 255
    if finish.texture is None:
        return np.asarray(np.broadcast_to(pixels[0, 0], normal.shape))
    size = METRES * (LARGER if detail(finish) > 512 else 1.0)
    places = np.arcsin(np.clip(normal[..., :2], -1, 1)) / np.pi * size
    matrix = laid(finish.texture)
    tiles = places @ matrix[:, :2].T + matrix[:, 2]
    rows, columns = pixels.shape[:2]
    return np.asarray(
        pixels[(-tiles[..., 1] * rows).astype(int) % rows, (tiles[..., 0] * columns).astype(int) % columns]
    )


def _glass(finish: Finish, normal: NDArray[np.float64], backdrop: NDArray[np.float64]) -> NDArray[np.float64]:
    tint = np.array([int(finish.colour[k : k + 2], 16) for k in (1, 3, 5)]) / 255
    mirror = ((finish.ior - 1) / (finish.ior + 1)) ** 2
    fresnel = mirror + (1 - mirror) * (1 - normal[..., 2]) ** 5
    behind = PAPER * 0.97 if finish.roughness > 0.05 else np.roll(backdrop, 5, axis=1) * 0.97
    sky = (0.75 + 0.25 * normal[..., 1])[..., None] * np.array([0.86, 0.93, 1.0])
    share = fresnel[..., None]
    glint = np.clip(normal @ np.array([-0.42, 0.6, 0.68]), 0, 1) ** (60 if finish.roughness < 0.05 else 8) * (
        0.5 if finish.roughness < 0.05 else 0.12
    )
    return np.asarray(behind * tint * (1 - share) * 0.95 + sky * share + glint[..., None])
