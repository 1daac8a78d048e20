"""A finish as it will look, path traced in a moment: on a ball, on a framed pane before stripes, and on a board square
on, with the true size of its tile.
"""

from __future__ import annotations

from functools import lru_cache
from math import pi
from threading import Lock
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.base.document import mm
from ashfell.core.finish import Finish
from ashfell.core.finish.texture import up_of
from ashfell.core.plane.points import Floats
from ashfell.core.unit import build, read_unit
from ashfell.pictures.develop import denoised, to_srgb
from ashfell.pictures.flat import Image
from ashfell.pictures.materials import Plugin, bsdf, colour
from ashfell.pictures.skins import mesh_of, meshes, shining_meshes, skins

STILL = (380, 240)
"""Width and height of the ball and the pane, pixels."""
BOARD = 240
"""Side of the board, pixels."""
TRACING = Lock()
"""One preview is traced at a time: it takes all processors."""
GUIDE_SAMPLES = 4
STILL_SAMPLES, STILL_DEPTH = 4, 6
BOARD_SAMPLES, BOARD_DEPTH = 3, 4
"""Of a board nothing is seen by way of another surface; a ball is seen through two panes."""
BALL = 0.1
"""Radius of the ball, m."""
PANE = {
    "width": "240",
    "height": "240",
    "frame": {"face": "48", "depth": "60"},
    "glazing": {"thickness": "6", "setback": "20", "cover": "8"},
}
MARGIN = 1.15
"""How much larger the board is than a tile."""
LEAST_BOARD = 0.2
"""The least side of the board, m."""


def size_of(finish: Finish) -> tuple[float, tuple[float, float] | None]:
    """The side of the board that a finish is shown on, and its tile, m."""
    if finish.texture is None:
        return LEAST_BOARD, None
    tile = finish.texture.across, up_of(finish.texture)
    return max(LEAST_BOARD, MARGIN * max(tile)), tile


@lru_cache(maxsize=64)
def preview(finish: Finish, shown: str) -> NDArray[np.uint8]:
    """A finish on a ball and a framed pane (``still``), or on a ``board`` square on: sRGB bytes (h, w, 3).

    Raises
    ------
    Refusal
        When an image of its texture is not here.
    """
    return _still(finish) if shown == "still" else _board(finish, size_of(finish)[0])


def _still(finish: Finish) -> NDArray[np.uint8]:
    frame = "slate-paint" if finish.transmits else "own"
    unit = read_unit(PANE | {"finishes": {"frame": frame, "glass": "own" if finish.transmits else "clear-glass"}})
    upright = np.array([[1, 0, 0, 20], [0, 0, -1, 20], [0, 1, 0, 0.5], [0, 0, 0, 1]], dtype=float)
    own = {"own": finish}
    parts = [part.moved(upright) for part in build(unit)]
    place = mi.ScalarTransform4f
    content: dict[str, Any] = {
        "floor": _plain(place().scale(8), _grey(0.42)),
        "stripes": _plain(
            place().translate([0.14, 0.16, 0.1]).rotate([1, 0, 0], 90).scale([0.13, 0.1, 1]), _stripes(9)
        ),
    }
    ball = _ball((-0.13, 0.0, BALL), BALL)
    seen = [part for part in parts if not finishes.find(part.finish, own).is_sheet]
    shown = content | meshes(parts, own) | {"ball": mesh_of("ball", *ball, bsdf(finish))}
    guide = {key: _shining(one) for key, one in content.items()} | shining_meshes(skins(seen, own), own)
    if not finish.is_sheet:
        shine = {"type": "area", "radiance": colour(finish, 1.0)}
        guide["ball"] = mesh_of("ball", *ball, {"type": "diffuse"}, shine)
    view = place().look_at(origin=[0.02, -1.1, 0.42], target=[0.02, 0.0, 0.115], up=[0, 0, 1])
    sensor = {"type": "perspective", "fov": 31, "fov_axis": "x", "to_world": view}
    return _seen(shown, guide, sensor, STILL, STILL_SAMPLES, STILL_DEPTH)


def _board(finish: Finish, side: float) -> NDArray[np.uint8]:
    half = side / 2
    corners = np.array([(-half, 0, -half), (half, 0, -half), (half, 0, half), (-half, 0, half)])[[0, 1, 2, 0, 2, 3]]
    # A tile begins at the board's lower left corner, inside its margin.
    low = half - side * (1 - 1 / MARGIN) / 2
    places = corners[:, [0, 2]] + low
    still = finish.model_copy(update={"texture": _unmoved(finish)})
    laid = corners, np.tile((0.0, -1.0, 0.0), (6, 1)), places
    board = mesh_of("board", *laid, bsdf(still))
    guide = mesh_of("guide", *laid, {"type": "diffuse"}, {"type": "area", "radiance": colour(still, 1.0)})
    behind = _plain(mi.ScalarTransform4f().translate([0, side / 4, 0]).rotate([1, 0, 0], 90).scale(side), _stripes(16))
    view = mi.ScalarTransform4f().look_at(origin=[0, -side, 0], target=[0, 0, 0], up=[0, 0, 1]).scale([half, half, 1])
    content = {"board": board} | ({"behind": behind} if finish.transmits else {})
    return _seen(
        content,
        {"guide": guide},
        {"type": "orthographic", "to_world": view},
        (BOARD, BOARD),
        BOARD_SAMPLES,
        BOARD_DEPTH,
    )


def _unmoved(finish: Finish) -> Any:
    """Its texture, begun at the corner and not turned: so that the tile is what the rule beside it says."""
    return finish.texture and finish.texture.model_copy(update={"turn": 0.0, "x": mm("0"), "y": mm("0")})


def _stripes(count: int) -> Plugin:
    """Dark and light stripes, for what is seen through."""
    across = mi.ScalarTransform4f().scale([count, 0.001, 1])
    return {"type": "checkerboard", "color0": _grey(0.75), "color1": _grey(0.12), "to_uv": across}


def _plain(place: Any, reflects: Plugin) -> Plugin:
    """A dull rectangle."""
    scatters = {"type": "twosided", "inner": {"type": "diffuse", "reflectance": reflects}}
    return {"type": "rectangle", "to_world": place, "bsdf": scatters}


def _shining(plain: Plugin) -> Plugin:
    """A dull rectangle that shines in its own colour."""
    reflects = plain["bsdf"]["inner"]["reflectance"]
    return plain | {"emitter": {"type": "area", "radiance": reflects}}


def _seen(
    shown: Plugin, guide: Plugin, sensor: Plugin, size: tuple[int, int], samples: int, depth: int
) -> NDArray[np.uint8]:
    """A scene under the lamp, its noise taken away with the help of the colours of what is in it."""
    film = {"type": "hdrfilm", "width": size[0], "height": size[1], "rfilter": {"type": "box"}, "pixel_format": "rgb"}
    scene = {"type": "scene", "sensor": sensor | {"film": film}}
    with TRACING:
        seen = _traced(scene | shown | _lights() | {"integrator": {"type": "path", "max_depth": depth}}, samples)
        albedo = _traced(scene | guide | {"integrator": {"type": "path", "max_depth": 1}}, GUIDE_SAMPLES)
        return to_srgb(denoised(seen, np.concatenate([albedo, np.zeros_like(albedo)], axis=-1)))


def _traced(scene: Plugin, samples: int) -> Image:
    traced = mi.render(mi.load_dict(scene), spp=samples, seed=mi.UInt32(1))
    return np.nan_to_num(np.array(traced, dtype=np.float32), posinf=0, neginf=0)


def _lights() -> dict[str, Any]:
    """A large soft light from the left and above, a little from all round."""
    lamp = mi.ScalarTransform4f().look_at(origin=[-1.6, -1.5, 2.0], target=[0, 0, 0.1], up=[0, 0, 1]).scale(0.6)
    return {
        "lamp": {"type": "rectangle", "to_world": lamp, "emitter": {"type": "area", "radiance": _grey(12.0)}},
        "round": {"type": "constant", "radiance": _grey(0.8)},
    }


def _grey(value: float) -> dict[str, Any]:
    return {"type": "rgb", "value": value}


def _ball(middle: tuple[float, float, float], radius: float) -> tuple[Floats, Floats, Floats]:
    """Corners, normals and places in the texture of a ball: the grain runs round it, in metres at its widest."""
    across, up = 96, 48
    turn, rise = np.meshgrid(np.linspace(0, 2 * pi, across + 1), np.linspace(-pi / 2, pi / 2, up + 1), indexing="ij")
    way = np.stack([-np.cos(rise) * np.sin(turn), np.cos(rise) * np.cos(turn), np.sin(rise)], axis=-1)
    place = np.stack([turn * radius, rise * radius], axis=-1)
    i, j = (grid.reshape(-1) for grid in np.meshgrid(np.arange(across), np.arange(up), indexing="ij"))
    order = np.stack([(i, j), (i + 1, j), (i + 1, j + 1), (i, j), (i + 1, j + 1), (i, j + 1)])
    rows, columns = order[:, 0].T.reshape(-1), order[:, 1].T.reshape(-1)
    normals = way[rows, columns]
    return normals * radius + np.array(middle), normals, place[rows, columns]
