"""The camera of the tracer: lens, shift, roll and clipping."""

from __future__ import annotations

from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.pictures.settings import PictureSettings

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

NEAREST, FARTHEST = 0.02, 20_000.0
STEEPEST = 80.0
"""A camera that looks up or down more steeply than this is tilted, degrees: it cannot be kept upright."""


def looks(settings: PictureSettings) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The eye of a camera, and the way that its film looks: level where it is kept upright."""
    camera = settings.camera
    ahead = np.subtract(camera.target, camera.eye).astype(float)
    if camera.upright and _steep(ahead) < STEEPEST:
        ahead[2] = 0.0
    return np.array(camera.eye, dtype=float), ahead / np.linalg.norm(ahead)


def _steep(ahead: NDArray[np.float64]) -> float:
    """How steeply a way goes up or down, degrees."""
    return float(np.degrees(np.arctan2(abs(ahead[2]), np.hypot(ahead[0], ahead[1]))))


def sensor(settings: PictureSettings) -> dict[str, Any]:
    """The camera of a picture. Kept upright it looks level, and its frame is shifted until what it looked at is in its
    middle."""
    camera = settings.camera
    ahead = np.subtract(camera.target, camera.eye)
    steep, shift = _steep(ahead), 0.0
    eye, axis = looks(settings)
    if camera.upright and steep < STEEPEST:
        flat = float(np.hypot(ahead[0], ahead[1]))
        # As a share of the frame's height, upwards.
        shift = float(ahead[2] / flat) * camera.lens / 36.0 * settings.width / settings.height
    up = [0, 1, 0] if steep > 89.99 else [0, 0, 1]
    place = mi.ScalarTransform4f().look_at(origin=eye.tolist(), target=(eye + axis).tolist(), up=up)
    return {
        "type": "perspective",
        "fov": camera.view,
        "fov_axis": "x",
        "near_clip": max(NEAREST, camera.clip),
        "far_clip": FARTHEST,
        "principal_point_offset_y": -shift,
        "to_world": place @ mi.ScalarTransform4f().rotate([0, 0, 1], camera.roll),
        "film": {
            "type": "hdrfilm",
            "width": settings.width,
            "height": settings.height,
            "rfilter": {"type": "box"},
            "pixel_format": "rgb",
        },
        "sampler": {"type": "independent"},
    }
