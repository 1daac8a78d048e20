"""Where things are in a picture: the way that a camera looks, its shift, what is seen at a pixel."""

from __future__ import annotations

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.site.document.camera import FRAME
from ashfell.pictures.settings import PictureSettings

STEEPEST = 80.0
"""A camera that looks up or down more steeply than this is tilted, degrees: it cannot be kept upright."""


def looks(settings: PictureSettings) -> tuple[Floats, Floats]:
    """The eye of a camera, and the way that its film looks: level where it is kept upright."""
    camera = settings.camera
    ahead = np.subtract(camera.target, camera.eye).astype(float)
    if camera.upright and _steep(ahead) < STEEPEST:
        ahead[2] = 0.0
    return np.array(camera.eye, dtype=float), ahead / np.linalg.norm(ahead)


def _steep(ahead: Floats) -> float:
    """How steeply a way goes up or down, degrees."""
    return float(np.degrees(np.arctan2(abs(ahead[2]), np.hypot(ahead[0], ahead[1]))))


def shift_of(settings: PictureSettings) -> float:
    """How far a frame is shifted upwards so that what the camera looked at is in its middle, shares of its height."""
    camera = settings.camera
    ahead = np.subtract(camera.target, camera.eye)
    if not camera.upright or _steep(ahead) >= STEEPEST:
        return 0.0
    return float(ahead[2] / np.hypot(ahead[0], ahead[1])) * camera.lens / FRAME * settings.width / settings.height


def projected(points: Floats, settings: PictureSettings) -> tuple[Floats, Floats]:
    """Where points (n, 3) m are in a picture: pixels (n, 2) from the upper left, and how far before the camera (n,) m,
    along the way it looks."""
    camera, (eye, axis) = settings.camera, looks(settings)
    across, over = _axes(settings)
    turn = np.radians(camera.roll)
    away = np.asarray(points) - eye
    x, y, far = away @ across, away @ over, away @ axis
    # A camera that is rolled clockwise sees all turned the other way.
    x, y = x * np.cos(turn) - y * np.sin(turn), x * np.sin(turn) + y * np.cos(turn)
    scale = camera.lens / FRAME * settings.width / np.where(np.abs(far) < 1e-9, 1e-9, far)
    lifted = settings.height * (0.5 + shift_of(settings))
    return np.stack([settings.width / 2 + x * scale, lifted - y * scale], axis=-1), far


def up_of(settings: PictureSettings) -> list[int]:
    """The way that is upwards in the picture: upwards, or north where one looks straight up or down."""
    steep = _steep(np.subtract(settings.camera.target, settings.camera.eye))
    return [0, 1, 0] if steep > 89.99 else [0, 0, 1]


def _axes(settings: PictureSettings) -> tuple[Floats, Floats]:
    """The ways to the right and upwards of a camera that is not rolled."""
    _, axis = looks(settings)
    across = np.cross(axis, up_of(settings))
    across /= np.linalg.norm(across)
    return across, np.cross(across, axis)


def rays(settings: PictureSettings, height: int, width: int) -> tuple[Floats, Floats]:
    """The eye of a camera (3,) m, and the ways (height, width, 3) to the middles of so many pixels of what is traced of
    its frame, the other way round than :func:`projected`: each goes 1 m ahead."""
    eye, axis = looks(settings)
    across, over = _axes(settings)
    left, top, right, bottom = settings.crop
    columns = left + (np.arange(width) + 0.5) * (right - left) / width
    rows = top + (np.arange(height) + 0.5) * (bottom - top) / height
    scale = settings.camera.lens / FRAME * settings.width
    x, y = np.meshgrid(
        (columns - settings.width / 2) / scale, (settings.height * (0.5 + shift_of(settings)) - rows) / scale
    )
    turn = np.radians(settings.camera.roll)
    x, y = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
    return eye, axis + x[..., None] * across + y[..., None] * over
