"""OBJ with MTL and its textures, in one ZIP: metres, y up, grouped by unit and role, a material for each finish."""

from __future__ import annotations

import re

import numpy as np

from ashfell.core.base.progress import steps
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.finish.texture import laid
from ashfell.core.plane.points import Floats
from ashfell.core.surface import indexed
from ashfell.formats.archive import packed
from ashfell.formats.glb_materials import Textures, texture_jpeg
from ashfell.formats.model import Model

Y_UP = np.array([[1.0, 0, 0], [0, 0, 1], [0, -1, 0]])
"""From z up to y up."""


def write_obj(model: Model, textures: Textures = texture_jpeg) -> bytes:
    """A model with its materials: ``o`` is a unit, a wall or a plate, ``g`` its parts of one role.

    Raises
    ------
    Refusal
        When a part has a finish that is not known.
    """
    known, name = model.finishes, _safe(model.name) or "model"
    text = [f"# {model.name}: metres, y up\nmtllib {name}.mtl\n"]
    first = 1
    for one in steps(model.placed, "units written"):
        text.append(f"o {_safe(one.name)}\n")
        turn, shift = one.matrix[:3, :3], one.matrix[:3, 3]
        group = ""
        for part in sorted(coated(model.definitions[one.definition]), key=lambda part: (part.role, part.finish)):
            shown = indexed(part)
            positions = (shown.positions @ turn.T + shift) / 1000 @ Y_UP.T
            normals = shown.normals @ turn.T @ Y_UP.T
            now = f"g {_safe(one.name)}_{part.role}\nusemtl {part.finish}\n"
            text += [] if now == group else [now]
            group = now
            text += [
                _rows("v", positions, 6),
                _rows("vt", _tiles(known[part.finish], shown.texture), 5),
                _rows("vn", normals, 4),
            ]
            triangles = shown.triangles if np.linalg.det(turn) > 0 else shown.triangles[:, ::-1]
            corners = (triangles + first).repeat(3, axis=1)
            text.append(("f %d/%d/%d %d/%d/%d %d/%d/%d\n" * len(corners)) % tuple(corners.ravel().tolist()))
            first += len(positions)
    files = {f"{name}.obj": "".join(text).encode()}
    images = {key: textures(finish, "colour") for key, finish in known.items() if finish.texture}
    files[f"{name}.mtl"] = "".join(_material(key, finish, key in images) for key, finish in known.items()).encode()
    return packed(files | {f"textures/{key}.jpg": content for key, content in images.items()})


def _rows(word: str, values: Floats, digits: int) -> str:
    """Lines of numbers; minus nought is nought."""
    held = np.round(values, digits) + 0.0
    line = f"{word}{' %.9g' * held.shape[1]}\n"
    return line * len(held) % tuple(held.ravel().tolist())


def _tiles(finish: Finish, places: Floats) -> Floats:
    """Places in metres as places in the finish's tile."""
    if finish.texture is None:
        return places
    matrix = laid(finish.texture)
    return np.asarray(places @ matrix[:, :2].T + matrix[:, 2])


def _material(key: str, finish: Finish, textured: bool) -> str:
    """A material by the words of MTL and those in common use for physically based ones."""
    shown = (1.0, 1.0, 1.0) if textured else finish.linear
    lines = [
        f"newmtl {key}",
        "Kd {:.5g} {:.5g} {:.5g}".format(*shown),
        f"Ns {max(1.0, 2 / max(finish.roughness, 0.03) ** 4 - 2):.5g}",
        f"Pr {finish.roughness:.5g}",
        f"Pm {finish.metallic:.5g}",
        f"Ni {finish.ior if finish.transmits else 1.45:.5g}",
        f"d {1 - 0.85 * finish.transmission:.5g}",
        f"illum {7 if finish.transmits else 2}",
    ]
    if finish.varnish:
        lines.append(f"Pc {finish.varnish:.5g}")
    if textured:
        lines.append(f"map_Kd textures/{key}.jpg")
    return "\n".join(lines) + "\n\n"


def _safe(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9._-]+", "_", name).strip("_")
