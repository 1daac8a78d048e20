"""glTF 2.0 binary: metres, y up; one mesh per definition, a primitive per finish, one node per use.

Beside each mesh, in its extras, stand its parts: what each is, and which triangles of which primitive are its. A node's
name is the address of what it stands for. Glass carries KHR_materials_transmission and KHR_materials_ior. Texture
coordinates are metres; KHR_texture_transform scales them to the finish's tile, so a texture keeps its real size on
every face.

Walls and plates lie along their own axes. They are written as one buffer of x, y, z, x: read as three numbers a vertex
is a position, and read as two numbers from the first, second or third on it is a place on the face, on a jamb or on a
sill. So a wall with thousands of openings costs 16 bytes a vertex, and no face needs vertices of its own.
"""

from __future__ import annotations

import json
import struct
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial
from hashlib import sha256
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.address import stretches
from ashfell.core.base.progress import steps
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.hidden import without_hidden
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.instance import Instance
from ashfell.core.site.scene import Scene
from ashfell.core.solid.topology import alike
from ashfell.core.surface import Surface, indexed
from ashfell.core.unit.make import Unit
from ashfell.core.unit.sash_uses import sashes_of
from ashfell.formats.glb_aside import EXTENSION, nodes
from ashfell.formats.glb_materials import Materials, Textures, light_jpeg, texture_jpeg

Json = dict[str, Any]
FLOAT, ARRAY_BUFFER, ELEMENTS, REPEAT, LINEAR, MIPMAPS = 5126, 34962, 34963, 10497, 9729, 9987
SHORT, LONG = 5123, 5125
Y_UP = np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])
"""From the site (z up) to glTF (y up)."""
Level = Literal["all", "seen", "light"]
"""Everything; without the faces that lie against each other; that, with small textures and no parts told, for pages."""
LEVEL = ("wall", "plate")
"""Roles of what lies along its own axes."""
HEAD = 12
"""Bytes before the first chunk."""
STRIDE = 16
"""Bytes of a vertex of what lies along its own axes."""


def write_unit(
    unit: Unit, own: Mapping[str, Finish] | None = None, textures: Textures = texture_jpeg, level: Level = "all"
) -> bytes:
    """A unit as GLB: unit space is glTF's own (u right, v up, w towards the viewer), in metres. What stays is one node;
    each sash is a node of its own with all that it holds, moved as it is opened, and equal ones share a mesh, mirrored
    where they are handed.

    Raises
    ------
    Refusal
        When a part has a finish that is not known.
    """
    file, name = _file(own, textures, level), unit.document.name
    still = [part for part in unit.parts if not part.sash]
    definitions, uses = sashes_of(unit.layout, unit.parts)
    nodes = [file.node({"name": name, "mesh": file.mesh(name, still)})] if still else []
    meshes = {}
    for use in uses:
        if use.definition not in meshes:
            meshes[use.definition] = file.mesh(use.key, definitions[use.definition])
        mesh = meshes[use.definition]
        named = dict(zip((part.id for part in definitions[use.definition]), use.parts, strict=True))
        told = [
            _told(named[row["part"]], row["primitive"], row["first"], row["count"])
            for row in file.meshes[mesh]["extras"]["parts"]
        ]
        nodes.append(file.node({"name": use.entry, "mesh": mesh, "extras": {"parts": told}} | _place(use.matrix)))
    file.root(name, nodes, None)
    return file.bytes()


def write_scene(
    name: str,
    scene: Scene,
    own: Mapping[str, Finish] | None = None,
    textures: Textures = texture_jpeg,
    only: frozenset[str] | None = None,
    aside: bool = False,
    level: Level = "all",
) -> bytes:
    """A site as GLB: each definition's mesh is written once; units are children of the wall that they are in. Of it
    ``only`` the instances of some ids, where they are given; its lamps and cameras come with it when they are to stand
    ``aside``.

    Raises
    ------
    Refusal
        When a part has a finish that is not known.
    """
    file = _file(own, textures, level)
    shown = [one for one in scene.instances if only is None or one.id in only]
    used = {one.definition for one in shown}
    wanted = [(key, parts) for key, parts in scene.definitions.items() if parts and key in used]
    meshes = {key: file.mesh(key, parts) for key, parts in steps(wanted, "shapes written")}
    inside: dict[str, list[Instance]] = defaultdict(list)
    for instance in shown:
        inside[instance.host].append(instance)

    def node(instance: Instance) -> int:
        made: Json = {"name": instance.entry}
        if not instance.host and (storey := scene.storey_of(instance)):
            made["extras"] = {"storey": storey}
        if instance.definition in meshes:
            made["mesh"] = meshes[instance.definition]
        made |= _place(instance.matrix if instance.in_host is None else instance.in_host)
        children = [node(child) for child in inside[instance.id]] if instance.id and not instance.host else []
        return file.node(made | ({"children": children} if children else {}))

    standing = [node(instance) for instance in inside[""]]
    file.root(name, [*standing, *(file.beside(*one) for one in (nodes(scene.site) if aside else ()))], Y_UP)
    return file.bytes()


def _place(matrix: Floats) -> Json:
    """Where a node stands, its shift in metres; a shift alone where it is not turned, nothing where it is not moved."""
    metres = matrix.copy()
    metres[:3, 3] /= 1000
    if np.array_equal(metres, np.eye(4)):
        return {}
    if np.array_equal(metres[:3, :3], np.eye(3)):
        return {"translation": [float(value) + 0.0 for value in metres[:3, 3].round(9)]}
    return {"matrix": [float(value) + 0.0 for value in metres.T.reshape(-1).round(12)]}


def _told(part: Part, primitive: int, first: int, count: int) -> Json:
    """What stands beside a mesh of one of its parts: triangles ``first`` to ``first + count`` of a primitive."""
    found: Json = {
        "part": part.id,
        "entry": part.entry,
        "role": part.role,
        "finish": part.finish,
        "primitive": primitive,
        "first": first,
        "count": count,
    }
    if part.light:
        found |= {"light": part.light, "within": " ".join(stretches(part.light))}
    return found


def _file(own: Mapping[str, Finish] | None, textures: Textures, level: Level) -> _File:
    return _File(Materials(own or {}, partial(light_jpeg, textures) if level == "light" else textures), level)


@dataclass
class _File:
    """A glTF file being written."""

    finishes: Materials
    level: Level = "all"
    nodes: list[Json] = field(default_factory=list)
    meshes: list[Json] = field(default_factory=list)
    accessors: list[Json] = field(default_factory=list)
    views: list[Json] = field(default_factory=list)
    held: dict[tuple[bytes, int | None, int | None, str], int] = field(default_factory=dict)
    known: dict[str, int] = field(default_factory=dict)
    binary: bytearray = field(default_factory=bytearray)
    scene: Json = field(default_factory=dict)
    aside: dict[str, list[Json]] = field(default_factory=lambda: {"lights": [], "cameras": []})

    def node(self, node: Json) -> int:
        self.nodes.append(node)
        return len(self.nodes) - 1

    def root(self, name: str, children: list[int], matrix: Floats | None) -> None:
        """The scene's one root node; an empty scene has none."""
        self.scene = {"name": name}
        if children:
            node = {"name": name, "children": children} | (_place(matrix) if matrix is not None else {})
            self.scene["nodes"] = [self.node(node)]

    def beside(self, kind: str, told: Json, matrix: Floats) -> int:
        """The node of a lamp or a camera."""
        number = len(self.aside[kind])
        self.aside[kind].append(told)
        is_light = kind == "lights"
        held: Json = {"extensions": {EXTENSION: {"light": number}}} if is_light else {"camera": number}
        if is_light:
            self.finishes.extensions.add(EXTENSION)
        return self.node({"name": told["name"]} | held | _place(matrix))

    # --- meshes

    def mesh(self, name: str, parts: Sequence[Part]) -> int:
        """One mesh of parts, a primitive per finish, with its parts beside it."""
        parts = [*coated(parts if self.level == "all" else without_hidden(parts))]
        primitives: list[Json] = []
        told: list[Json] = []
        by_finish: dict[str, list[Part]] = defaultdict(list)
        for part in parts:
            if part.role not in LEVEL or self.finishes.is_oblique(part.finish):
                by_finish[part.finish].append(part)
        for finish, group in by_finish.items():
            bent = [part for part in group if self.level != "light" or part.solid.shading is not None]
            flat = [part for part in group if self.level == "light" and part.solid.shading is None]
            if bent:
                self._turned(finish, bent, primitives, told)
            if flat:
                self._flat(finish, flat, primitives)
        level = [part for part in parts if part.role in LEVEL and part.finish not in by_finish]
        self._level(level, primitives, told)
        self.meshes.append({"name": name, "primitives": primitives, "extras": {"parts": told}})
        return len(self.meshes) - 1

    def _turned(self, finish: str, parts: Sequence[Part], primitives: list[Json], told: list[Json]) -> None:
        """Parts of a unit: every corner has its normal and its place in the texture."""
        shown: list[Surface] = []
        triangles: list[NDArray[np.int64]] = []
        first = corner = 0
        for part, one in zip(parts, indexed(parts), strict=True):
            shown.append(one)
            triangles.append(one.triangles + corner)
            told.append(_told(part, len(primitives), first, len(one.triangles)))
            first, corner = first + len(one.triangles), corner + len(one.positions)
        places = np.concatenate([one.texture for one in shown])
        attributes = {
            "POSITION": self._values(np.concatenate([one.positions for one in shown]) / 1000, "VEC3", bounded=True),
            "NORMAL": self._values(np.concatenate([one.normals for one in shown]), "VEC3"),
            "TEXCOORD_0": self._values(self.finishes.laid(finish, places), "VEC2"),
        }
        indices = self._indices(np.concatenate(triangles), corner)
        primitives.append({"attributes": attributes, "indices": indices, "material": self.finishes.material(finish)})

    def _flat(self, finish: str, parts: Sequence[Part], primitives: list[Json]) -> None:
        """Parts of a light file whose faces are flat: without normals, which a reader finds by itself then, and with
        places in a texture only where there is one; corners that are alike are one."""
        shown = indexed(parts)
        starts = np.cumsum([0, *(len(one.positions) for one in shown)])
        columns = [np.concatenate([one.positions for one in shown]) / 1000]
        textured = self.finishes.find(finish).texture is not None
        if textured:
            columns.append(self.finishes.laid(finish, np.concatenate([one.texture for one in shown])))
        rows, number = np.unique(np.hstack(columns).astype("<f4"), axis=0, return_inverse=True)
        triangles = np.concatenate([one.triangles + start for one, start in zip(shown, starts, strict=False)])
        attributes = {"POSITION": self._values(rows[:, :3], "VEC3", bounded=True)}
        if textured:
            attributes["TEXCOORD_0"] = self._values(rows[:, 3:], "VEC2")
        indices = self._indices(number.reshape(-1)[triangles], len(rows))
        primitives.append({"attributes": attributes, "indices": indices, "material": self.finishes.material(finish)})

    def _level(self, parts: Sequence[Part], primitives: list[Json], told: list[Json]) -> None:
        """Parts that lie along their own axes: one buffer of vertices for all, those at one place being one, and a
        primitive for each finish and each axis that faces look along."""
        if not parts:
            return
        first, number = alike(np.concatenate([part.solid.vertices for part in parts]).round(6))
        vertices = np.concatenate([part.solid.vertices for part in parts])[first] / 1000
        data = np.ascontiguousarray(vertices[:, [0, 1, 2, 0]], dtype="<f4")
        view = self.view(data.tobytes(), ARRAY_BUFFER, STRIDE)
        low, high = data[:, :3].min(axis=0).tolist(), data[:, :3].max(axis=0).tolist()
        place = self._keep(self._accessor(view, FLOAT, len(data), "VEC3", 0) | {"min": low, "max": high})
        read: dict[int, int] = {}
        starts = np.cumsum([0, *(len(part.solid.vertices) for part in parts)])
        for finish in dict.fromkeys(part.finish for part in parts):
            textured = self.finishes.find(finish).texture is not None
            for axis in (2, 0, 1):
                held = self._looking(parts, starts, finish, axis, len(primitives), told)
                if not len(held):
                    continue
                attributes = {"POSITION": place}
                if textured:
                    if axis not in read:
                        offset = {2: 0, 0: 4, 1: 8}[axis]
                        read[axis] = self._keep(self._accessor(view, FLOAT, len(data), "VEC2", offset))
                    attributes["TEXCOORD_0"] = read[axis]
                laid = ("level" if axis == 2 else "turned") if textured else ""
                indices = self._indices(number[held].astype(np.int64), len(data))
                primitives.append(
                    {"attributes": attributes, "indices": indices, "material": self.finishes.material(finish, laid)}
                )

    def _looking(
        self, parts: Sequence[Part], starts: NDArray[np.int64], finish: str, axis: int, primitive: int, told: list[Json]
    ) -> NDArray[np.int64]:
        """The triangles (m, 3) of a finish that look along an axis; what they are of is told."""
        held: list[NDArray[np.int64]] = []
        count = 0
        for part, start in zip(parts, starts, strict=False):
            if part.finish == finish:
                own = part.solid.triangles[np.abs(part.solid.normals).argmax(axis=1) == axis].astype(np.int64) + start
                if len(own):
                    told.append(_told(part, primitive, count, len(own)))
                    held.append(own)
                    count += len(own)
        return np.concatenate(held) if held else np.zeros((0, 3), dtype=np.int64)

    # --- buffers

    def _values(self, values: Floats, kind: str, bounded: bool = False) -> int:
        data = np.ascontiguousarray(values, dtype="<f4")
        view = self.view(data.tobytes(), ARRAY_BUFFER, of=f"{kind} {bounded}")
        accessor = self._accessor(view, FLOAT, len(data), kind, 0)
        if bounded:
            accessor |= {"min": data.min(axis=0).tolist(), "max": data.max(axis=0).tolist()}
        return self._keep(accessor)

    def _indices(self, triangles: NDArray[np.int64], count: int) -> int:
        short = count <= 0xFFFF
        data = np.ascontiguousarray(triangles.reshape(-1), dtype="<u2" if short else "<u4")
        view = self.view(data.tobytes(), ELEMENTS)
        return self._keep(self._accessor(view, SHORT if short else LONG, len(data), "SCALAR", 0))

    def _accessor(self, view: int, component: int, count: int, kind: str, offset: int) -> Json:
        accessor: Json = {"bufferView": view, "componentType": component, "count": count, "type": kind}
        return accessor | ({"byteOffset": offset} if offset else {})

    def _keep(self, accessor: Json) -> int:
        """An accessor; one that is there already is the same, since those of one view would need a stride."""
        told = json.dumps(accessor)
        if told not in self.known:
            self.known[told] = len(self.accessors)
            self.accessors.append(accessor)
        return self.known[told]

    def view(self, data: bytes, target: int | None = None, stride: int | None = None, of: str = "") -> int:
        """Where bytes are in the file; what is in it already, as for walls that are alike, is not written again where
        it is ``of`` the same kind."""
        told = (sha256(data).digest(), target, stride, of)
        if told not in self.held:
            self.held[told] = self._written(data, target, stride)
        return self.held[told]

    def _written(self, data: bytes, target: int | None, stride: int | None) -> int:
        self.binary.extend(b"\0" * (-len(self.binary) % 4))
        view: Json = {"buffer": 0, "byteOffset": len(self.binary), "byteLength": len(data)}
        view |= ({"target": target} if target else {}) | ({"byteStride": stride} if stride else {})
        self.views.append(view)
        self.binary.extend(data)
        return len(self.views) - 1

    def bytes(self) -> bytes:
        if self.level == "light":
            for one in (*self.meshes, *self.nodes):
                one.get("extras", {}).pop("parts", None)
        images = [{"bufferView": self.view(one), "mimeType": "image/jpeg"} for one in self.finishes.images]
        self.binary.extend(b"\0" * (-len(self.binary) % 4))
        sampler = {"magFilter": LINEAR, "minFilter": MIPMAPS, "wrapS": REPEAT, "wrapT": REPEAT}
        tables = {
            "nodes": self.nodes,
            "meshes": self.meshes,
            "cameras": self.aside["cameras"],
            "extensions": {EXTENSION: {"lights": self.aside["lights"]}} if self.aside["lights"] else {},
            "materials": self.finishes.materials,
            "textures": self.finishes.textures,
            "images": images,
            "accessors": self.accessors,
            "bufferViews": self.views,
            "extensionsUsed": sorted(self.finishes.extensions),
            "samplers": [sampler] if self.finishes.textures else [],
            "buffers": [{"byteLength": len(self.binary)}] if self.binary else [],
        }
        content = {"asset": {"version": "2.0", "generator": "Ashfell"}, "scene": 0}
        content |= {"scenes": [self.scene]}
        content |= {name: table for name, table in tables.items() if table}
        return chunks(content, self.binary)


def chunks(content: Json, binary: bytearray) -> bytes:
    """A GLB of its tables and what they speak of."""
    text = json.dumps(content, separators=(",", ":")).encode()
    parts = [(b"JSON", text + b" " * (-len(text) % 4)), (b"BIN\0", bytes(binary))]
    body = b"".join(struct.pack("<I4s", len(data), kind) + data for kind, data in parts if data)
    return struct.pack("<4sII", b"glTF", 2, HEAD + len(body)) + body
