"""How light meets finishes, for the tracer: clear glass as the sheet it is, other glass as the solid, all else as a
body with its texture, its relief, varnish and sheen.

A relief has its true depth: at a slope of one in one the surface looks 45 degrees aside.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from io import BytesIO
from math import cos, radians, sin
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core.finish import LIBRARY, Finish, Texture
from ashfell.core.finish.document import to_linear, to_srgb
from ashfell.core.finish.texture import VERSION, albedo, detail, laid, normals, roughness
from ashfell.formats import shelf

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

Plugin = dict[str, Any]
Pixels = NDArray[Any]
SHIP = frozenset(LIBRARY.values())
SMOOTHEST = 0.03
"""The least roughness of a body: a smaller one makes noise without a difference that is seen."""
GLOSS, VARNISHED, CLOTHED = 0.07, 0.03, 0.02
"""How much the gloss of a body, its varnish and its sheen give back at most, beside its colour."""


def bsdf(finish: Finish, span: float = 1.0, thick: float = 0.0) -> Plugin:
    """How a finish scatters light; ``span`` is what the surface's texture coordinates from 0 to 1 stand for, m,
    ``thick`` how thick a pane of it is, mm."""
    if finish.transmits:
        return _pane(finish, span, thick)
    return {"type": "twosided", "inner": _in_relief(finish, span, _body(finish, span))}


def _pane(finish: Finish, span: float, thick: float) -> Plugin:
    tint = finish.through(thick) if thick else finish.linear
    if finish.is_sheet:
        return {"type": "thindielectric", "int_ior": finish.ior, "specular_transmittance": _rgb(tint)}
    # A solid is entered and left: each of its surfaces lets half of the tint through.
    half = {"int_ior": finish.ior, "specular_transmittance": _rgb(tuple(value**0.5 for value in tint))}
    if finish.roughness:
        alpha = max(0.001, finish.roughness**2)
        return _in_relief(finish, span, {"type": "roughdielectric", "distribution": "ggx", "alpha": alpha} | half)
    return _in_relief(finish, span, {"type": "dielectric"} | half)


def _body(finish: Finish, span: float) -> Plugin:
    rough = roughness(finish)
    found: Plugin = {
        "type": "principled",
        "base_color": colour(finish, span),
        "roughness": max(SMOOTHEST, finish.roughness),
        "metallic": finish.metallic,
    }
    if rough is not None and finish.texture:
        held = np.maximum(rough, SMOOTHEST).astype(np.float32)[..., None]
        found["roughness"] = bitmap(held, finish.texture, span, raw=True)
    if finish.varnish:
        found |= {"clearcoat": finish.varnish, "clearcoat_gloss": 0.95}
    if finish.sheen:
        found |= {"sheen": finish.sheen, "sheen_tint": 0.5}
    return found


def _in_relief(finish: Finish, span: float, inner: Plugin) -> Plugin:
    """What has a relief looks as its normals do. (A bump map would say the same; the tracer's makes bodies that are no
    numbers where they are seen at a slant.)"""
    texture, held = finish.texture, _kept(finish, "relief", partial(_ways, finish))
    if texture is None or not held.size:
        return inner
    return {"type": "normalmap", "normalmap": bitmap(held, texture, span, raw=True), "bsdf": inner}


def _ways(finish: Finish) -> NDArray[np.float32]:
    """The normals of a finish as the tracer takes them; none where it is flat."""
    texture, ways = finish.texture, normals(finish, detail(finish))
    if texture is None or ways is None:
        return np.zeros((0, 0, 3), np.float32)
    turn = radians(texture.turn)
    x, y = ways[..., 0] * cos(turn) - ways[..., 1] * sin(turn), ways[..., 0] * sin(turn) + ways[..., 1] * cos(turn)
    return ((np.stack([x, y, ways[..., 2]], axis=-1) + 1) / 2).astype(np.float32)


def colour(finish: Finish, span: float) -> Plugin:
    """The colour of a body, from its texture where it has one."""
    most = _most(finish)
    if finish.texture is None:
        return _rgb(tuple(min(value, most) for value in finish.linear))
    size, brightest = max(1024, detail(finish)), round(to_srgb(most) * 255)
    pixels = _kept(finish, "colour", lambda: np.minimum(albedo(finish, size), brightest).astype(np.uint8))
    return bitmap(pixels, finish.texture, span)


def _kept(finish: Finish, of: str, make: Callable[[], Pixels]) -> Pixels:
    """An image made of a finish; those of the finishes that ship are made once and kept between runs."""
    if finish not in SHIP or finish.texture is None or finish.texture.pattern == "image":
        return make()
    name = f"{VERSION} {of} for the tracer {finish.model_dump_json()}"
    try:
        return np.asarray(np.load(BytesIO(shelf.kept(name, "npy", lambda: _as_bytes(make())))))
    except ValueError:  # what was kept is no image
        return make()


def _as_bytes(pixels: Pixels) -> bytes:
    content = BytesIO()
    np.save(content, pixels)
    return content.getvalue()


def reflected(finish: Finish, places: NDArray[Any]) -> NDArray[np.float32]:
    """The colour of a body where its texture coordinates are ``places`` (n, 2) m, linear, (n, 3)."""
    most = _most(finish)
    if finish.texture is None:
        return np.tile(np.minimum(finish.linear, most).astype(np.float32), (len(places), 1))
    pixels = albedo(finish, GUIDED)
    matrix = laid(finish.texture)
    u, v = (np.column_stack([places, np.ones(len(places))]) @ matrix.T).T
    rows, columns = (((1 - v) % 1) * len(pixels)).astype(int), ((u % 1) * pixels.shape[1]).astype(int)
    seen = pixels[rows.clip(0, len(pixels) - 1), columns.clip(0, pixels.shape[1] - 1)]
    return np.asarray(np.minimum(LINEAR[seen], most), dtype=np.float32)


LINEAR = np.array([to_linear(byte / 255) for byte in range(256)], dtype=np.float32)
"""Bytes as sRGB has them, as they add up."""
GUIDED = 256
"""How many pixels of a texture are enough for a guide."""


def _most(finish: Finish) -> float:
    """The most that the body of a finish may reflect: with the gloss over it no more comes back than comes in."""
    if finish.transmits:
        return 1.0
    gloss = GLOSS + VARNISHED * finish.varnish + CLOTHED * finish.sheen
    return 1.0 - (1.0 - finish.metallic) * gloss


def bitmap(pixels: NDArray[Any], texture: Texture, span: float, raw: bool = False) -> Plugin:
    """An image of one tile, laid as its texture says; ``raw`` are numbers, not colours."""
    return {
        "type": "bitmap",
        "bitmap": mi.Bitmap(np.ascontiguousarray(pixels[::-1])),
        "raw": raw,
        "wrap_mode": "repeat",
        "to_uv": _to_uv(texture, span),
    }


def _to_uv(texture: Texture, span: float) -> Any:
    matrix = laid(texture)
    whole = np.eye(4)
    whole[:2, :2] = matrix[:, :2] * span
    whole[:2, 3] = matrix[:, 2]
    return mi.ScalarTransform4f(whole.tolist())


def _rgb(values: tuple[float, ...]) -> Plugin:
    return {"type": "rgb", "value": [float(value) for value in values]}
