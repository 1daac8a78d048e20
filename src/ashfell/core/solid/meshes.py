"""Meshes that were modelled elsewhere, by the SHA-256 of their bytes. They need not be closed, and nothing is asked of
them."""

from __future__ import annotations

import json
import zlib
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ashfell.core.base.document import Data
from ashfell.core.base.held import Held
from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Solid, Topology

FORMAT = "ashfell/mesh/1"
MOST_TRIANGLES = 300_000
"""The most triangles of a mesh."""
MOST_PIECES = 64
LARGEST = 32 * 2**20
"""The most bytes of its vertices and triangles."""


@dataclass(frozen=True, eq=False)
class MeshPiece:
    """What of a mesh has one finish: its name, the key of that finish, and its solid, mm."""

    name: str
    finish: str
    solid: Solid


@dataclass(frozen=True, eq=False)
class Mesh:
    """A mesh, its middle at the origin and its foot at w = 0, mm."""

    pieces: tuple[MeshPiece, ...]

    @property
    def size(self) -> Floats:
        """How wide, deep and high it is, (3,) mm."""
        low = np.min([piece.solid.bounds[0] for piece in self.pieces], axis=0)
        high = np.max([piece.solid.bounds[1] for piece in self.pieces], axis=0)
        return np.asarray(high - low)


def packed(pieces: Sequence[MeshPiece]) -> bytes:
    """A mesh as bytes: a line of JSON, then for each piece its vertices as float32 (n, 3), and its triangles and their
    faces as int32 (m, 4); compressed."""
    told = [
        {
            "name": one.name,
            "finish": one.finish,
            "vertices": len(one.solid.vertices),
            "triangles": len(one.solid.triangles),
        }
        for one in pieces
    ]
    head = json.dumps({"format": FORMAT, "pieces": told}, ensure_ascii=False).encode() + b"\n"
    arrays = [
        array
        for one in pieces
        for array in (
            one.solid.vertices.astype("<f4"),
            np.column_stack([one.solid.triangles, one.solid.topology.face_of_triangle]).astype("<i4"),
        )
    ]
    return zlib.compress(head + b"".join(array.tobytes() for array in arrays))


def unpacked(content: bytes) -> Mesh:
    """A mesh from its bytes.

    Raises
    ------
    Refusal
        When they are none.
    """
    try:
        unzip = zlib.decompressobj()
        whole = unzip.decompress(content, LARGEST)
        if unzip.unconsumed_tail:
            raise ValueError("larger than a mesh may be")
        head, _, rest = whole.partition(b"\n")
        told = json.loads(head)
        if told["format"] != FORMAT or not 0 < len(told["pieces"]) <= MOST_PIECES:
            raise ValueError("no mesh of this format")
        found, at = [], 0
        for one in told["pieces"]:
            piece, at = _piece(one, rest, at)
            found.append(piece)
        if at != len(rest):
            raise ValueError("more bytes than it tells of")
    except (zlib.error, ValueError, KeyError, TypeError, RecursionError) as error:
        told_as = "The model is not as it was kept."
        raise Refusal("mesh", "a model that can be read", told_as, "Take its file in again.") from error
    return Mesh(tuple(found))


def _piece(told: Data, rest: bytes, at: int) -> tuple[MeshPiece, int]:
    vertices, triangles = int(told["vertices"]), int(told["triangles"])
    if not (0 < vertices <= 3 * MOST_TRIANGLES and 0 < triangles <= MOST_TRIANGLES):
        raise ValueError("more than a mesh may have")
    points = np.frombuffer(rest, "<f4", 3 * vertices, at).reshape(-1, 3).astype(float)
    at += 12 * vertices
    rows = np.frombuffer(rest, "<i4", 4 * triangles, at).reshape(-1, 4)
    at += 16 * triangles
    if not np.isfinite(points).all() or rows.min() < 0 or rows[:, :3].max() >= vertices or rows[:, 3].max() > triangles:
        raise ValueError("indices that are not there")
    topology = Topology(np.ascontiguousarray(rows[:, :3], np.int32), np.ascontiguousarray(rows[:, 3], np.int32))
    return MeshPiece(str(told["name"])[:80], str(told["finish"])[:80], Solid(points, topology)), at


def _missing(key: str) -> Refusal:
    return Refusal("mesh", "a model that is kept", f"The model {key[:12]}… is not here.", "Take its file in again.")


mesh: Held[bytes, Mesh] = Held(unpacked, _missing)
"""The mesh of a key, from what offered itself with the bytes of it."""
