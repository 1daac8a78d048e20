"""Path tracing with Mitsuba 3: a scene of parts becomes meshes by finish; a pass is a linear image with its guides.

Clear glass is traced as the sheet it is: the pane's larger face carries Fresnel's equations with all inner reflections
counted, and lets the light of sun and lamps through on its way to what stands behind. Frosted glass is traced as the
solid.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.core.site.aside import Hung
from ashfell.core.surface import surface
from ashfell.pictures.light import layers
from ashfell.pictures.materials import Plugin, bsdf, colour
from ashfell.pictures.sensor import looks, sensor
from ashfell.pictures.settings import PictureSettings

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

Image = NDArray[np.float32]

GUIDE_SAMPLES = 8
"""Samples a pixel of the guides."""
DEPTH = 12
"""Longest path, in surfaces."""
GROUND = 3000.0
"""Half the side of the ground, m: far enough for its edge to be the horizon."""
FACING = 0.2
"""What of a pane looks as its largest face does, by the cosine: not its edges, and all of one face of a dome."""


class Tracer:
    """A scene that is ready for passes, every layer of light by itself.

    Parameters
    ----------
    parts : iterable of Part
        In the site's space, mm, z up.
    settings : PictureSettings
    own : mapping, optional
        The project's finishes, before those that ship.
    lamps : iterable of Hung, optional

    Raises
    ------
    Refusal
        When nothing shines.
    """

    def __init__(
        self,
        parts: Iterable[Part],
        settings: PictureSettings,
        own: Mapping[str, Finish] | None = None,
        lamps: Iterable[Hung] = (),
    ) -> None:
        if settings.surfaces == "clay":
            parts, settings, own = in_clay(parts, settings, own)
        held = list(parts)
        self.settings = settings
        self._parts, self._own = held, own
        lit = layers(settings, lamps)
        if not lit:
            raise Refusal(
                "sky", "something that shines", "Neither sun, sky nor a lamp is on.", "Switch one of them on."
            )
        things = meshes(held, own) | {"ground": mi.load_dict(_ground(settings, held, own))}
        content: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "volpath", "max_depth": DEPTH, "rr_depth": 5},
            "sensor": sensor(settings),
        }
        self.scenes = {name: mi.load_dict(content | things | shining) for name, shining in lit.items()}
        self.samples = max(1, round(settings.samples / len(lit)))

    def trace(self, number: int) -> dict[str, Image]:
        """Pass ``number`` (its seed): each layer (height, width, 3), linear."""
        return {
            name: np.array(mi.render(scene, spp=self.samples, seed=mi.UInt32(number)), dtype=np.float32)
            for name, scene in self.scenes.items()
        }

    def guides(self) -> Image:
        """What the camera sees first, for the noise removal: albedo and normal, (height, width, 6).

        Surfaces are made to shine in the colour that stands for them; clear glass is left out, so that what is behind
        it keeps its edges.
        """
        seen = [part for part in self._parts if not finishes.find(part.finish, self._own).is_sheet]
        found = [self._shining(meshes(seen, self._own, shining=of), GUIDE_SAMPLES) for of in ("albedo", "normal")]
        hit = found[1].any(axis=-1, keepdims=True)
        return np.concatenate([found[0], np.where(hit, found[1] * 2 - 1, 0)], axis=-1).astype(np.float32)

    def marks(self) -> NDArray[np.int32]:
        """Which part is seen at each pixel, (height, width): its number in the parts, from 1; 0 where there is none.
        Glass is what stands there."""
        seen = self._shining(meshes(self._parts, self._own, shining="part"), 1)
        bytes_of = np.round(seen * 255).astype(np.int32)
        return np.asarray(bytes_of[..., 0] + (bytes_of[..., 1] << 8) + (bytes_of[..., 2] << 16), dtype=np.int32)

    def depth(self) -> NDArray[np.float32]:
        """How far what is seen is before the camera, along the way it looks, (height, width) m; 0 where nothing is."""
        eye, axis = looks(self.settings)
        things = meshes(self._parts, self._own, shining="depth", along=lambda place: (place - eye) @ axis)
        return self._shining(things, 1)[..., 0]

    def _shining(self, things: Mapping[str, mi.Mesh], samples: int) -> Image:
        content = {"type": "scene", "integrator": {"type": "path", "max_depth": 1}, "sensor": sensor(self.settings)}
        scene = mi.load_dict(content | dict(things))
        return np.array(mi.render(scene, spp=samples, seed=mi.UInt32(0)), dtype=np.float32)


def in_clay(
    parts: Iterable[Part], settings: PictureSettings, own: Mapping[str, Finish] | None
) -> tuple[list[Part], PictureSettings, dict[str, Finish]]:
    """Everything white and dull but its glass, which is clear; the ground too."""

    def as_clay(part: Part) -> Part:
        return replace(part, finish="clear-glass" if finishes.find(part.finish, own).transmits else CLAY)

    return [as_clay(part) for part in parts], settings.model_copy(update={"ground": CLAY}), {CLAY: OF_CLAY}


CLAY = "clay"
OF_CLAY = Finish(name="Clay", kind="plaster", colour="#dedcd7", roughness=1.0)


def _ground(settings: PictureSettings, parts: list[Part], own: Mapping[str, Finish] | None) -> dict[str, Any]:
    middle = bounds(parts).mean(axis=0) / 1000 if parts else np.zeros(3)
    place = mi.ScalarTransform4f().translate([float(middle[0]), float(middle[1]), -0.002])
    finish = finishes.find(settings.ground, own)
    return {"type": "rectangle", "to_world": place.scale(GROUND), "bsdf": bsdf(finish, 2 * GROUND)}


Along = Callable[[Floats], Floats]


def meshes(
    parts: Iterable[Part], own: Mapping[str, Finish] | None = None, shining: str = "", along: Along | None = None
) -> dict[str, mi.Mesh]:
    """One mesh for each finish, metres; ``shining`` gives them light of their ``albedo``, their ``normal``, the number
    of their ``part`` or, told ``along`` what, their ``depth`` instead."""
    groups: dict[tuple[str, float], list[tuple[int, Part]]] = defaultdict(list)
    for number, part in enumerate(parts, 1):
        finish = finishes.find(part.finish, own)
        thick = _thick(part) if finish.transmits and finish.thickness and not shining else 0.0
        groups[part.finish, thick].append((number, part))
    return {
        f"mesh-{key}-{thick:g}" if thick else f"mesh-{key}": _mesh(
            key, group, finishes.find(key, own), thick, shining, along
        )
        for (key, thick), group in sorted(groups.items())
    }


def _thick(part: Part) -> float:
    """How thick a pane is, across the face that most of it looks out of, to a hundredth of a mm."""
    kept = _larger_face(part)
    normal = part.solid.normals[kept].mean(axis=0)
    return float(np.round(np.ptp(part.solid.vertices @ (normal / np.linalg.norm(normal))), 2))


def _mesh(
    key: str, parts: list[tuple[int, Part]], finish: Finish, thick: float, shining: str, along: Along | None
) -> mi.Mesh:
    pieces = [_corners(part, finish.is_sheet) for _, part in parts]
    positions, normals, texture = (np.concatenate([piece[k] for piece in pieces]) for k in range(3))
    scatters = {"type": "diffuse"} if shining else bsdf(finish, thick=thick)
    shines: dict[str, Any] | None = None
    painted = None
    if shining == "normal":
        painted = normals / 2 + 0.5
    elif along is not None:
        painted = np.repeat(along(positions / 1000)[:, None], 3, axis=1)
    elif shining == "part":
        numbers = np.repeat([number for number, _ in parts], [len(piece[0]) for piece in pieces])
        painted = np.stack([numbers & 255, numbers >> 8 & 255, numbers >> 16 & 255], axis=-1) / 255
    if shining:
        own = colour(finish, 1.0) if painted is None else {"type": "mesh_attribute", "name": PAINTED}
        shines = {"type": "area", "radiance": own}
    return mesh_of(key, positions / 1000, normals, texture, scatters, shines, painted)


PAINTED = "vertex_painted"
"""The colours that the corners of a mesh may have of their own."""


def mesh_of(
    key: str,
    positions: Floats,
    normals: Floats,
    texture: Floats,
    scatters: Plugin,
    shines: Plugin | None = None,
    painted: Floats | None = None,
) -> mi.Mesh:
    """A mesh of triangles by their corners, (3n, 3), (3n, 3) and (3n, 2), metres; what ``shines`` may ask for the
    colours (3n, 3) that they are ``painted`` with."""
    props = mi.Properties()
    props["mesh_bsdf"] = mi.load_dict(scatters)
    if shines:
        props["mesh_emitter"] = mi.load_dict(shines)
    count = len(positions)
    mesh = mi.Mesh(key, count, count // 3, props=props, has_vertex_normals=True, has_vertex_texcoords=True)
    if painted is not None:
        mesh.add_attribute(PAINTED, 3, np.ravel(painted).astype(np.float32).tolist())
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
