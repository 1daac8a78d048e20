"""What stands beside the building in a glTF file: lamps by KHR_lights_punctual, cameras.

A light of glTF shines, and a camera looks, along the negative z of its node. A plate is told as a spot that opens as
wide as one may, as strong in its middle as the plate is: glTF has no light with a surface.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import atan, pi, radians
from typing import Any

import numpy as np

from ashfell.core.plane.points import Floats
from ashfell.core.site.aside import Hung, eye_and_aim, hung
from ashfell.core.site.document.camera import FRAME, Camera
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.photometry import SOFT, black_body, cone_flux, facing

Json = dict[str, Any]
EXTENSION = "KHR_lights_punctual"
WIDEST = 89.0
"""Half of the widest cone, degrees."""
ASPECT = 1.6
"""How much wider than high a picture is where nothing says so."""


def light(one: Hung) -> Json:
    """A lamp as a light: its strength in candela, its colour linear, the brightest part of it 1."""
    lamp = one.lamp
    tint = np.array(black_body(lamp.kelvin))
    found: Json = {"name": lamp.name, "color": [round(value, 6) for value in (tint / tint.max()).tolist()]}
    if lamp.of.shape == "ball":
        return found | {"type": "point", "intensity": round(lamp.lumens / (4 * pi), 6)}
    if lamp.of.shape == "cone":
        inner, outer = lamp.beam / 2 * (1 - SOFT), min(lamp.beam / 2 * (1 + SOFT), WIDEST)
        strength = lamp.lumens / cone_flux(inner, outer)
    else:
        inner, outer, strength = 0.0, WIDEST, lamp.lumens / pi
    spot = {"innerConeAngle": round(radians(inner), 6), "outerConeAngle": round(radians(outer), 6)}
    return found | {"type": "spot", "intensity": round(strength, 6), "spot": spot}


def camera(one: Camera) -> Json:
    """A camera, as high as its lens sees in a picture of the usual proportion."""
    up = 2 * atan(FRAME / ASPECT / 2 / one.lens)
    return {
        "type": "perspective",
        "name": one.name,
        "perspective": {"yfov": round(up, 9), "aspectRatio": ASPECT, "znear": max(0.02, float(one.clip.mm) / 1000)},
    }


def nodes(site: SiteDocument) -> Iterator[tuple[str, Json, Floats]]:
    """Every lamp and camera: ``lights`` or ``cameras``, what it is, and where it stands (4, 4), mm, z up."""
    for one in hung(site):
        yield "lights", light(one), looking(one.middle, facing(one.lamp.turn, one.lamp.tilt))
    for kept in site.cameras:
        eye, aim = eye_and_aim(site, kept)
        yield "cameras", camera(kept), looking(eye, aim - eye, kept.roll)


def looking(place: Floats, ahead: Floats, roll: float = 0.0) -> Floats:
    """Where something stands that looks ahead along its negative z, rolled clockwise, (4, 4)."""
    back = -np.asarray(ahead, dtype=float) / np.linalg.norm(ahead)
    up = np.array([0.0, 0.0, 1.0]) if abs(back[2]) < 0.9999 else np.array([0.0, 1.0, 0.0])
    right = np.cross(up, back)
    right /= np.linalg.norm(right)
    over = np.cross(back, right)
    turn = radians(roll)
    found = np.eye(4)
    found[:3, 0] = right * np.cos(turn) - over * np.sin(turn)
    found[:3, 1] = right * np.sin(turn) + over * np.cos(turn)
    found[:3, 2], found[:3, 3] = back, place
    return found
