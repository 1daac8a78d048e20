"""STL: triangles alone, binary, millimetres, z up; every part a closed solid of its own."""

from __future__ import annotations

import re
from collections.abc import Iterable

import numpy as np

from ashfell.core.parts import Part
from ashfell.formats.archive import packed
from ashfell.formats.model import Model

FACET = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("more", "<u2")])
HEAD = b"mm, z up".ljust(80, b" ")


def write_stl(model: Model, scale: float = 1.0) -> bytes:
    """All of a model in one STL, ``scale`` times as large: 0.02 is 1:50, as for a print."""
    return _facets(model.parts(), scale)


def write_stl_parts(model: Model, scale: float = 1.0) -> bytes:
    """A ZIP with an STL of each part by itself, in folders by what they are of."""
    files: dict[str, bytes] = {}
    for part in model.parts():
        of, _, own = part.id.partition("/")
        files[f"{_safe(of)}/{_safe(own)}.stl"] = _facets([part], scale)
    return packed(files)


def _safe(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9._-]+", "_", name)


def _facets(parts: Iterable[Part], scale: float) -> bytes:
    corners, normals = [np.zeros((0, 3, 3))], [np.zeros((0, 3))]
    for part in parts:
        corners.append(part.solid.vertices[part.solid.triangles])
        normals.append(part.solid.normals)
    held = np.zeros(sum(len(one) for one in corners), dtype=FACET)
    held["corners"] = np.concatenate(corners) * scale
    held["normal"] = np.concatenate(normals)
    return HEAD + len(held).to_bytes(4, "little") + held.tobytes()
