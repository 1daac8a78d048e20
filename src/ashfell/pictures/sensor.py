"""The camera of the tracer: lens, shift, roll and clipping."""

from __future__ import annotations

from typing import Any

import mitsuba as mi

from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import looks, shift_of, up_of
from ashfell.pictures.tiles import Crop

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

NEAREST, FARTHEST = 0.02, 20_000.0


def sensor(settings: PictureSettings, crop: Crop | None = None) -> dict[str, Any]:
    """The camera of a picture, or of a ``crop`` of it. Kept upright it looks level, and its frame is shifted until what
    it looked at is in its middle."""
    camera, shift = settings.camera, shift_of(settings)
    eye, axis = looks(settings)
    up = up_of(settings)
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
