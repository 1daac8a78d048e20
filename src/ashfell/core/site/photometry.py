"""Light in numbers: which way a lamp shines, how its light is spread, the colour of a black body."""

from __future__ import annotations

import numpy as np

from ashfell.core.plane.points import Floats

WEIGHTS = np.array([0.2126, 0.7152, 0.0722])
"""Luminance of linear sRGB (ITU-R BT.709)."""
SOFT = 0.25
"""By which share of its beam a spot fades round it, inwards and outwards."""


def facing(turn: float, tilt: float) -> Floats:
    """Which way a lamp shines, a unit vector: straight down, or tilted to the side that ``turn`` says, degrees."""
    turn, tilt = np.radians(turn), np.radians(tilt)
    return np.array([np.sin(tilt) * np.cos(turn), np.sin(tilt) * np.sin(turn), -np.cos(tilt)])


def across_of(turn: float) -> Floats:
    """Square to the side that a lamp is turned to: the way its length lies."""
    return np.array([-np.sin(np.radians(turn)), np.cos(np.radians(turn)), 0.0])


def cone_flux(inner: float, outer: float) -> float:
    """Lumens of a spot of one candela in its middle: full within ``inner`` degrees, fading evenly to ``outer``."""
    angles = np.radians(np.linspace(0, outer, 4001))
    fades = np.clip((np.radians(outer) - angles) / np.radians(outer - inner), 0, 1)
    return float(2 * np.pi * np.trapezoid(fades * np.sin(angles), angles))


def black_body(kelvin: float) -> tuple[float, float, float]:
    """Linear sRGB of a black body, luminance 1; what lies outside sRGB is brought in.

    Its chromaticity by the cubic splines of Kim and others (US 7024034), near Planck's from 1667 to 25,000 K. At 6504 K
    it is a little pinker than daylight of that name.

    >>> [round(value, 2) for value in black_body(6504)]
    [1.04, 0.98, 1.04]
    """
    t = 1000.0 / min(max(kelvin, 1667.0), 25_000.0)
    if kelvin <= 4000:
        x = -0.2661239 * t**3 - 0.2343589 * t**2 + 0.8776956 * t + 0.179910
    else:
        x = -3.0258469 * t**3 + 2.1070379 * t**2 + 0.2226347 * t + 0.240390
    if kelvin <= 2222:
        y = -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    elif kelvin <= 4000:
        y = -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
    else:
        y = 3.0817580 * x**3 - 5.87338670 * x**2 + 3.75112997 * x - 0.37001483
    xyz = np.array([x / y, 1.0, (1 - x - y) / y])
    linear = np.clip(XYZ_TO_SRGB @ xyz, 0, None)
    red, green, blue = (linear / (WEIGHTS @ linear)).tolist()
    return red, green, blue


XYZ_TO_SRGB = np.array(
    [[3.2406, -1.5372, -0.4986], [-0.9689, 1.8758, 0.0415], [0.0557, -0.2040, 1.0570]],
)
"""IEC 61966-2-1."""
