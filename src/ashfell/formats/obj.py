"""OBJ with MTL and its textures, in one ZIP: metres, y up, grouped by unit and role, a material for each finish."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

import numpy as np

from ashfell.core.base.progress import steps
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.finish.texture import laid
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.surface import Surface, indexed
from ashfell.formats.archive import packed
from ashfell.formats.glb_materials import Textures, texture_jpeg
from ashfell.formats.model import Model

Y_UP = np.array([[1.0, 0, 0], [0, 0, 1], [0, -1, 0]])
"""From z up to y up."""
MOST_TRIANGLES = 5_000_000


def write_obj(model: Model, textures: Textures = texture_jpeg) -> bytes:
    """A model with its materials: ``o`` is a unit, a wall or a plate, ``g`` its parts of one role.

    Raises
    ------
    Refusal
        When a part has a finish that is not known, or there is too much of it.
    """
    known, name = model.finishes, _safe(model.name) or "model"
    text = [f"# {model.name}: metres, y up\nmtllib {name}.mtl\n"]
    first, made = 1, {key: _made(parts, known) for key, parts in model.definitions.items()}
    _refuse_more(sum(len(shown.triangles) for one in model.placed for _, _, shown, _ in made[one.definition]))
    for one in steps(model.placed, "units written"):
        text.append(f"o {_safe(one.name)}\n")
        turn, shift = one.matrix[:3, :3], one.matrix[:3, 3]
        group = ""
        for role, finish, shown, places in made[one.definition]:
            positions = (shown.positions @ turn.T + shift) / 1000 @ Y_UP.T
            normals = shown.normals @ turn.T @ Y_UP.T
            now = f"g {_safe(one.name)}_{role}\nusemtl {finish}\n"
            text += [] if now == group else [now]
            group = now
            text += [_rows("v", positions, 6), places, _rows("vn", normals, 4)]
            triangles = shown.triangles if np.linalg.det(turn) > 0 else shown.triangles[:, ::-1]
            corners = (triangles + first).repeat(3, axis=1)
            text.append(("f %d/%d/%d %d/%d/%d %d/%d/%d\n" * len(corners)) % tuple(corners.ravel().tolist()))
            first += len(positions)
    files = {f"{name}.obj": "".join(text).encode()}
    images = {key: textures(finish, "colour") for key, finish in known.items() if finish.texture}
    files[f"{name}.mtl"] = "".join(_material(key, finish, key in images) for key, finish in known.items()).encode()
    return packed(files | {f"textures/{key}.jpg": content for key, content in images.items()})


def _made(parts: Sequence[Part], known: Mapping[str, Finish]) -> list[tuple[str, str, Surface, str]]:
    """The parts of a definition, which are written once for each place that it has: role, finish, surface, and its
    places in a texture as they are written."""
    found = []
    in_order = sorted(coated(parts), key=lambda part: (part.role, part.finish))
    for part, shown in zip(in_order, indexed(in_order), strict=True):
        found.append((part.role, part.finish, shown, _rows("vt", _tiles(known[part.finish], shown.texture), 5)))
    return found


def _refuse_more(triangles: int) -> None:
    if triangles > MOST_TRIANGLES:
        raise Refusal(
            "format",
            f"at most {MOST_TRIANGLES:,} triangles",
            f"OBJ holds each unit wherever it stands: {triangles:,} triangles; at most {MOST_TRIANGLES:,} are written.",
            "Hand over a storey, or GLB or USDZ, which hold each unit once.",
        )


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
