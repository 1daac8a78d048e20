"""Path tracing with Mitsuba 3: a scene of parts becomes meshes by finish; a pass is a linear image with its guides.

Clear glass is traced as the sheet it is: the pane's larger face carries Fresnel's equations with all inner reflections
counted, and lets the light of sun and lamps through on its way to what stands behind. Frosted glass is traced as the
solid.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.core.surface import surface
from ashfell.pictures.materials import Plugin, bsdf, colour
from ashfell.pictures.settings import PictureSettings, towards

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

Image = NDArray[np.float32]

GUIDE_SAMPLES = 8
"""Samples a pixel of the guides."""
DEPTH = 12
"""Longest path, in surfaces."""
GROUND = 3000.0
"""Half the side of the ground, m: far enough for its edge to be the horizon."""
TURBIDITY = 3.0
FACING = 0.2
"""What of a pane looks as its largest face does, by the cosine: not its edges, and all of one face of a dome."""
DUSK = 2.0
"""Below this altitude in degrees the sun gives no light of its own, and the sky is that of this altitude."""


class Tracer:
    """A scene that is ready for passes.

    Parameters
    ----------
    parts : iterable of Part
        In the site's space, mm, z up.
    settings : PictureSettings
    own : mapping, optional
        The project's finishes, before those that ship.
    """

    def __init__(
        self, parts: Iterable[Part], settings: PictureSettings, own: Mapping[str, Finish] | None = None
    ) -> None:
        held = list(parts)
        self.settings = settings
        self._parts, self._own = held, own
        content: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "volpath", "max_depth": DEPTH, "rr_depth": 5},
            "sensor": _sensor(settings),
            "ground": _ground(settings, held, own),
        }
        self.scene = mi.load_dict(content | sky(settings) | meshes(held, own))

    def trace(self, number: int) -> Image:
        """Pass ``number`` (its seed): (height, width, 3), linear."""
        return np.array(mi.render(self.scene, spp=self.settings.samples, seed=mi.UInt32(number)), dtype=np.float32)

    def guides(self) -> Image:
        """What the camera sees first, for the noise removal: albedo and normal, (height, width, 6).

        Surfaces are made to shine in the colour that stands for them; clear glass is left out, so that what is behind
        it keeps its edges.
        """
        seen = [part for part in self._parts if not finishes.find(part.finish, self._own).is_sheet]
        layers = [self._shining(seen, of) for of in ("albedo", "normal")]
        hit = layers[1].any(axis=-1, keepdims=True)
        return np.concatenate([layers[0], np.where(hit, layers[1] * 2 - 1, 0)], axis=-1).astype(np.float32)

    def _shining(self, parts: list[Part], of: str) -> Image:
        content = {"type": "scene", "integrator": {"type": "path", "max_depth": 1}, "sensor": _sensor(self.settings)}
        scene = mi.load_dict(content | meshes(parts, self._own, shining=of))
        return np.array(mi.render(scene, spp=GUIDE_SAMPLES, seed=mi.UInt32(0)), dtype=np.float32)


def _sensor(settings: PictureSettings) -> dict[str, Any]:
    camera = settings.camera
    level = np.subtract(camera.target, camera.eye)
    up = [0, 1, 0] if np.hypot(level[0], level[1]) < 1e-4 * abs(level[2]) else [0, 0, 1]
    return {
        "type": "perspective",
        "fov": camera.view,
        "fov_axis": "x",
        "near_clip": 0.02,
        "far_clip": 20_000.0,
        "to_world": mi.ScalarTransform4f().look_at(origin=list(camera.eye), target=list(camera.target), up=up),
        "film": {
            "type": "hdrfilm",
            "width": settings.width,
            "height": settings.height,
            "rfilter": {"type": "box"},
            "pixel_format": "rgb",
        },
        "sampler": {"type": "independent"},
    }


def sky(settings: PictureSettings) -> dict[str, Any]:
    """The sky, and the sun as light from one direction with the strength that the sky's model gives it."""
    sun = settings.sun.sun()
    x, y, z = towards(sun)
    lowest = np.sin(np.radians(DUSK))
    flat = np.hypot(x, y) or 1.0
    direction = (x, y, z) if z > lowest else (x / flat * np.cos(np.radians(DUSK)), y / flat, lowest)
    emitters: dict[str, Any] = {
        "sky": {
            "type": "sunsky",
            "sun_direction": [float(value) for value in direction],
            "turbidity": TURBIDITY,
            "sun_scale": 0.0,
            "sky_scale": 1.0 if z > 0 else max(0.02, 1 + float(z) * 4),
        }
    }
    if z > lowest:
        emitters["sun"] = {
            "type": "directional",
            "direction": [-x, -y, -z],
            "irradiance": {"type": "rgb", "value": list(_sun_irradiance((x, y, z)))},
        }
    return emitters


@lru_cache(maxsize=32)
def _sun_irradiance(direction: tuple[float, float, float]) -> tuple[float, float, float]:
    """Irradiance square to the sun, in the sky model's own units: a white plate lit by the model's sun alone."""
    sun = {"type": "sunsky", "sun_direction": list(direction), "turbidity": TURBIDITY, "sky_scale": 0.0}
    plate = {"type": "rectangle", "bsdf": {"type": "diffuse", "reflectance": 1.0}}
    above = mi.ScalarTransform4f().look_at(origin=[0, 0, 3], target=[0, 0, 0], up=[0, 1, 0])
    film = {"type": "hdrfilm", "width": 4, "height": 4}
    sensor = {"type": "perspective", "fov": 20, "to_world": above, "film": film}
    scene = mi.load_dict({"type": "scene", "i": {"type": "direct"}, "sun": sun, "plate": plate, "sensor": sensor})
    seen = np.array(mi.render(scene, spp=128, seed=mi.UInt32(0)))[..., :3].mean(axis=(0, 1)) * np.pi / direction[2]
    return float(seen[0]), float(seen[1]), float(seen[2])


def _ground(settings: PictureSettings, parts: list[Part], own: Mapping[str, Finish] | None) -> dict[str, Any]:
    middle = bounds(parts).mean(axis=0) / 1000 if parts else np.zeros(3)
    place = mi.ScalarTransform4f().translate([float(middle[0]), float(middle[1]), -0.002])
    finish = finishes.find(settings.ground, own)
    return {"type": "rectangle", "to_world": place.scale(GROUND), "bsdf": bsdf(finish, 2 * GROUND)}


def meshes(parts: Iterable[Part], own: Mapping[str, Finish] | None = None, shining: str = "") -> dict[str, mi.Mesh]:
    """One mesh for each finish, metres; ``shining`` gives them light of their ``albedo`` or ``normal`` instead."""
    groups: dict[tuple[str, float], list[Part]] = defaultdict(list)
    for part in parts:
        finish = finishes.find(part.finish, own)
        groups[part.finish, _thick(part) if finish.transmits and finish.thickness else 0.0].append(part)
    return {
        f"mesh-{key}-{thick:g}" if thick else f"mesh-{key}": _mesh(key, group, finishes.find(key, own), thick, shining)
        for (key, thick), group in sorted(groups.items())
    }


def _thick(part: Part) -> float:
    """How thick a pane is, across the face that most of it looks out of, to a hundredth of a mm."""
    kept = _larger_face(part)
    normal = part.solid.normals[kept].mean(axis=0)
    return float(np.round(np.ptp(part.solid.vertices @ (normal / np.linalg.norm(normal))), 2))


def _mesh(key: str, parts: list[Part], finish: Finish, thick: float, shining: str) -> mi.Mesh:
    pieces = [_corners(part, finish.is_sheet) for part in parts]
    positions, normals, texture = (np.concatenate([piece[k] for piece in pieces]) for k in range(3))
    scatters = {"type": "diffuse"} if shining else bsdf(finish, thick=thick)
    shines: dict[str, Any] | None = None
    if shining:
        own = colour(finish, 1.0) if shining == "albedo" else {"type": "mesh_attribute", "name": NORMAL_COLOUR}
        shines = {"type": "area", "radiance": own}
    return mesh_of(key, positions / 1000, normals, texture, scatters, shines)


NORMAL_COLOUR = "vertex_normal_colour"


def mesh_of(
    key: str, positions: Floats, normals: Floats, texture: Floats, scatters: Plugin, shines: Plugin | None = None
) -> mi.Mesh:
    """A mesh of triangles by their corners, (3n, 3), (3n, 3) and (3n, 2), metres; what ``shines`` may ask for the
    colour of its normals."""
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(scatters)
    if shines:
        props["mesh_emitter"] = mi.load_dict(shines)
    count = len(positions)
    mesh = mi.Mesh(key, count, count // 3, props=props, has_vertex_normals=True, has_vertex_texcoords=True)
    if shines and "name" in shines["radiance"]:
        mesh.add_attribute(NORMAL_COLOUR, 3, np.ravel(normals / 2 + 0.5).astype(np.float32).tolist())
    parameters = mi.traverse(mesh)
    parameters["vertex_positions"] = np.ravel(positions).astype(np.float32)
    parameters["vertex_normals"] = np.ravel(normals).astype(np.float32)
    parameters["vertex_texcoords"] = np.ravel(texture).astype(np.float32)
    parameters["faces"] = np.arange(count, dtype=np.uint32)
    parameters.update()
    return mesh


_Corners = tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]


def _corners(part: Part, sheet: bool) -> _Corners:
    """Triangle corners, their normals and texture coordinates; of a sheet, only its larger face."""
    shown = surface(part)
    kept = np.repeat(_larger_face(part), 3) if sheet else slice(None)
    return shown.positions[kept], shown.normals[kept], shown.texture[kept]


def _larger_face(part: Part) -> NDArray[np.bool_]:
    """The triangles of the face that most of the surface looks out of: a flat one, or a bent one like a dome's."""
    normals = part.solid.normals
    a, b, c = (part.solid.vertices[part.solid.triangles[:, k]] for k in range(3))
    areas = np.linalg.norm(np.cross(b - a, c - a), axis=1)
    alike = normals @ normals.T > 0.999
    main = normals[int(np.argmax(alike @ areas))]
    return np.asarray(normals @ main > FACING)
