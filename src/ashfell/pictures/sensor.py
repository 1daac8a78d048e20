"""The camera of the tracer: lens, shift, roll and clipping."""

from __future__ import annotations

from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core.site.document.camera import FRAME
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.tiles import Crop

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


def shift_of(settings: PictureSettings) -> float:
    """How far a frame is shifted upwards so that what the camera looked at is in its middle, shares of its height."""
    camera = settings.camera
    ahead = np.subtract(camera.target, camera.eye)
    if not camera.upright or _steep(ahead) >= STEEPEST:
        return 0.0
    return float(ahead[2] / np.hypot(ahead[0], ahead[1])) * camera.lens / FRAME * settings.width / settings.height


def projected(
    points: NDArray[np.float64], settings: PictureSettings
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Where points (n, 3) m are in a picture: pixels (n, 2) from the upper left, and how far before the camera (n,) m,
    along the way it looks."""
    camera, (eye, axis) = settings.camera, looks(settings)
    across = np.cross(axis, _up(settings))
    across /= np.linalg.norm(across)
    over = np.cross(across, axis)
    turn = np.radians(camera.roll)
    away = np.asarray(points) - eye
    x, y, far = away @ across, away @ over, away @ axis
    # A camera that is rolled clockwise sees all turned the other way.
    x, y = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
    scale = camera.lens / FRAME * settings.width / np.where(np.abs(far) < 1e-9, 1e-9, far)
    lifted = settings.height * (0.5 + shift_of(settings))
    return np.stack([settings.width / 2 + x * scale, lifted - y * scale], axis=-1), far


def _up(settings: PictureSettings) -> list[int]:
    """The way that is upwards in the picture: upwards, or north where one looks straight up or down."""
    steep = _steep(np.subtract(settings.camera.target, settings.camera.eye))
    return [0, 1, 0] if steep > 89.99 else [0, 0, 1]


def sensor(settings: PictureSettings, crop: Crop | None = None) -> dict[str, Any]:
    """The camera of a picture, or of a ``crop`` of it. Kept upright it looks level, and its frame is shifted until what
    it looked at is in its middle."""
    camera, shift = settings.camera, shift_of(settings)
    eye, axis = looks(settings)
    up = _up(settings)
    left, top, right, bottom = crop or settings.crop
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
            "crop_offset_x": left,
            "crop_offset_y": top,
            "crop_width": right - left,
            "crop_height": bottom - top,
            "rfilter": {"type": "box"},
            "pixel_format": "rgb",
        },
        "sampler": {"type": "independent"},
    }
