"""USD in a USDZ: metres, z up; a class for each definition, an instance for each use, a UsdPreviewSurface for each
finish. Parts stand under what they are of, with their role."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

import numpy as np

from ashfell.core.base.progress import steps
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.finish.texture import laid
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.surface import Surface, indexed
from ashfell.formats.archive import stored
from ashfell.formats.glb_materials import Textures, texture_jpeg
from ashfell.formats.model import Model

HEAD = """#usda 1.0
(
    defaultPrim = "Site"
    doc = {doc}
    metersPerUnit = 1
    upAxis = "Z"
)
"""


def write_usd(model: Model, textures: Textures = texture_jpeg) -> bytes:
    """A model as USDZ.

    Raises
    ------
    Refusal
        When a part has a finish that is not known.
    """
    known = model.finishes
    images = {key: textures(finish, "colour") for key, finish in known.items() if finish.texture}
    layer = "".join(_layer(model, known, images))
    return stored({"site.usda": layer.encode()} | {f"textures/{_word(key)}.jpg": one for key, one in images.items()})


def _layer(model: Model, known: dict[str, Finish], images: dict[str, bytes]) -> Iterable[str]:
    yield HEAD.format(doc=_text(model.name))
    for key, parts in steps(model.definitions.items(), "shapes written"):
        yield f'\nclass Xform "{_word(key)}"\n{{\n'
        yield from _meshes(parts, known)
        yield "}\n"
    yield f'\ndef Xform "Site" (\n    kind = "assembly"\n    displayName = {_text(model.name)}\n)\n{{\n'
    yield '    def Scope "Finishes"\n    {\n'
    for key, finish in known.items():
        yield _material(key, finish, key in images)
    yield "    }\n"
    names: set[str] = set()
    for one in steps(model.placed, "units written"):
        matrix = one.matrix.copy()
        matrix[:3, 3] /= 1000
        rows = ", ".join(f"({', '.join(_number(value) for value in row)})" for row in matrix.T)
        yield (
            f'    def "{_single(_word(one.name), names)}" (\n'
            f'        inherits = </{_word(one.definition)}>\n        instanceable = true\n        kind = "component"\n'
            f"        displayName = {_text(one.name)}\n    )\n    {{\n"
            f"        custom string ashfell:entry = {_text(one.entry)}\n"
            f"        matrix4d xformOp:transform = ({rows})\n"
            '        uniform token[] xformOpOrder = ["xformOp:transform"]\n    }\n'
        )
    yield "}\n"


def _meshes(parts: Sequence[Part], known: dict[str, Finish]) -> Iterable[str]:
    names: set[str] = set()
    all_parts = [*coated(parts)]
    for part, shown in zip(all_parts, indexed(all_parts), strict=True):
        if not len(shown.triangles):
            continue
        low, high = shown.positions.min(axis=0) / 1000, shown.positions.max(axis=0) / 1000
        yield (
            f'    def Mesh "{_single(_word(part.id), names)}" (\n        prepend apiSchemas = ["MaterialBindingAPI"]\n'
            f"        displayName = {_text(part.id)}\n    )\n    {{\n"
            f"        custom string ashfell:role = {_text(part.role)}\n"
            f"        float3[] extent = [{_tuples([low, high], 6)}]\n"
            f"        int[] faceVertexCounts = [{', '.join(['3'] * len(shown.triangles))}]\n"
            f"        int[] faceVertexIndices = [{', '.join(map(str, shown.triangles.ravel().tolist()))}]\n"
            f"        rel material:binding = </Site/Finishes/{_word(part.finish)}>\n"
            f"        normal3f[] normals = [{_tuples(shown.normals, 4)}] (\n"
            '            interpolation = "vertex"\n        )\n'
            f"        point3f[] points = [{_tuples(shown.positions / 1000, 6)}]\n"
            f"        texCoord2f[] primvars:st = [{_tuples(_tiles(known[part.finish], shown), 5)}] (\n"
            '            interpolation = "vertex"\n        )\n'
            '        uniform token subdivisionScheme = "none"\n    }\n'
        )


def _tiles(finish: Finish, shown: Surface) -> Floats:
    if finish.texture is None:
        return shown.texture
    matrix = laid(finish.texture)
    return np.asarray(shown.texture @ matrix[:, :2].T + matrix[:, 2])


def _material(key: str, finish: Finish, textured: bool) -> str:
    path = f"/Site/Finishes/{_word(key)}"
    colour = (
        f"color3f inputs:diffuseColor.connect = <{path}/Colour.outputs:rgb>"
        if textured
        else f"color3f inputs:diffuseColor = {_tuples([np.array(finish.linear)], 5)}"
    )
    opacity = 1 - 0.85 * finish.transmission
    surface = [
        'uniform token info:id = "UsdPreviewSurface"',
        colour,
        f"float inputs:roughness = {finish.roughness:g}",
        f"float inputs:metallic = {finish.metallic:g}",
        f"float inputs:clearcoat = {finish.varnish:g}",
        f"float inputs:opacity = {opacity:g}",
        f"float inputs:ior = {finish.ior if finish.transmits else 1.5:g}",
        "token outputs:surface",
    ]
    shaders = [("Surface", surface)]
    if textured:
        shaders += [
            (
                "Colour",
                [
                    'uniform token info:id = "UsdUVTexture"',
                    f"asset inputs:file = @textures/{_word(key)}.jpg@",
                    'token inputs:sourceColorSpace = "sRGB"',
                    f"float2 inputs:st.connect = <{path}/Places.outputs:result>",
                    'token inputs:wrapS = "repeat"',
                    'token inputs:wrapT = "repeat"',
                    "float3 outputs:rgb",
                ],
            ),
            (
                "Places",
                [
                    'uniform token info:id = "UsdPrimvarReader_float2"',
                    'string inputs:varname = "st"',
                    "float2 outputs:result",
                ],
            ),
        ]
    inner = "".join(
        f'            def Shader "{name}"\n            {{\n'
        + "".join(f"                {line}\n" for line in lines)
        + "            }\n"
        for name, lines in shaders
    )
    return (
        f'        def Material "{_word(key)}" (\n            displayName = {_text(finish.name)}\n        )\n'
        f"        {{\n"
        f"            token outputs:surface.connect = <{path}/Surface.outputs:surface>\n{inner}        }}\n"
    )


def _word(name: str) -> str:
    """A name as USD takes it: letters, digits and underscores."""
    word = re.sub(r"[^A-Za-z0-9]+", "_", name)
    return word if re.match(r"[A-Za-z_]", word) else f"_{word}"


def _single(word: str, taken: set[str]) -> str:
    """A word that is not taken yet; it is, then."""
    found, number = word, 1
    while found in taken:
        number += 1
        found = f"{word}_{number}"
    taken.add(found)
    return found


def _text(words: str) -> str:
    return '"' + re.sub(r"[\x00-\x1f]", " ", words).replace("\\", "\\\\").replace('"', '\\"') + '"'


def _number(value: float) -> str:
    return f"{round(float(value), 9) + 0.0:.12g}"


def _tuples(values: Floats | Sequence[Floats], digits: int) -> str:
    held = np.round(np.asarray(values, dtype=float), digits) + 0.0
    if not len(held):
        return ""
    one = f"({', '.join(['%.7g'] * held.shape[1])})"
    return ", ".join([one] * len(held)) % tuple(held.ravel().tolist())
