"""What stands in a picture, each definition once and where it is used: how large sites are traced, in the memory and
the time that their definitions take.

What the camera sees first is found ray by ray here: nothing of what is used in many places can shine.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.parts import bounds, box_corners
from ashfell.core.plane.points import Floats
from ashfell.core.site.coats import Coats
from ashfell.core.site.instance import Instance
from ashfell.pictures.flat import Image
from ashfell.pictures.materials import bsdf, reflected
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import looks
from ashfell.pictures.skins import Skin, mesh_of, skins

LARGE = 4_000_000
"""A site that repeats more triangles than this is traced in groups: as one mesh it takes a minute and 2 GB to load."""
SOME, WORTH = 300_000, 12
"""And one that repeats more than this, where so many paths are traced for each of them or fewer (``make bench``)."""
PATCHES = 3
"""In so many places the textures of a definition begin, so that those of neighbours are not alike."""
GUIDE_SAMPLES = 2
"""Rays a pixel of the guides, along its side."""


@dataclass(frozen=True)
class _Group:
    """A definition as it is used: its skins, and where."""

    skins: list[Skin]
    uses: list[tuple[Instance, int]]
    """Each with the number of its first coat."""


@dataclass(frozen=True)
class _Use:
    """What stands somewhere: its shape, the number of its first coat, and how many skins are before its own."""

    shape: Any
    instance: Instance
    first: int
    before: int


class Grouped:
    """The coats of a scene, its definitions as groups of shapes."""

    def __init__(self, coats: Coats, settings: PictureSettings, own: Mapping[str, Finish] | None) -> None:
        self.settings, self.own = settings, own
        self.groups = _groups(coats, own)
        boxes = {key: bounds(parts) for key, parts in coats.definitions.items() if parts}
        places = [box_corners(boxes[one.definition], one.matrix) for one in coats.instances if one.definition in boxes]
        self.middle: Floats = np.concatenate(places).mean(axis=0) / 1000 if places else np.zeros(3)
        self._shapes: dict[str, Any] = {}

    def lit(self) -> dict[str, Any]:
        """What scatters light."""
        if not self._shapes:
            held: dict[tuple[str, float], Any] = {}

            def scatters(skin: Skin) -> Any:
                if (skin.key, skin.thick) not in held:
                    held[skin.key, skin.thick] = mi.load_dict(bsdf(finishes.find(skin.key, self.own), thick=skin.thick))
                return held[skin.key, skin.thick]

            self._shapes, _, _ = self._built(scatters)
        return self._shapes

    def _built(
        self, scatters: Callable[[Skin], Any], seen: Callable[[Skin], bool] = lambda skin: True
    ) -> tuple[dict[str, Any], list[Skin], list[_Use]]:
        """The shapes of those skins that are seen, these in their order, and what stands where."""
        shapes: dict[str, Any] = {}
        held: list[Skin] = []
        used: list[_Use] = []
        for number, group in enumerate(self.groups):
            own = [skin for skin in group.skins if seen(skin)]
            if not own:
                continue
            content: dict[str, Any] = {"type": "shapegroup", "id": f"group-{number}"}
            for index, skin in enumerate(own):
                name = f"{number}-{skin.name}"
                made = mesh_of(name, skin.positions, skin.normals, skin.texture, scatters(skin))
                content[f"skin-{index:04}"] = made
            shapes[f"group-{number}"] = whole = mi.load_dict(content)
            for place, (one, first) in enumerate(group.uses):
                matrix = np.array(one.matrix, dtype=float)
                matrix[:3, 3] /= 1000
                to_world = mi.ScalarTransform4f(matrix.tolist())
                stands = mi.load_dict({"type": "instance", "to_world": to_world, "group": whole})
                shapes[f"use-{number}-{place}"] = stands
                used.append(_Use(stands, one, first, len(held)))
            held += own
        return shapes, held, used

    def guides(self) -> Image:
        """What the camera sees first but for clear glass, for the noise removal: albedo and normal,
        (height, width, 6)."""
        hits = self._hits(lambda skin: not finishes.find(skin.key, self.own).is_sheet, GUIDE_SAMPLES)
        found = np.zeros((len(hits.far), 6), dtype=np.float32)
        for skin, own in hits.of_skins():
            corners = 3 * hits.triangle[own][:, None] + (0, 1, 2)
            weights = hits.weights(own)[..., None]
            places = (skin.texture[corners] * weights).sum(axis=1)
            found[own, :3] = reflected(finishes.find(skin.key, self.own), places)
            normals = (skin.normals[corners] * weights).sum(axis=1)
            turned = np.einsum("nij,nj->ni", hits.turns[hits.use[own]], normals)
            found[own, 3:] = turned / np.maximum(np.linalg.norm(turned, axis=1, keepdims=True), 1e-9)
        return hits.averaged(found)

    def seen(self) -> tuple[NDArray[np.int32], NDArray[np.float32]]:
        """Which part is seen at each pixel, (height, width): its number among the coats, from 1, 0 where is none, glass
        being what stands there; and how far before the camera, along the way it looks, m."""
        hits = self._hits(lambda skin: True, 1)
        marks = np.zeros(len(hits.far), dtype=np.int32)
        for skin, own in hits.of_skins():
            marks[own] = hits.firsts[hits.use[own]] + skin.numbers[3 * hits.triangle[own]]
        shape = hits.shape[:2]
        return marks.reshape(shape), hits.far.reshape(shape)

    def _hits(self, shown: Callable[[Skin], bool], side: int) -> _Hits:
        dull = mi.load_dict({"type": "diffuse"})
        shapes, held, used = self._built(lambda skin: dull, shown)
        scene = mi.load_dict({"type": "scene"} | shapes)
        return _cast(scene, self.settings, side, held, used)


def _groups(coats: Coats, own: Mapping[str, Finish] | None) -> list[_Group]:
    """The definitions as they are used; of those used often, some with textures that begin elsewhere."""
    often = Counter(one.definition for one in coats.instances)
    placed_so_far: Counter[str] = Counter()
    uses: dict[tuple[str, int], list[tuple[Instance, int]]] = {}
    for one, first in zip(coats.instances, coats.firsts.tolist(), strict=False):
        patch = placed_so_far[one.definition] % PATCHES if often[one.definition] > PATCHES else 0
        placed_so_far[one.definition] += 1
        uses.setdefault((one.definition, patch), []).append((one, first))
    found = []
    for (key, patch), own_uses in sorted(uses.items()):
        placed = [part.moved(np.eye(4), f"{key}/{patch}/") for part in coats.definitions[key]]
        if placed:
            found.append(_Group(skins(placed, own), own_uses))
    return found


@dataclass(frozen=True)
class _Hits:
    """What rays hit first: for each, how ``far`` before the camera, m, 0 where nothing is; the ``mesh`` of which skin,
    from 1, which triangle of it and where on that, and which use. ``shape`` is height, width and rays a pixel."""

    shape: tuple[int, int, int]
    far: Single
    mesh: NDArray[np.int32]
    triangle: NDArray[np.int32]
    where: Single
    use: NDArray[np.int32]
    held: Sequence[Skin]
    turns: Floats
    firsts: NDArray[np.int32]

    def of_skins(self) -> Iterator[tuple[Skin, NDArray[np.intp]]]:
        """Each skin that is seen, and the rays that hit it."""
        for number, skin in enumerate(self.held, 1):
            own = np.flatnonzero(self.mesh == number)
            if len(own):
                yield skin, own

    def weights(self, own: NDArray[np.intp]) -> Single:
        """How much of each corner of its triangle is where a ray hit, (n, 3)."""
        u, v = self.where[own].T
        return np.stack([1 - u - v, u, v], axis=1)

    def averaged(self, values: Image) -> Image:
        """The mean of the rays of each pixel, (height, width, k)."""
        height, width, rays = self.shape
        return np.asarray(values.reshape(height, width, rays, -1).mean(axis=2), dtype=np.float32)


Single = NDArray[np.float32]


def _cast(scene: Any, settings: PictureSettings, side: int, held: Sequence[Skin], used: Sequence[_Use]) -> _Hits:
    """Rays through a picture, ``side`` times ``side`` a pixel, evenly."""
    left, top, right, bottom = settings.crop
    height, width = bottom - top, right - left
    camera, (eye, axis) = mi.load_dict(sensor(settings)), looks(settings)
    places = {one.shape: number for number, one in enumerate(used)}
    total = height * width * side * side
    far, where = np.zeros(total, dtype=np.float32), np.zeros((total, 2), dtype=np.float32)
    mesh, triangle, use = (np.zeros(total, dtype=np.int32) for _ in range(3))
    steps = [(k + 0.5) / side for k in range(side)]
    middle, at = mi.ScalarPoint2f(0.5, 0.5), 0
    for y in range(height):
        for x in range(width):
            for down in steps:
                for along in steps:
                    place = mi.ScalarPoint2f((x + along) / width, (y + down) / height)
                    ray, _ = camera.sample_ray(0.0, 0.5, place, middle)
                    hit = scene.ray_intersect_preliminary(ray)
                    if hit.is_valid():
                        far[at] = hit.t * float(np.dot(ray.d, axis)) + float(np.dot(np.subtract(ray.o, eye), axis))
                        use[at] = number = places[hit.instance]
                        mesh[at], triangle[at] = used[number].before + hit.shape_index + 1, hit.prim_index
                        where[at] = hit.prim_uv
                    at += 1
    turns = np.array([one.instance.matrix[:3, :3] for one in used], dtype=float).reshape(-1, 3, 3)
    firsts = np.array([one.first for one in used], dtype=np.int32)
    return _Hits((height, width, side * side), far, mesh, triangle, where, use, held, turns, firsts)
