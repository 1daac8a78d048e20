"""Path tracing with Mitsuba 3: a scene of parts becomes meshes by finish; a pass is a linear image with its guides.

Clear glass is traced as the sheet it is: the pane's larger face carries Fresnel's equations with all inner reflections
counted, and lets the light of sun and lamps through on its way to what stands behind. Frosted glass is traced as the
solid.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from tempfile import NamedTemporaryFile
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.parts import Part, bounds
from ashfell.core.plane.points import Floats
from ashfell.core.site.aside import Hung
from ashfell.core.surface import surface
from ashfell.pictures.backdrop import BEYOND, THROUGH
from ashfell.pictures.compiled import using, variant_of
from ashfell.pictures.light import layers
from ashfell.pictures.materials import Plugin, bsdf, colour
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import looks
from ashfell.pictures.tiles import joined, tiles_of

Image = NDArray[np.float32]
Single = NDArray[np.float32]

GUIDE_SAMPLES = 8
"""Samples a pixel of the guides."""
SKY_SAMPLES = 4
"""Samples a pixel of the sky with nothing before it."""
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
    variant : str, optional
        Of the tracer; where none is said, the one that takes less time.

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
        variant: str = "",
    ) -> None:
        if settings.surfaces == "clay":
            parts, settings, own = in_clay(parts, settings, own)
        held, lamps = list(coated(parts)), list(lamps)
        self.settings, self.variant = settings, variant or variant_of(settings)
        self.tiles = tiles_of(settings)
        self._own, self._skins = own, skins(held, own)
        lit = layers(settings, lamps)
        if not lit:
            raise Refusal(
                "sky", "something that shines", "Neither sun, sky nor a lamp is on.", "Switch one of them on."
            )
        self._beyond = self._sky_alone(lit.get("sky", {}))
        self.samples = max(1, round(settings.samples / len(lit)))
        # What is beyond is seen past all that stands and through clear glass, and lights nothing.
        beyond = {"integrator": _paths(1), "all round": {"type": "constant", "radiance": 1.0}}
        with using(self.variant):
            lit = layers(settings, lamps)
            things = lit_meshes(self._skins, own) | {"ground": mi.load_dict(_ground(settings, held, own))}
            sensors = {f"sensor-{k:04}": sensor(settings, tile) for k, tile in enumerate(self.tiles)}
            content: dict[str, Any] = {"type": "scene"} | sensors | things
            self.scenes = {
                name: mi.load_dict(content | shining | {"integrator": _paths(hidden=name == "sky")})
                for name, shining in lit.items()
            }
            self._through = mi.load_dict(content | beyond)

    def _sky_alone(self, sky: dict[str, Any]) -> Image:
        if not sky:
            left, top, right, bottom = self.settings.crop
            return np.zeros((bottom - top, right - left, 3), dtype=np.float32)
        content: dict[str, Any] = {"type": "scene", "sensor": sensor(self.settings), "integrator": _paths(1)}
        return np.array(mi.render(mi.load_dict(content | sky), spp=SKY_SAMPLES, seed=mi.UInt32(0)), dtype=np.float32)

    def trace(self, number: int) -> dict[str, Image]:
        """Pass ``number`` (its seed): each layer (height, width, 3), linear; and how much of what is beyond is seen."""
        return joined([self.tile(number, place) for place in range(len(self.tiles))])

    def tile(self, number: int, place: int) -> dict[str, Image]:
        """Pass ``number`` of one of the tiles."""
        seed = number * len(self.tiles) + place
        _, upper, _, lower = (edge - self.settings.crop[1] for edge in self.tiles[place])
        with using(self.variant):
            found = {
                name: np.array(mi.render(scene, sensor=place, spp=self.samples, seed=mi.UInt32(seed)), dtype=np.float32)
                for name, scene in (self.scenes | {THROUGH: self._through}).items()
            }
        return found | {BEYOND: self._beyond[upper:lower]}

    def guides(self) -> Image:
        """What the camera sees first, for the noise removal: albedo and normal, (height, width, 6).

        Surfaces are made to shine in the colour that stands for them; clear glass is left out, so that what is behind
        it keeps its edges.
        """
        seen = [skin for skin in self._skins if not finishes.find(skin.key, self._own).is_sheet]
        tells: list[Tell] = [lambda skin: None, lambda skin: skin.normals / 2 + 0.5]
        found = [self._shining(shining_meshes(seen, self._own, tell), GUIDE_SAMPLES) for tell in tells]
        hit = found[1].any(axis=-1, keepdims=True)
        return np.concatenate([found[0], np.where(hit, found[1] * 2 - 1, 0)], axis=-1).astype(np.float32)

    def marks(self) -> NDArray[np.int32]:
        """Which part is seen at each pixel, (height, width): its number in the coated parts, from 1; 0 where is none.
        Glass is what stands there."""
        seen = self._shining(shining_meshes(self._skins, self._own, _in_bytes), 1)
        bytes_of = np.round(seen * 255).astype(np.int32)
        return np.asarray(bytes_of[..., 0] + (bytes_of[..., 1] << 8) + (bytes_of[..., 2] << 16), dtype=np.int32)

    def depth(self) -> NDArray[np.float32]:
        """How far what is seen is before the camera, along the way it looks, (height, width) m; 0 where nothing is."""
        return depth_of(self._skins, self.settings, self._own)

    def _shining(self, things: Mapping[str, mi.Mesh], samples: int) -> Image:
        return _shone(things, self.settings, samples)


def depth_of(
    held: Iterable[Skin], settings: PictureSettings, own: Mapping[str, Finish] | None = None, ground: bool = False
) -> NDArray[np.float32]:
    """How far skins are before the camera, along the way it looks, (height, width) m; 0 where nothing is. The level
    ``ground`` hides what is under it."""
    eye, axis = looks(settings)

    def far(skin: Skin) -> Floats:
        return np.repeat(((skin.positions - eye) @ axis)[:, None], 3, axis=1)

    things = shining_meshes([*held, *([_level(eye)] if ground else [])], own, far)
    return _shone(things, settings, 1)[..., 0]


def _level(eye: Floats) -> Skin:
    """The ground as a skin, round where the camera stands."""
    corners = np.array([(-1, -1), (1, -1), (1, 1), (-1, -1), (1, 1), (-1, 1)], dtype=np.float32) * np.float32(GROUND)
    flat = np.column_stack([corners + eye[:2].astype(np.float32), np.full(6, -0.002, dtype=np.float32)])
    up = np.tile(np.array([0, 0, 1], dtype=np.float32), (6, 1))
    return Skin(CLAY, 0.0, flat.astype(np.float32), up, corners, np.zeros(6, dtype=np.int32))


def _shone(things: Mapping[str, mi.Mesh], settings: PictureSettings, samples: int) -> Image:
    """What is seen of things that only shine."""
    content = {"type": "scene", "integrator": {"type": "path", "max_depth": 1}, "sensor": sensor(settings)}
    return np.array(mi.render(mi.load_dict(content | dict(things)), spp=samples, seed=mi.UInt32(0)), dtype=np.float32)


def _in_bytes(skin: Skin) -> Floats:
    """The numbers of the parts, as three bytes from 0 to 1."""
    return np.stack([skin.numbers & 255, skin.numbers >> 8 & 255, skin.numbers >> 16 & 255], axis=-1) / 255


def _paths(depth: int = DEPTH, hidden: bool = False) -> dict[str, Any]:
    """Paths of so many surfaces; what shines may be ``hidden`` where it is seen itself."""
    return {"type": "volpath", "max_depth": depth, "rr_depth": 5, "hide_emitters": hidden}


def in_clay(
    parts: Iterable[Part], settings: PictureSettings, own: Mapping[str, Finish] | None
) -> tuple[list[Part], PictureSettings, dict[str, Finish]]:
    """Everything white and dull but its glass, which is clear; the ground too."""

    def as_clay(part: Part) -> Part:
        is_clear = finishes.find(part.finish, own).transmits
        return replace(part, finish="clear-glass" if is_clear else CLAY, inner=None)

    return [as_clay(part) for part in parts], settings.model_copy(update={"ground": CLAY}), {CLAY: OF_CLAY}


CLAY = "clay"
OF_CLAY = Finish(name="Clay", kind="plaster", colour="#dedcd7", roughness=1.0)


def _ground(settings: PictureSettings, parts: list[Part], own: Mapping[str, Finish] | None) -> dict[str, Any]:
    middle = bounds(parts).mean(axis=0) / 1000 if parts else np.zeros(3)
    place = mi.ScalarTransform4f().translate([float(middle[0]), float(middle[1]), -0.002])
    finish = finishes.find(settings.ground, own)
    return {"type": "rectangle", "to_world": place.scale(GROUND), "bsdf": bsdf(finish, 2 * GROUND)}


@dataclass(frozen=True)
class Skin:
    """What is seen of the parts of one finish, as the corners of triangles, three after three, metres: ``positions``
    and ``normals`` (n, 3), ``texture`` (n, 2), and the ``numbers`` (n,) of the parts, from 1. Panes are ``thick``
    mm."""

    key: str
    thick: float
    positions: Single
    normals: Single
    texture: Single
    numbers: NDArray[np.int32]

    @property
    def name(self) -> str:
        return f"mesh-{self.key}-{self.thick:g}" if self.thick else f"mesh-{self.key}"


def skins(parts: Iterable[Part], own: Mapping[str, Finish] | None = None) -> list[Skin]:
    """One for each finish, panes by their thickness; of a sheet, only its larger face. Coats are numbered one by
    one."""
    groups: dict[tuple[str, float], list[tuple[int, Part]]] = defaultdict(list)
    for number, part in enumerate(coated(parts), 1):
        finish = finishes.find(part.finish, own)
        thick = _thick(part) if finish.transmits and finish.thickness else 0.0
        groups[part.finish, thick].append((number, part))
    return [
        _skin(key, thick, group, finishes.find(key, own).is_sheet) for (key, thick), group in sorted(groups.items())
    ]


def _skin(key: str, thick: float, parts: list[tuple[int, Part]], sheet: bool) -> Skin:
    pieces = [_corners(part, sheet) for _, part in parts]
    positions, normals, texture = (np.concatenate([piece[k] for piece in pieces]).astype(np.float32) for k in range(3))
    numbers = np.repeat(np.array([number for number, _ in parts], dtype=np.int32), [len(piece[0]) for piece in pieces])
    return Skin(key, thick, positions / np.float32(1000), normals, texture, numbers)


def meshes(parts: Iterable[Part], own: Mapping[str, Finish] | None = None) -> dict[str, mi.Mesh]:
    """One mesh for each finish, metres, ready to be lit."""
    return lit_meshes(skins(parts, own), own)


def lit_meshes(held: Iterable[Skin], own: Mapping[str, Finish] | None = None) -> dict[str, mi.Mesh]:
    """Skins that scatter light as their finishes do."""
    return {
        skin.name: mesh_of(
            skin.name, skin.positions, skin.normals, skin.texture, bsdf(finishes.find(skin.key, own), thick=skin.thick)
        )
        for skin in held
    }


Tell = Callable[[Skin], Floats | Single | None]


def shining_meshes(
    held: Iterable[Skin], own: Mapping[str, Finish] | None = None, tell: Tell = lambda skin: None
) -> dict[str, mi.Mesh]:
    """Skins that only shine: in the colours (n, 3) that ``tell`` gives their corners, or as their finishes look."""
    own = {CLAY: OF_CLAY, **(own or {})}
    return {skin.name: _shining_mesh(skin, finishes.find(skin.key, own), tell(skin)) for skin in held}


def _shining_mesh(skin: Skin, finish: Finish, painted: Floats | Single | None) -> mi.Mesh:
    radiance = colour(finish, 1.0) if painted is None else {"type": "mesh_attribute", "name": PAINTED}
    shines = {"type": "area", "radiance": radiance}
    return mesh_of(skin.name, skin.positions, skin.normals, skin.texture, {"type": "diffuse"}, shines, painted)


PAINTED = "vertex_color"
"""The colours that the corners of a mesh may have of their own."""
HEAD = """ply
format binary_little_endian 1.0
element vertex {corners}
{properties}
element face {triangles}
property list uchar uint vertex_indices
end_header
"""
FACE = np.dtype([("count", "u1"), ("corners", "<u4", 3)])


def mesh_of(
    key: str,
    positions: Floats | Single,
    normals: Floats | Single,
    texture: Floats | Single,
    scatters: Plugin,
    shines: Plugin | None = None,
    painted: Floats | Single | None = None,
) -> mi.Mesh:
    """A mesh of triangles by their corners, (3n, 3), (3n, 3) and (3n, 2), metres; what ``shines`` may ask for the
    colours (3n, 3) that they are ``painted`` with. (It goes by a file: arrays are taken in number by number.)"""
    columns = [positions, normals, texture] + ([] if painted is None else [painted])
    names = ["x", "y", "z", "nx", "ny", "nz", "u", "v"] + ([] if painted is None else ["r", "g", "b"])
    rows = np.concatenate([np.asarray(column, dtype="<f4") for column in columns], axis=1)
    faces = np.empty(len(rows) // 3, dtype=FACE)
    faces["count"], faces["corners"] = 3, np.arange(len(rows), dtype="<u4").reshape(-1, 3)
    properties = "\n".join(f"property float {name}" for name in names)
    with NamedTemporaryFile(suffix=".ply") as file:
        head = HEAD.format(corners=len(rows), triangles=len(faces), properties=properties)
        file.write(head.encode() + rows.tobytes() + faces.tobytes())
        file.flush()
        content: Plugin = {"type": "ply", "id": key, "filename": file.name, "bsdf": scatters}
        mesh: mi.Mesh = mi.load_dict(content | ({"emitter": shines} if shines else {}))
        return mesh


def _thick(part: Part) -> float:
    """How thick a pane is, across the face that most of it looks out of, to a hundredth of a mm."""
    kept = _larger_face(part)
    normal = part.solid.normals[kept].mean(axis=0)
    return float(np.round(np.ptp(part.solid.vertices @ (normal / np.linalg.norm(normal))), 2))


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
