"""Models that were made elsewhere, in glTF 2.0 (text or binary) and OBJ: what stands round the building.

Run as a module it reads a file on its standard input and writes what it understood as JSON.
"""

from __future__ import annotations

import io
import json
import sys
from base64 import b64encode
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from hashlib import sha256
from itertools import combinations
from typing import Any

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from ashfell.core.base.document import Data, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.document import BRIGHTEST, rgb, to_linear, to_srgb
from ashfell.core.plane.points import Floats
from ashfell.core.solid.meshes import MOST_PIECES, MOST_TRIANGLES, MeshPiece, packed
from ashfell.core.solid.topology import Indices, Solid, Topology
from ashfell.services.reading.options import MeshOptions
from ashfell.services.reading.understood import Understood

TO_MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
SMALLEST, HIGHEST = 1.0, 1e7
"""How large a model is from end to end, mm."""
USUAL = 500.0, 500_000.0
"""Where a file does not say its unit, it is the first with which its model is so large, mm."""
FAR_OUT = 1e6
"""A model that stands further from the origin than this is put there, mm."""
FLAT_UP_TO = 100_000
"""Of models of more triangles than this, triangles in one plane are not made one face."""
IN_PLANE = 0.02
"""How far a corner may be off the plane that it is in, mm."""
ALIKE = 0.999995
"""The cosine of the angle by which normals in one plane may differ."""
THIN = 0.02
"""A triangle that is thinner than this is a splinter, mm."""
PLAIN = (0.78, 0.76, 0.73, 1.0)
"""The colour of what has none, sRGB."""
CLEAR = 0.5
"""What is more transparent than this is glass."""


@dataclass
class Gathered:
    """The triangles of one finish, and what was left out on the way."""

    finish: Data
    points: list[Floats] = field(default_factory=list)
    triangles: list[Indices] = field(default_factory=list)


def read_here(content: bytes, options: MeshOptions) -> Understood:
    """What is understood of a file.

    Raises
    ------
    Refusal
        When it is none, or has more in it than is read.
    """
    kind = _kind(content)
    _check_count(content, kind)
    scene = _loaded(content, kind)
    noted: list[str] = []
    gathered = _gathered(scene, kind, noted)
    unit, up = options.unit or _usual_unit(gathered, kind, noted), options.up or "y"
    turned = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]]) if up == "y" else np.eye(3)
    for one in gathered.values():
        one.points = [points @ (turned * TO_MM[unit]).T for points in one.points]
    place = _stood(list(gathered.values()), unit, noted)
    pieces = [_piece(key, one) for key, one in gathered.items()]
    mesh = packed(pieces)
    key = sha256(mesh).hexdigest()
    own = {"id": "model", "name": "Model", "kind": "model", "mesh": key, **place}
    finishes = {name: one.finish for name, one in gathered.items()}
    count = sum(len(piece.solid.triangles) for piece in pieces)
    noted.insert(0, "{width} mm wide, {depth} deep, {height} high.".format(**place))
    noted.insert(1, f"{count} triangles in {len(pieces)} finish{'es' if len(pieces) > 1 else ''}, read in {unit}.")
    return Understood({"surroundings": [own], "finishes": finishes}, noted=noted, unit=unit, images={key: _text(mesh)})


def _text(content: bytes) -> str:
    return b64encode(content).decode()


def _kind(content: bytes) -> str:
    if content.startswith(b"glTF"):
        return "glb"
    start = content.lstrip(b"\xef\xbb\xbf \t\r\n")
    return "gltf" if start.startswith(b"{") else "obj"


def _check_count(content: bytes, kind: str) -> None:
    """Refuse an OBJ with more faces than are read before any is."""
    count = content.count(b"\nf ") if kind == "obj" else 0
    if count > MOST_TRIANGLES:
        raise _too_many(count)


def _too_many(count: int) -> Refusal:
    return Refusal(
        "file",
        f"at most {MOST_TRIANGLES} triangles",
        f"The model has {count} triangles; at most {MOST_TRIANGLES} are read.",
        "Make it lighter where it was modelled, or export less of it.",
    )


def _loaded(content: bytes, kind: str) -> Any:
    import trimesh

    try:
        return trimesh.load_scene(io.BytesIO(content), file_type=kind, process=False)
    except MemoryError:
        raise
    except Exception as error:  # whatever its readers meet, the file is none
        raise _unreadable(kind) from error


def _unreadable(kind: str) -> Refusal:
    return Refusal(
        "file",
        "a model that can be read",
        f"The file is no {'OBJ' if kind == 'obj' else 'glTF'} that can be read.",
        "Export it again, with everything in one file.",
    )


def _gathered(scene: Any, kind: str, noted: list[str]) -> dict[str, Gathered]:
    """The triangles of a file by the finish that they have, in its own space and unit."""
    import trimesh

    found: dict[str, Gathered] = {}
    count = others = pictured = 0
    for name in scene.graph.nodes_geometry:
        matrix, of = scene.graph[name]
        geometry = scene.geometry[of]
        if not isinstance(geometry, trimesh.Trimesh):
            others += 1
            continue
        count += len(geometry.faces)
        if count > MOST_TRIANGLES:
            raise _too_many(count)
        finish, has_image = _finish(geometry.visual)
        pictured += has_image
        points = np.asarray(geometry.vertices, dtype=float) @ matrix[:3, :3].T + matrix[:3, 3]
        triangles = np.asarray(geometry.faces, dtype=np.int32)
        if triangles.size and (triangles.min() < 0 or triangles.max() >= len(points)):
            raise _unreadable(kind)
        if np.linalg.det(matrix[:3, :3]) < 0:
            triangles = triangles[:, ::-1]
        own = found.setdefault(_key_of(finish), Gathered(finish))
        own.points.append(points)
        own.triangles.append(triangles)
    if not count or not all(np.isfinite(points).all() for one in found.values() for points in one.points):
        raise Refusal("file", "a model with surfaces", "There is no surface in the file.", "Export its surfaces, too.")
    if others:
        noted.append(f"{others} of its things are lines or points, which are left out.")
    if pictured:
        noted.append(f"{pictured} of its things show an image; they have its mean colour.")
    if len(found) > MOST_PIECES:
        noted.append(f"Its {len(found)} colours are made {MOST_PIECES} or fewer.")
        found = _fewer(found)
    return found


def _key_of(finish: Data) -> str:
    return f"model-{finish['kind']}-{finish['colour'][1:]}-{round(100 * finish['roughness'])}"


def _finish(visual: Any) -> tuple[Data, bool]:
    """The finish of a surface that comes nearest to how a file says that it looks, and whether that shows an image."""
    material = getattr(visual, "material", None)
    if not getattr(visual, "defined", True):
        return _made(np.array(PLAIN), 0.8, 0.0), False
    if material is None:
        colour = np.asarray(getattr(visual, "main_color", (200, 200, 200, 255)), dtype=float) / 255
        return _made(colour, 0.6, 0.0), False
    if hasattr(material, "baseColorFactor"):
        given = material.baseColorFactor
        # In glTF colours are linear.
        factor = np.ones(4) if given is None else np.asarray(given, dtype=float) / 255
        colour = np.append([to_srgb(value) for value in factor[:3]], factor[3])
        image = material.baseColorTexture
        rough = 1.0 if material.roughnessFactor is None else float(material.roughnessFactor)
        metal = 1.0 if material.metallicFactor is None else float(material.metallicFactor)
        metal = 0.0 if material.metallicFactor is None and image is not None else metal
    else:
        colour = np.asarray(material.main_color, dtype=float) / 255
        image, rough, metal = getattr(material, "image", None), 0.6, 0.0
    if image is not None:
        mean = np.asarray(image.convert("RGB").resize((16, 16)), dtype=float).reshape(-1, 3).mean(axis=0) / 255
        colour = np.append(colour[:3] * mean, colour[3])
    return _made(colour, rough, metal), image is not None


def _made(colour: Floats, rough: float, metal: float) -> Data:
    """A finish of a colour (r, g, b, opacity), sRGB from 0 to 1, no brighter than what is built."""
    kind = "glass" if colour[3] < CLEAR else "metal" if metal > 0.5 else "paint"
    told = "#" + "".join(f"{round(255 * float(np.clip(value, 0, 1))):02x}" for value in colour[:3])
    linear = np.array([to_linear(value / 255) for value in rgb(told)])
    luminance = float(linear @ (0.2126, 0.7152, 0.0722))
    if kind == "paint" and luminance > BRIGHTEST:
        linear *= BRIGHTEST / luminance
        told = "#" + "".join(f"{int(255 * to_srgb(value)):02x}" for value in linear)
    own: Data = {"name": f"Model, {told}", "kind": kind, "colour": told}
    if kind == "glass":
        return own | {"roughness": 0.0, "transmission": 1.0}
    return own | {"roughness": round(min(max(rough, 0.05), 1.0), 2), "metallic": 1.0 if kind == "metal" else 0.0}


def _fewer(found: dict[str, Gathered]) -> dict[str, Gathered]:
    """The finishes made fewer: colours that are near each other one."""
    for step in (16, 32, 64, 128):
        made: dict[str, Gathered] = {}
        for one in found.values():
            near = [min(255, round(value / step) * step) for value in rgb(one.finish["colour"])]
            colour = "#" + "".join(f"{value:02x}" for value in near)
            finish = one.finish | {"colour": colour, "name": f"Model, {colour}"}
            if finish["kind"] != "glass":
                finish["roughness"] = 0.6
            own = made.setdefault(_key_of(finish), Gathered(finish))
            own.points += one.points
            own.triangles += one.triangles
        if len(made) <= MOST_PIECES:
            return made
    return made


def _usual_unit(gathered: dict[str, Gathered], kind: str, noted: list[str]) -> str:
    """The unit of a file that says none: of glTF metres, else the first with which the model has a usual size."""
    if kind != "obj":
        return "m"
    long = _long(_bounds(gathered.values()))
    found = next((unit for unit in ("m", "mm", "cm", "in", "ft") if USUAL[0] <= long * TO_MM[unit] <= USUAL[1]), "m")
    noted.append(f"The file does not say its unit; it is read in {found}.")
    return found


def _bounds(pieces: Iterable[Gathered]) -> Floats:
    points = [points for one in pieces for points in one.points if len(points)]
    return np.array([np.min([p.min(axis=0) for p in points], axis=0), np.max([p.max(axis=0) for p in points], axis=0)])


def _long(bounds: Floats) -> float:
    return float((bounds[1] - bounds[0]).max())


def _stood(pieces: Sequence[Gathered], unit: str, noted: list[str]) -> Data:
    """The pieces moved so that their middle is at the origin and their foot at 0; where they were, as the place of what
    they become."""
    bounds = _bounds(pieces)
    long, size = _long(bounds), bounds[1] - bounds[0]
    if not SMALLEST <= long <= HIGHEST or size[2] < SMALLEST:
        raise Refusal(
            "unit",
            "a model of a sensible size",
            f"Read in {unit} the model is {size[0]:.4g} by {size[1]:.4g} and {size[2]:.4g} mm high.",
            "Choose another unit, or another axis that is up.",
        )
    x, y = (round(float(value), 1) for value in (bounds[0] + bounds[1])[:2] / 2)
    level = round(float(bounds[0, 2]), 1)
    for one in pieces:
        one.points = [points - (x, y, level) for points in one.points]
    if max(abs(x), abs(y), abs(level)) > FAR_OUT:
        noted.append(f"It stands at {x / 1000:.1f}, {y / 1000:.1f} m in its file; it is put at 0.")
        x = y = level = 0.0
    sizes = dict(zip(("width", "depth", "height"), (f"{value:.1f}" for value in size), strict=True))
    sizes = {name: told if float(told) >= SMALLEST else "1" for name, told in sizes.items()}
    return {"x": f"{x:.1f}", "y": f"{y:.1f}", "level": f"{level:.1f}", **sizes}


def _piece(key: str, one: Gathered) -> MeshPiece:
    """The triangles of a finish as one solid: equal points made one, triangles side by side in one plane made one
    face."""
    import trimesh

    firsts = np.cumsum([0, *(len(points) for points in one.points)])
    triangles = np.concatenate([own + first for own, first in zip(one.triangles, firsts, strict=False)])
    mesh = trimesh.Trimesh(np.concatenate(one.points), triangles, process=False)
    mesh.merge_vertices(merge_tex=True, merge_norm=True, digits_vertex=3)
    corners = np.sort(mesh.faces, axis=1)
    sound = (corners[:, 1:] != corners[:, :-1]).all(axis=1) & mesh.unique_faces()
    mesh.update_faces(sound if sound.any() else np.ones(len(mesh.faces), dtype=bool))
    mesh.remove_unreferenced_vertices()
    topology = Topology(np.asarray(mesh.faces, dtype=np.int32), _in_one_plane(mesh))
    return MeshPiece(one.finish["name"], key, Solid(np.asarray(mesh.vertices, dtype=float), topology))


def _in_one_plane(mesh: Any) -> Indices:
    """For each triangle the number of the face that it is of. Triangles side by side are of one face where they are in
    one plane; splinters, which have none, lie between such triangles and are of the face of one of them."""
    count, pairs = len(mesh.faces), mesh.face_adjacency
    if count > FLAT_UP_TO or not len(pairs):
        return np.arange(count, dtype=np.int32)
    a, b, c = (mesh.vertices[mesh.faces[:, k]] for k in range(3))
    turned = np.cross(b - a, c - a)
    twice = np.linalg.norm(turned, axis=1)
    long = np.max([np.linalg.norm(edge, axis=1) for edge in (b - a, c - b, a - c)], axis=0)
    splinter = twice < THIN * long
    normals = turned / np.where(twice > 0, twice, 1)[:, None]
    # Two that a splinter lies between are side by side, too.
    beside: dict[int, list[int]] = defaultdict(list)
    for one, other in pairs[splinter[pairs].any(axis=1)].tolist():
        for thin, next_to in ((one, other), (other, one)):
            if splinter[thin] and not splinter[next_to]:
                beside[thin].append(next_to)
    between = [(thin, pair) for thin, near in beside.items() for pair in combinations(near, 2)]
    across = [pair for _, pair in between]
    whole = np.concatenate([pairs[~splinter[pairs].any(axis=1)], np.array(across, dtype=int).reshape(-1, 2)])
    one, other = whole.T
    off = np.abs(((mesh.vertices[mesh.faces[other]] - a[one][:, None]) * normals[one][:, None]).sum(axis=2)).max(axis=1)
    alike = (normals[one] * normals[other]).sum(axis=1) > ALIKE
    flat = alike & (off < IN_PLANE)
    held = {thin: near[0] for thin, near in beside.items()}
    held |= {
        thin: pair[0]
        for (thin, pair), in_plane in zip(between, flat[len(whole) - len(across) :], strict=True)
        if in_plane
    }
    joined = np.concatenate([whole[flat], np.array(list(held.items()), dtype=int).reshape(-1, 2)])
    graph = coo_array((np.ones(len(joined)), joined.T), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1], dtype=np.int32)


def main(arguments: Iterable[str] = sys.argv[1:]) -> int:
    """Read a file on standard input, write what was understood."""

    def make() -> Understood:
        options = read(MeshOptions, json.loads(next(iter(arguments), "{}")))
        return read_here(sys.stdin.buffer.read(), options)

    return Understood.tell(make)


if __name__ == "__main__":
    sys.exit(main())
