"""Skins: what is seen of parts, by finish, as triangles that the tracer takes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from tempfile import NamedTemporaryFile
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.surface import Surface, surfaces
from ashfell.pictures.clay import CLAY, OF_CLAY
from ashfell.pictures.materials import Plugin, bsdf, colour

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

Single = NDArray[np.float32]

FACING = 0.2
"""What of a pane looks as its largest face does, by the cosine: not its edges, and all of one face of a dome."""


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

    def facing(self, eye: Floats) -> Skin:
        """The same with every triangle turned to an eye, m."""
        away = ((eye - self.positions) * self.normals).reshape(-1, 9).sum(axis=1) < 0

        def turned(rows: NDArray[Any]) -> NDArray[Any]:
            three = rows.reshape(-1, 3, *rows.shape[1:]).copy()
            three[away] = three[away][:, ::-1]
            return three.reshape(rows.shape)

        positions, texture, normals = (turned(rows) for rows in (self.positions, self.texture, self.normals))
        normals = np.where(np.repeat(away, 3)[:, None], -normals, normals)
        return Skin(self.key, self.thick, positions, normals, texture, self.numbers)


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
    whole = surfaces([part for _, part in parts])
    pieces = [_corners(part, shown, sheet) for (_, part), shown in zip(parts, whole, strict=True)]
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


def _corners(part: Part, shown: Surface, sheet: bool) -> _Corners:
    """Triangle corners, their normals and texture coordinates; of a sheet, only its larger face."""
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
