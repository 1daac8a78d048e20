"""GLB read without our own code: its tables, and its parts as meshes of another library."""

import json
import struct

import numpy as np
import trimesh

COMPONENTS = {5123: "<u2", 5125: "<u4", 5126: "<f4"}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3}


def content(data):
    """The JSON of a GLB."""
    length = struct.unpack_from("<I", data, 12)[0]
    return json.loads(data[20 : 20 + length])


class Glb:
    """A GLB's tables and numbers."""

    def __init__(self, data):
        self.table = content(data)
        self.binary = data[28 + struct.unpack_from("<I", data, 12)[0] :]

    def values(self, index):
        """The numbers of an accessor, (n, width)."""
        accessor = self.table["accessors"][index]
        view = self.table["bufferViews"][accessor["bufferView"]]
        width, kind = WIDTHS[accessor["type"]], np.dtype(COMPONENTS[accessor["componentType"]])
        start = view["byteOffset"] + accessor.get("byteOffset", 0)
        stride = view.get("byteStride", width * kind.itemsize)
        return np.ndarray((accessor["count"], width), kind, self.binary, start, (stride, kind.itemsize)).copy()

    def placed(self):
        """Each part of every node where it stands, by what the node says of it, or else its mesh."""
        found, parents = [], {}
        for number, node in enumerate(self.table["nodes"]):
            parents |= dict.fromkeys(node.get("children", ()), number)
        for number, node in enumerate(self.table["nodes"]):
            if "mesh" in node:
                matrix, above = np.eye(4), number
                while above is not None:
                    matrix, above = motion(self.table["nodes"][above]) @ matrix, parents.get(above)
                for told, corners in self.parts(node["mesh"], node.get("extras", {}).get("parts")):
                    moved = corners @ matrix[:3, :3].T + matrix[:3, 3]
                    found.append((told, moved if np.linalg.det(matrix[:3, :3]) > 0 else moved[:, ::-1]))
        return found

    def parts(self, mesh=0, rows=None):
        """Each part of a mesh: what is told of it, and its triangles as corners (m, 3, 3), metres; a part in several
        pieces comes together."""
        found = {}
        held = self.table["meshes"][mesh]
        for told in rows or held["extras"]["parts"]:
            primitive = held["primitives"][told["primitive"]]
            corners = self.values(primitive["attributes"]["POSITION"]).astype(float)
            triangles = self.values(primitive["indices"]).reshape(-1, 3)[told["first"] : told["first"] + told["count"]]
            one = found.setdefault(told["part"], (told, []))
            one[1].append(corners[triangles])
        return [(told, np.concatenate(pieces)) for told, pieces in found.values()]


def motion(node):
    """Where a node stands in the one that it is in, (4, 4)."""
    matrix = np.array(node.get("matrix", np.eye(4).reshape(-1))).reshape(4, 4).T
    if "translation" in node:
        matrix[:3, 3] = node["translation"]
    return matrix


def mesh_of(corners):
    """Triangles as a mesh whose corners at one place are one."""
    made = trimesh.Trimesh(corners.reshape(-1, 3), np.arange(len(corners) * 3).reshape(-1, 3), process=False)
    made.merge_vertices()
    return made


def volume(corners):
    """What triangles (m, 3, 3) enclose, by the divergence theorem about their middle."""
    moved = corners - corners.reshape(-1, 3).mean(axis=0)
    return float(np.einsum("ij,ij->", moved[:, 0], np.cross(moved[:, 1], moved[:, 2])) / 6)
