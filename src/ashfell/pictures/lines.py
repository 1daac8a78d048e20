"""Line pictures: the edges of all that stands, from a camera, without those that are hidden.

Edges are creases and silhouettes. Each is walked in steps of half a pixel over an image of depth, and drawn where
nothing opaque lies nearer; clear glass hides nothing. Where what is behind falls away, an edge is a profile and is
drawn heavier.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image as Pillow
from PIL import ImageDraw

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.solid.topology import Topology
from ashfell.pictures.flat import depth_of
from ashfell.pictures.sensor import NEAREST
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import projected
from ashfell.pictures.skins import skins

FINER = 2
"""How many times as fine as the picture the image of depth is."""
CREASE = 20.0
"""Faces that meet at less than this many degrees from flat have no edge between them."""
BEHIND = 0.004
"""How much nearer something must be to hide an edge, m, and as a share of its distance ``SLACK``."""
SLACK = 0.0015
FALLS = 8.0
"""How much farther what is behind must be for an edge to be a profile, m."""
WIDTHS = {"edge": 0.55, "profile": 1.25}
"""Of the lines, pixels of the picture."""
INK = "#2b2723"
STEPS = 2_000_000
"""How many places are looked at at once."""

Segments = NDArray[np.float64]


@dataclass(frozen=True)
class Lines:
    """What is drawn: segments (n, 2, 2) in pixels from the upper left, by how they are drawn."""

    width: int
    height: int
    edge: Segments
    profile: Segments

    def svg(self) -> str:
        """An SVG of the picture's size; lines that run on are one path."""
        paths = "".join(
            f'<path class="{name}" stroke-width="{WIDTHS[name]}" d="{_path(getattr(self, name))}"/>' for name in WIDTHS
        )
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{self.width}" height="{self.height}" '
            f'viewBox="0 0 {self.width} {self.height}"><rect width="100%" height="100%" fill="#ffffff"/>'
            f'<g fill="none" stroke="{INK}" stroke-linecap="round" stroke-linejoin="round">{paths}</g></svg>\n'
        )

    def png(self, fine: int = 3) -> bytes:
        """The same as a PNG."""
        canvas = Pillow.new("L", (self.width * fine, self.height * fine), 255)
        pen = ImageDraw.Draw(canvas)
        for name, wide in WIDTHS.items():
            for (a, b), (c, d) in (getattr(self, name) * fine).tolist():
                pen.line((a, b, c, d), fill=40, width=max(1, round(wide * fine)))
        held = io.BytesIO()
        canvas.resize((self.width, self.height), Pillow.Resampling.LANCZOS).save(held, "PNG")
        return held.getvalue()


def line_picture(parts: Iterable[Part], settings: PictureSettings, own: Mapping[str, Finish] | None = None) -> Lines:
    """The lines of parts (site's space, mm) from the camera of a picture."""
    held = list(parts)
    solid = [part for part in held if not finishes.find(part.finish, own).is_sheet]
    large = settings.model_copy(update={"width": settings.width * FINER, "height": settings.height * FINER})
    depth = depth_of(skins(solid, own), large, own, ground=True)
    edges = np.concatenate([np.empty((0, 2, 3)), *(_edges(part, np.array(settings.camera.eye)) for part in held)])
    found = _seen(edges, settings, np.where(depth > 0, depth, np.inf))
    return Lines(settings.width, settings.height, found["edge"], found["profile"])


# --- which edges a part has


@lru_cache(maxsize=4096)
def _pairs(topology: Topology) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Every edge of a topology once: its two vertices (n, 2), and its two triangles (n, 2)."""
    t = topology.triangles.astype(np.int64)
    ends = np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]])
    triangle = np.tile(np.arange(len(t)), 3)
    low, high = ends.min(axis=1), ends.max(axis=1)
    order = np.lexsort((high, low))
    first, second = order[0::2], order[1::2]
    return np.stack([low[first], high[first]], axis=1), np.stack([triangle[first], triangle[second]], axis=1)


def _edges(part: Part, eye: Floats) -> Floats:
    """The creases and silhouettes of a part, (n, 2, 3) m."""
    solid = part.solid
    ends, sides = _pairs(solid.topology)
    normals = solid.normals
    here = solid.vertices[ends[:, 0]] / 1000
    towards = eye - here
    left, right = normals[sides[:, 0]], normals[sides[:, 1]]
    front = [np.einsum("ij,ij->i", one, towards) > 0 for one in (left, right)]
    apart = solid.topology.face_of_triangle[sides[:, 0]] != solid.topology.face_of_triangle[sides[:, 1]]
    sharp = apart & (np.einsum("ij,ij->i", left, right) < np.cos(np.radians(CREASE)))
    kept = (sharp & (front[0] | front[1])) | (front[0] != front[1])
    return np.asarray(solid.vertices[ends[kept]] / 1000)


# --- which of them are seen


def _seen(edges: Floats, settings: PictureSettings, depth: NDArray[np.floating]) -> dict[str, Segments]:
    """The segments of edges that nothing hides, in pixels of the picture."""
    near = max(NEAREST, settings.camera.clip)
    ends, far = _clipped(edges, settings, near)
    around = _widest(depth)
    found: dict[str, list[Segments]] = {"edge": [np.empty((0, 2, 2))], "profile": [np.empty((0, 2, 2))]}
    lengths = np.hypot(*(ends[:, 1] - ends[:, 0]).T)
    counts = np.maximum(2, np.ceil(lengths * FINER).astype(np.int64) + 1)
    begin = 0
    for stop in [*np.flatnonzero(np.diff(np.cumsum(counts) // STEPS)) + 1, len(counts)]:
        chunk = slice(begin, int(stop))
        for name, segments in _walked(ends[chunk], far[chunk], counts[chunk], around, settings).items():
            found[name].append(segments)
        begin = int(stop)
    return {name: np.concatenate(pieces) for name, pieces in found.items()}


def _clipped(edges: Floats, settings: PictureSettings, near: float) -> tuple[Segments, Floats]:
    """Edges before the camera and in its frame: their ends in pixels (n, 2, 2), and how far these are (n, 2) m. One
    that two parts share is there once."""
    _, far = projected(edges.reshape(-1, 3), settings)
    far = far.reshape(-1, 2)
    ahead = (far > near).any(axis=1)
    edges, far = edges[ahead], far[ahead]
    span = far[:, 1] - far[:, 0]
    cut = np.where(span == 0, 0, (near - far[:, 0]) / np.where(span == 0, 1, span)).clip(0, 1)
    crossing = edges[:, 0] + (edges[:, 1] - edges[:, 0]) * cut[:, None]
    edges = np.stack([np.where((far[:, k] < near)[:, None], crossing, edges[:, k]) for k in range(2)], axis=1)
    ends, far = projected(edges.reshape(-1, 3), settings)
    ends, far = ends.reshape(-1, 2, 2), far.reshape(-1, 2)
    size = np.array([settings.width, settings.height])
    inside = ((ends.max(axis=1) >= 0) & (ends.min(axis=1) <= size)).all(axis=1)
    inside &= np.abs(ends[:, 1] - ends[:, 0]).max(axis=1) < 1e6
    ends, far = ends[inside], far[inside]
    swapped = (ends[:, 0, 0] > ends[:, 1, 0]) | ((ends[:, 0, 0] == ends[:, 1, 0]) & (ends[:, 0, 1] > ends[:, 1, 1]))
    ends[swapped], far[swapped] = ends[swapped][:, ::-1], far[swapped][:, ::-1]
    ends, far = _framed(ends, far, size)
    once = np.unique(np.round(np.concatenate([ends.reshape(-1, 4) * 50, far * 200], axis=1)), axis=0, return_index=True)
    return ends[once[1]], far[once[1]]


def _framed(ends: Segments, far: Floats, size: Floats) -> tuple[Segments, Floats]:
    """The runs of segments that lie in the frame (Liang and Barsky); inverse distance is even along them."""
    way = ends[:, 1] - ends[:, 0]
    still = way == 0
    safe = np.where(still, 1, way)
    low, high = (-ends[:, 0]) / safe, (size - ends[:, 0]) / safe
    enter = np.where(still, 0, np.minimum(low, high)).max(axis=1).clip(0, 1)
    leave = np.where(still, 1, np.maximum(low, high)).min(axis=1).clip(0, 1)
    kept = leave > enter
    shares = np.stack([enter, leave], axis=1)[kept]
    inverse = 1 / far[kept]
    there = 1 / (inverse[:, :1] + (inverse[:, 1:] - inverse[:, :1]) * shares)
    return ends[kept, :1] + way[kept, None] * shares[..., None], there


def _walked(
    ends: Segments, far: Floats, counts: NDArray[np.int64], around: NDArray[np.floating], settings: PictureSettings
) -> dict[str, Segments]:
    """Segments walked step by step: the runs of each that are seen, as edges and as profiles."""
    if not len(counts):
        return {}
    which = np.repeat(np.arange(len(counts)), counts)
    start = np.cumsum(counts) - counts
    step = np.arange(int(counts.sum())) - start[which]
    share = step / (counts[which] - 1)
    place = ends[which, 0] + (ends[which, 1] - ends[which, 0]) * share[:, None]
    inverse = 1 / far[which, 0] + (1 / far[which, 1] - 1 / far[which, 0]) * share
    away = 1 / inverse
    column = (place[:, 0] * FINER).astype(np.int64).clip(0, settings.width * FINER - 1)
    row = (place[:, 1] * FINER).astype(np.int64).clip(0, settings.height * FINER - 1)
    behind = around[row, column]
    seen = away <= behind + BEHIND + SLACK * away
    kind = np.where(~seen, 0, np.where(behind - away > FALLS, 2, 1))
    # Of a segment each run of one kind is a piece, from its first step to the first of the next.
    last = step == counts[which] - 1
    turns = np.flatnonzero(np.concatenate([[True], (kind[1:] != kind[:-1]) | (which[1:] != which[:-1])]))
    stops = np.concatenate([turns[1:], [len(kind)]]) - 1
    # A run that goes over into another goes on to where that begins.
    beyond = np.where(last[stops], stops, np.minimum(stops + 1, len(kind) - 1))
    pieces = np.stack([place[turns], place[beyond]], axis=1)
    return {name: pieces[kind[turns] == number] for number, name in ((1, "edge"), (2, "profile"))}


def _widest(depth: NDArray[np.floating]) -> NDArray[np.floating]:
    """The farthest of each pixel and those round it."""
    padded = np.pad(depth, 1, mode="edge")
    rows, columns = depth.shape
    return np.asarray(np.max([padded[i : i + rows, j : j + columns] for i in range(3) for j in range(3)], axis=0))


def _path(segments: Segments) -> str:
    """SVG path data; what begins where the one before it ended goes on."""
    text, at = [], None
    for start, end in np.round(segments, 2).tolist():
        if start == end:
            continue
        if start != at:
            text.append(f"M{start[0]:g} {start[1]:g}")
        text.append(f"L{end[0]:g} {end[1]:g}")
        at = end
    return "".join(text)
