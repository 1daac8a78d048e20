"""GLB packed: meshes as Draco, by KHR_draco_mesh_compression of the Khronos group.

Packing puts corners in an order of its own, so a packed file does not tell which triangles are of which part.
"""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping
from math import ceil, log2
from typing import Any

import DracoPy
import numpy as np
from numpy.typing import NDArray

from ashfell.formats.glb import HEAD, chunks

Json = dict[str, Any]
EXTENSION = "KHR_draco_mesh_compression"
STEP = 5e-5
"""How far a corner is moved at most, metres."""
TEXTURE_STEP = 1e-3
"""How far a place in a texture is moved at most, tiles."""
NORMAL_BITS = 10
FEWEST, MOST = 8, 24
"""Bits of a coordinate."""
EFFORT = 7
"""Of 10."""
NAMES = {DracoPy.AttributeType.POSITION: "POSITION", DracoPy.AttributeType.NORMAL: "NORMAL"}
NAMES |= {DracoPy.AttributeType.TEX_COORD: "TEXCOORD_0"}
COMPONENTS = {5123: "<u2", 5125: "<u4", 5126: "<f4"}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3}
FLOAT, LONG = 5126, 5125


def packed(data: bytes) -> bytes:
    """A GLB of ours with its meshes packed; what is in it stays within :data:`STEP` of where it is."""
    told, binary = _opened(data)
    file = _Packed(told, binary)
    for mesh in told.get("meshes", ()):
        mesh.pop("extras", None)
        for primitive in mesh["primitives"]:
            file.pack(primitive)
    for node in told.get("nodes", ()):
        node.get("extras", {}).pop("parts", None)
        if not node.get("extras", True):
            del node["extras"]
    return file.whole()


def _opened(data: bytes) -> tuple[Json, bytes]:
    length = struct.unpack_from("<I", data, HEAD)[0]
    start = HEAD + 8
    return json.loads(data[start : start + length]), data[start + length + 8 :]


class _Packed:
    """A file whose tables are written anew."""

    def __init__(self, told: Json, binary: bytes) -> None:
        self.told, self.read = told, binary
        self.old: tuple[list[Json], list[Json]] = told.get("accessors", []), told.get("bufferViews", [])
        self.accessors: list[Json] = []
        self.views: list[Json] = []
        self.written = bytearray()

    def pack(self, primitive: Json) -> None:
        """Pack one primitive."""
        used, triangles = np.unique(self._values(primitive["indices"]), return_inverse=True)
        held = {name: self._values(number)[used] for name, number in primitive["attributes"].items()}
        content = _draco(held, triangles.reshape(-1, 3))
        found = DracoPy.decode(content)
        ids = {}
        for attribute in found.attributes:
            name, values = NAMES[DracoPy.AttributeType(attribute["attribute_type"])], attribute["data"]
            ids[name] = attribute["unique_id"]
            accessor: Json = {"componentType": FLOAT, "count": len(values), "type": f"VEC{values.shape[1]}"}
            if name == "POSITION":
                low, high = (np.asarray(one, dtype=float).tolist() for one in (values.min(axis=0), values.max(axis=0)))
                accessor |= {"min": low, "max": high}
            primitive["attributes"][name] = self._accessor(accessor)
        primitive["indices"] = self._accessor({"componentType": LONG, "count": found.faces.size, "type": "SCALAR"})
        primitive["extensions"] = {EXTENSION: {"bufferView": self._view(content), "attributes": ids}}

    def whole(self) -> bytes:
        told = self.told
        for image in told.get("images", ()):
            view = self.old[1][image["bufferView"]]
            image["bufferView"] = self._view(self.read[view["byteOffset"] : view["byteOffset"] + view["byteLength"]])
        self.written.extend(b"\0" * (-len(self.written) % 4))
        told |= {"accessors": self.accessors, "bufferViews": self.views}
        if self.written:
            told["buffers"] = [{"byteLength": len(self.written)}]
        if self.accessors:
            told["extensionsUsed"] = sorted({*told.get("extensionsUsed", ()), EXTENSION})
            told["extensionsRequired"] = [EXTENSION]
        return chunks({name: table for name, table in told.items() if table or table == 0}, self.written)

    def _values(self, number: int) -> NDArray[Any]:
        accessor = self.old[0][number]
        view = self.old[1][accessor["bufferView"]]
        width, kind = WIDTHS[accessor["type"]], np.dtype(COMPONENTS[accessor["componentType"]])
        start = view["byteOffset"] + accessor.get("byteOffset", 0)
        stride = view.get("byteStride", width * kind.itemsize)
        return np.ndarray((accessor["count"], width), kind, self.read, start, (stride, kind.itemsize)).copy()

    def _accessor(self, accessor: Json) -> int:
        self.accessors.append(accessor)
        return len(self.accessors) - 1

    def _view(self, content: bytes) -> int:
        self.written.extend(b"\0" * (-len(self.written) % 4))
        self.views.append({"buffer": 0, "byteOffset": len(self.written), "byteLength": len(content)})
        self.written.extend(content)
        return len(self.views) - 1


def _draco(held: Mapping[str, NDArray[Any]], triangles: NDArray[np.int64]) -> bytes:
    """Corners and triangles as Draco; each coordinate is as long as its step asks for."""
    normal, texture = held.get("NORMAL"), held.get("TEXCOORD_0")
    return bytes(
        DracoPy.encode(
            held["POSITION"],
            triangles.astype(np.uint32),
            quantization_bits=_bits(held["POSITION"], STEP),
            compression_level=EFFORT,
            normals=None if normal is None else normal.astype(np.float64),
            normal_quantization_bits=None if normal is None else NORMAL_BITS,
            tex_coord=None if texture is None else texture.astype(np.float64),
            tex_coord_quantization_bits=None if texture is None else _bits(texture, TEXTURE_STEP),
        )
    )


def _bits(values: NDArray[Any], step: float) -> int:
    """How many bits give a coordinate to within a step."""
    span = float(np.ptp(values, axis=0).max())
    return int(np.clip(ceil(log2(max(span / step, 1.0))), FEWEST, MOST))
