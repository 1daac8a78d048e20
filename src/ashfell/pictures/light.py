"""Light: the sun, the sky and lamps, each layer by itself, in the units of the tracer.

The tracer's numbers are radiances in W / (m² sr nm), white being the same at every wavelength. One of them is 683 lm/W
times the 106.857 nm under the CIE's curve V(λ), in candela a square metre: so sun, sky and lamps stand to each other as
they do outside and in a room.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core.finish.images import image
from ashfell.core.site.aside import Hung
from ashfell.core.site.photometry import SOFT, WEIGHTS, across_of, black_body, cone_flux, facing
from ashfell.pictures.settings import PictureSettings, Sky, towards
from ashfell.pictures.sun import Sun

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

Plugins = dict[str, Any]
LUX = 683.0 * 106.857
"""Lux of one unit of the tracer (CIE 018: 683 lm/W at 555 nm; the area under V(λ))."""
TURBIDITY = {"clear": 3.0, "hazy": 8.0}
DUSK = 2.0
"""Below this altitude in degrees the sun gives no light of its own, and the sky is that of this altitude."""
TWILIGHT = {2.0: 1700.0, 0.0: 700.0, -2.0: 190.0, -4.0: 40.0, -6.0: 3.4, -9.0: 0.1, -12.0: 0.008, -18.0: 0.0006}
"""Lux on level ground under a clear sky by the altitude of the sun in degrees (tables of twilight, from memory)."""


def layers(settings: PictureSettings, lamps: Iterable[Hung] = ()) -> dict[str, Plugins]:
    """What shines, by layer: ``sun``, ``sky``, and ``lamps:`` with the name of each group; without those that are
    off."""
    found: dict[str, Plugins] = {}
    sun = settings.sun.sun()
    if settings.sky.kind in TURBIDITY and (shining := _sun(sun, TURBIDITY[settings.sky.kind])):
        found["sun"] = shining
    if settings.sky.kind != "none":
        found["sky"] = {"sky": _sky(settings.sky, sun)}
    for number, one in enumerate(lamps):
        found.setdefault(f"lamps:{one.lamp.group}", {})[f"lamp-{number}"] = lamp(one)
    return {name: one for name, one in found.items() if name not in settings.off}


def _direction(sun: Sun) -> tuple[float, float, float]:
    """To the sun, or to where it last gave light."""
    x, y, z = towards(sun)
    lowest = float(np.sin(np.radians(DUSK)))
    if z > lowest:
        return x, y, z
    flat = float(np.hypot(x, y)) or 1.0
    level = float(np.cos(np.radians(DUSK)))
    return x / flat * level, y / flat * level, lowest


def _sun(sun: Sun, turbidity: float) -> Plugins:
    """The sun as light from one direction, with the strength that the sky's model gives it; nothing when it is down."""
    x, y, z = towards(sun)
    if sun.altitude <= DUSK:
        return {}
    irradiance = {"type": "rgb", "value": list(_sun_irradiance((x, y, z), turbidity))}
    return {"sun": {"type": "directional", "direction": [-x, -y, -z], "irradiance": irradiance}}


def _sky(sky: Sky, sun: Sun) -> Plugins:
    if sky.kind == "overcast":
        return _environment(overcast(max(sun.altitude, 0.0)))
    if sky.kind == "image":
        return _environment(_of_image(sky), sky.turn)
    return {
        "type": "sunsky",
        "sun_direction": list(_direction(sun)),
        "turbidity": TURBIDITY[sky.kind],
        "sun_scale": 0.0,
        "sky_scale": _twilight(sun.altitude),
    }


def _twilight(altitude: float) -> float:
    """What is left of the light of the sky at dusk when the sun is lower; 1 when it is not."""
    marks = sorted(TWILIGHT)
    lux = np.exp(np.interp(altitude, marks, [np.log(TWILIGHT[mark]) for mark in marks]))
    return float(lux / TWILIGHT[DUSK])


@lru_cache(maxsize=32)
def _sun_irradiance(direction: tuple[float, float, float], turbidity: float) -> tuple[float, float, float]:
    """Irradiance square to the sun, in the sky model's own units: a white plate lit by the model's sun alone."""
    sun = {"type": "sunsky", "sun_direction": list(direction), "turbidity": turbidity, "sky_scale": 0.0}
    plate = {"type": "rectangle", "bsdf": {"type": "diffuse", "reflectance": 1.0}}
    above = mi.ScalarTransform4f().look_at(origin=[0, 0, 3], target=[0, 0, 0], up=[0, 1, 0])
    film = {"type": "hdrfilm", "width": 4, "height": 4}
    sensor = {"type": "perspective", "fov": 20, "to_world": above, "film": film}
    scene = mi.load_dict({"type": "scene", "i": {"type": "direct"}, "sun": sun, "plate": plate, "sensor": sensor})
    seen = np.array(mi.render(scene, spp=128, seed=mi.UInt32(0)))[..., :3].mean(axis=(0, 1)) * np.pi / direction[2]
    return float(seen[0]), float(seen[1]), float(seen[2])


# --- skies as images


def overcast(altitude: float, rows: int = 64) -> NDArray[np.float32]:
    """The CIE's overcast sky all round (2 n, n, 3), the zenith first: three times as bright at the zenith as at the
    horizon (Moon and Spencer; ISO 15469 type 16), lighting a level plate with 300 + 21,000 sin of the sun's altitude
    lux (Krochmann and Seidl). Below the horizon it is dim."""
    rise = np.pi / 2 - (np.arange(rows) + 0.5) / rows * np.pi
    ratio = np.where(rise > 0, (1 + 2 * np.sin(rise)) / 3, 0.1)
    lux = 300 + 21_000 * np.sin(np.radians(altitude))
    zenith = lux / LUX * 9 / (7 * np.pi)
    level = (ratio * zenith).astype(np.float32)
    return np.broadcast_to(level[:, None, None], (rows, 2 * rows, 3)).copy()


def _of_image(sky: Sky) -> NDArray[np.float32]:
    """An image all round, as bright as it is said to light a level plate."""
    pixels = image(sky.image).astype(np.float64) / 255
    linear = np.where(pixels <= 0.04045, pixels / 12.92, ((pixels + 0.055) / 1.055) ** 2.4)
    rows = len(linear)
    rise = np.pi / 2 - (np.arange(rows) + 0.5) / rows * np.pi
    cosine = np.clip(np.sin(rise), 0, None) * np.cos(rise)
    lit = float(((linear @ WEIGHTS).mean(axis=1) * cosine).sum() * np.pi / rows * 2 * np.pi)
    return np.asarray(linear * (sky.klx * 1000 / LUX / max(lit, 1e-9)), dtype=np.float32)


def _environment(pixels: NDArray[np.float32], turn: float = 0.0) -> Plugins:
    """An image all round, its middle to the north; turned clockwise."""
    upright = mi.ScalarTransform4f().rotate([0, 0, 1], 180 - turn).rotate([1, 0, 0], 90)
    return {"type": "envmap", "bitmap": mi.Bitmap(pixels), "to_world": upright}


# --- lamps


def lamp(one: Hung) -> Plugins:
    """A lamp as a shape that shines, or as a cone of light from a point."""
    own, place = one.lamp, one.middle / 1000
    tint = np.array(black_body(own.kelvin)) * own.lumens / LUX
    ahead = facing(own.turn, own.tilt)
    if own.of.shape == "cone":
        inner, outer = own.beam / 2 * (1 - SOFT), min(own.beam / 2 * (1 + SOFT), 89.0)
        look = mi.ScalarTransform4f().look_at(
            origin=place.tolist(), target=(place + ahead).tolist(), up=across_of(own.turn).tolist()
        )
        strength = _rgb(tint / cone_flux(inner, outer))
        return {"type": "spot", "to_world": look, "intensity": strength, "beam_width": inner, "cutoff_angle": outer}
    width, length = float(own.width.mm) / 1000, float(own.length.mm) / 1000
    if own.of.shape == "ball":
        area = np.pi * width**2
        shine = {"type": "area", "radiance": _rgb(tint / (np.pi * area))}
        return {"type": "sphere", "center": place.tolist(), "radius": width / 2, "emitter": shine}
    along = across_of(own.turn)
    across = np.cross(along, ahead)
    matrix = np.eye(4)
    matrix[:3, 0], matrix[:3, 1] = across * width / 2, along * length / 2
    matrix[:3, 2], matrix[:3, 3] = ahead, place
    shine = {"type": "area", "radiance": _rgb(tint / (np.pi * width * length))}
    return {"type": "rectangle", "to_world": mi.ScalarTransform4f(matrix.tolist()), "emitter": shine}


def _rgb(values: NDArray[np.float64]) -> Plugins:
    return {"type": "rgb", "value": [float(value) for value in values]}
