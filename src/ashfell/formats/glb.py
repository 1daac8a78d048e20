"""glTF 2.0 binary: metres, y up, one mesh per part of a definition, one node per use.

Glass carries KHR_materials_transmission and KHR_materials_ior. Texture coordinates are metres; KHR_texture_transform
scales them to the finish's tile, so a texture keeps its real size on every face.
"""

from __future__ import annotations

import io
import json
import struct
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

import numpy as np
from PIL import Image

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.instances import Use, uses_of
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.scene import Scene
from ashfell.core.surface import surface
from ashfell.core.texture import albedo

Json = dict[str, Any]

FLOAT, ARRAY_BUFFER, REPEAT, LINEAR, MIPMAPS = 5126, 34962, 10497, 9729, 9987
Y_UP = np.array([[1.0, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]])
"""From the site (z up) to glTF (y up)."""


def write_unit(name: str, parts: Sequence[Part], own: Mapping[str, Finish] | None = None) -> bytes:
    """A unit as GLB: unit space is glTF's own (u right, v up, w towards the viewer), in metres."""
    file = _File(own or {})
    file.root(name, file.part_nodes(parts), None)
    return file.bytes()


def write_scene(name: str, scene: Scene, own: Mapping[str, Finish] | None = None) -> bytes:
    """A site as GLB: each definition's meshes are written once and used by all its instances."""
    file = _File(own or {})
    meshes = {key: [*file.part_meshes(parts)] for key, parts in scene.definitions.items()}
    children = []
    for instance in scene.instances:
        inner = [file.part_node(part, mesh, place, instance.id) for part, mesh, place in meshes[instance.definition]]
        extras = {"entry": instance.entry, "definition": instance.definition}
        node = {"name": instance.id, "children": inner, "extras": extras}
        children.append(file.node(node | _matrix(instance.matrix)))
    file.root(name, children, Y_UP)
    return file.bytes()


def _matrix(matrix: Floats) -> Json:
    """A node's matrix, column by column, its shift in metres; left out where it moves nothing."""
    metres = matrix.copy()
    metres[:3, 3] /= 1000
    if np.array_equal(metres, np.eye(4)):
        return {}
    return {"matrix": [float(value) + 0.0 for value in metres.T.reshape(-1).round(12)]}


def _place(use: Use) -> Json:
    """Where a shared mesh stands, and that it is turned into its mirror image."""
    place: Json = {"translation": [float(value) + 0.0 for value in (use.shift / 1000).round(9)]}
    return place | ({"scale": [-1.0, 1.0, 1.0]} if use.mirrored else {})


def _extras(part: Part, instance: str = "") -> Json:
    name = f"{instance}/{part.id}" if instance else part.id
    return {"part": name, "entry": part.entry, "role": part.role, "finish": part.finish}


@dataclass
class _File:
    """A glTF file being written."""

    own: Mapping[str, Finish]
    nodes: list[Json] = field(default_factory=list)
    meshes: list[Json] = field(default_factory=list)
    materials: list[Json] = field(default_factory=list)
    textures: list[Json] = field(default_factory=list)
    images: list[Json] = field(default_factory=list)
    accessors: list[Json] = field(default_factory=list)
    views: list[Json] = field(default_factory=list)
    binary: bytearray = field(default_factory=bytearray)
    extensions: set[str] = field(default_factory=set)
    material_of: dict[str, int] = field(default_factory=dict)
    scene: Json = field(default_factory=dict)

    def node(self, node: Json) -> int:
        self.nodes.append(node)
        return len(self.nodes) - 1

    def root(self, name: str, children: list[int], matrix: Floats | None) -> None:
        """The scene's one root node; an empty scene has none."""
        self.scene = {"name": name}
        if children:
            node = {"name": name, "children": children} | (_matrix(matrix) if matrix is not None else {})
            self.scene["nodes"] = [self.node(node)]

    def part_nodes(self, parts: Sequence[Part]) -> list[int]:
        return [self.part_node(part, mesh, place) for part, mesh, place in self.part_meshes(parts)]

    def part_meshes(self, parts: Sequence[Part]) -> Iterator[tuple[Part, int, Json]]:
        """Each part, its mesh, and where that stands. Equal parts share one mesh (mirrored where they are handed), unless
        their texture would show it."""
        _, uses = uses_of(parts)
        made: dict[int, int] = {}
        for use in uses:
            shared = finishes.find(use.part.finish, self.own).texture is None
            if not shared:
                yield use.part, self.mesh(use.part), {}
                continue
            fresh = use.definition not in made
            if fresh:
                made[use.definition] = self.mesh(use.part)
            yield use.part, made[use.definition], {} if fresh else _place(use)

    def part_node(self, part: Part, mesh: int, place: Json, instance: str = "") -> int:
        name = f"{instance}/{part.id}" if instance else part.id
        return self.node({"name": name, "mesh": mesh, "extras": _extras(part, instance)} | place)

    def mesh(self, part: Part) -> int:
        shown = surface(part)
        attributes = {
            "POSITION": self.accessor(shown.positions / 1000, "VEC3", bounded=True),
            "NORMAL": self.accessor(shown.normals, "VEC3"),
            "TEXCOORD_0": self.accessor(shown.texture * (1.0, -1.0), "VEC2"),
        }
        primitive = {"attributes": attributes, "material": self.material(part.finish)}
        self.meshes.append({"name": part.id, "primitives": [primitive]})
        return len(self.meshes) - 1

    def accessor(self, values: Floats, kind: str, bounded: bool = False) -> int:
        data = np.ascontiguousarray(values, dtype="<f4")
        accessor: Json = {
            "bufferView": self.view(data.tobytes(), ARRAY_BUFFER),
            "componentType": FLOAT,
            "count": len(data),
            "type": kind,
        }
        if bounded:
            accessor |= {"min": data.min(axis=0).tolist(), "max": data.max(axis=0).tolist()}
        self.accessors.append(accessor)
        return len(self.accessors) - 1

    def view(self, data: bytes, target: int | None = None) -> int:
        self.binary.extend(b"\0" * (-len(self.binary) % 4))
        view: Json = {"buffer": 0, "byteOffset": len(self.binary), "byteLength": len(data)}
        self.views.append(view | ({"target": target} if target else {}))
        self.binary.extend(data)
        return len(self.views) - 1

    def material(self, key: str) -> int:
        if key not in self.material_of:
            self.material_of[key] = len(self.materials)
            self.materials.append(self._material(key, finishes.find(key, self.own)))
        return self.material_of[key]

    def _material(self, key: str, finish: Finish) -> Json:
        surface_of: Json = {"metallicFactor": finish.metallic, "roughnessFactor": finish.roughness}
        if finish.texture is None:
            surface_of["baseColorFactor"] = [*finish.linear, 1.0]
        else:
            surface_of["baseColorTexture"] = self.texture(finish)
        material: Json = {"name": key, "pbrMetallicRoughness": surface_of}
        if finish.transmits:
            material["extensions"] = {
                "KHR_materials_transmission": {"transmissionFactor": finish.transmission},
                "KHR_materials_ior": {"ior": finish.ior},
            }
            self.extensions.update(material["extensions"])
        return material

    def texture(self, finish: Finish) -> Json:
        assert finish.texture is not None
        self.images.append({"bufferView": self.view(_jpeg(finish)), "mimeType": "image/jpeg"})
        self.textures.append({"sampler": 0, "source": len(self.images) - 1})
        self.extensions.add("KHR_texture_transform")
        scale = 1 / finish.texture.tile
        return {
            "index": len(self.textures) - 1,
            "extensions": {"KHR_texture_transform": {"scale": [scale, scale]}},
        }

    def bytes(self) -> bytes:
        self.binary.extend(b"\0" * (-len(self.binary) % 4))
        tables = {
            "nodes": self.nodes,
            "meshes": self.meshes,
            "materials": self.materials,
            "textures": self.textures,
            "images": self.images,
            "accessors": self.accessors,
            "bufferViews": self.views,
            "extensionsUsed": sorted(self.extensions),
            "samplers": [{"magFilter": LINEAR, "minFilter": MIPMAPS, "wrapS": REPEAT, "wrapT": REPEAT}]
            if self.textures
            else [],
            "buffers": [{"byteLength": len(self.binary)}] if self.binary else [],
        }
        content = {"asset": {"version": "2.0", "generator": "Ashfell"}, "scene": 0}
        content |= {"scenes": [self.scene]}
        content |= {name: table for name, table in tables.items() if table}
        text = json.dumps(content, separators=(",", ":")).encode()
        return _chunks([(b"JSON", text + b" " * (-len(text) % 4)), (b"BIN\0", bytes(self.binary))])


def _chunks(chunks: Iterable[tuple[bytes, bytes]]) -> bytes:
    body = b"".join(struct.pack("<I4s", len(data), kind) + data for kind, data in chunks if data)
    return struct.pack("<4sII", b"glTF", 2, 12 + len(body)) + body


@lru_cache(maxsize=64)
def _jpeg(finish: Finish) -> bytes:
    size = 1024 if finish.texture is not None and finish.texture.pattern == "brick" else 512
    held = io.BytesIO()
    Image.fromarray(albedo(finish, size)).save(held, "JPEG", quality=88)
    return held.getvalue()
