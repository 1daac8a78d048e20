"""Path tracing with Mitsuba 3: a scene of parts becomes meshes by finish; a pass is a linear image with its guides.

Clear glass is traced as the sheet it is: the pane's larger face carries Fresnel's equations with all inner reflections
counted, and lets the light of sun and lamps through on its way to what stands behind. Frosted glass is traced as the
solid.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property
from itertools import count
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core import finish as finishes
from ashfell.core.base.refusal import Refusal
from ashfell.core.coats import coated
from ashfell.core.finish import Finish
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.aside import Hung
from ashfell.core.site.coats import Coats
from ashfell.pictures.backdrop import BEYOND, THROUGH
from ashfell.pictures.clay import in_clay
from ashfell.pictures.compiled import COMPILED, READY, paths_of, using, variant_of
from ashfell.pictures.flat import GROUND, Flat, Image
from ashfell.pictures.grouped import LARGE, SOME, WORTH, Grouped
from ashfell.pictures.light import layers
from ashfell.pictures.materials import bsdf
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sums import Quota, drawn, even
from ashfell.pictures.tiles import joined, tiles_of

SKY_SAMPLES = 4
"""Samples a pixel of the sky with nothing before it."""
SPREAD = {READY: "multijitter", COMPILED: "independent"}
"""How the samples of a pass are spread: what is compiled would be compiled again for every count of the better way."""
DEPTH = 12
"""Longest path, in surfaces."""
GLANCES = 2
"""Samples a pixel that a glance has at most of the layers that it traces as one."""
ALL_ROUND: dict[str, Any] = {"all round": {"type": "constant", "radiance": 1.0}}
"""What shows where all is open that is beyond: past all that stands and through clear glass, lighting nothing."""


class Tracer:
    """A scene that is ready for passes, every layer of light by itself.

    Parameters
    ----------
    parts : iterable of Part
        In the site's space, mm, z up.
    settings : PictureSettings
    own : mapping, optional
        The project's finishes, before those that ship.
    lamps : iterable of Hung, optional
    variant : str, optional
        Of the tracer; where none is said, the one that takes less time.
    grouped : bool, optional
        Whether the coats of a scene are traced in groups; where it is not said, where that takes less time.

    Raises
    ------
    Refusal
        When nothing shines.
    """

    def __init__(
        self,
        parts: Iterable[Part],
        settings: PictureSettings,
        own: Mapping[str, Finish] | None = None,
        lamps: Iterable[Hung] = (),
        variant: str = "",
        grouped: bool | None = None,
    ) -> None:
        if settings.surfaces == "clay":
            parts, settings, own = in_clay(parts, settings, own)
        lamps = list(lamps)
        if grouped is None:
            grouped = in_groups(parts, settings)
        # What is compiled for many instances takes longer to compile than to trace.
        self.settings, self.variant = settings, READY if grouped else variant or variant_of(settings)
        self.tiles = tiles_of(settings)
        self._things: Flat | Grouped
        if grouped and isinstance(parts, Coats):
            self._things = Grouped(parts, settings, own)
        else:
            self._things = Flat(list(coated(parts)), settings, own)
        lit = layers(settings, lamps)
        if not lit:
            raise Refusal(
                "sky", "something that shines", "Neither sun, sky nor a lamp is on.", "Switch one of them on."
            )
        self._sky = lit.get("sky", {})
        self.quota: Quota = even(lit, settings.samples)
        with using(self.variant):
            self._lit = layers(settings, lamps)
            things = self._things.lit() | {"ground": mi.load_dict(ground(settings, self._things.middle, own))}
            spread = {"sampler": {"type": SPREAD[self.variant]}}
            looks = [*(sensor(settings, tile) for tile in self.tiles), sensor(settings.glanced)]
            sensors = {f"sensor-{k:04}": look | spread for k, look in enumerate(looks)}
            self._content: dict[str, Any] = {"type": "scene"} | sensors | things
        self._loaded: dict[tuple[str, ...], Any] = {}

    @property
    def scenes(self) -> dict[str, Any]:
        """The scene of every layer."""
        return {name: self._scene((name,)) for name in self._lit}

    def _scene(self, names: tuple[str, ...]) -> Any:
        """All that stands under the light of some layers, loaded when it is first asked for."""
        if names not in self._loaded:
            shining: dict[str, Any] = {}
            for name in names:
                shining |= ALL_ROUND if name == THROUGH else self._lit[name]
            how = paths(1) if names == (THROUGH,) else paths(hidden=names == ("sky",))
            with using(self.variant):
                self._loaded[names] = mi.load_dict(self._content | shining | {"integrator": how})
        return self._loaded[names]

    @cached_property
    def _beyond(self) -> Image:
        return self._sky_alone(self.settings)

    def _sky_alone(self, settings: PictureSettings) -> Image:
        if not self._sky:
            left, top, right, bottom = settings.crop
            return np.zeros((bottom - top, right - left, 3), dtype=np.float32)
        content: dict[str, Any] = {"type": "scene", "sensor": sensor(settings), "integrator": paths(1)} | self._sky
        return np.array(mi.render(mi.load_dict(content), spp=SKY_SAMPLES, seed=mi.UInt32(0)), dtype=np.float32)

    def glance(self, alike: Sequence[Sequence[str]]) -> dict[str, Image]:
        """The light and how much of what is beyond is seen as a pass has them, but small, as ``settings.glanced`` says,
        and of a sample or two a pixel: the first image of a picture. Layers that are ``alike`` to who mixes them are
        traced as one, under the name of the first."""
        found: dict[str, Image] = {}
        for seed, names in enumerate([*map(tuple, alike), (THROUGH,)]):
            scene, own = self._scene(names), min(len(names), GLANCES)
            with using(self.variant):
                image = mi.render(scene, sensor=len(self.tiles), spp=own, seed=mi.UInt32(seed))
                found[names[0]] = np.array(image, dtype=np.float32)
            if len(names) > 1:  # no pass is traced by it
                del self._loaded[names]
        return found | {BEYOND: self._sky_alone(self.settings.glanced)}

    def trace(self, number: int, quota: Quota | None = None) -> dict[str, Image]:
        """Pass ``number`` (its seed): each layer (height, width, 3), linear; and how much of what is beyond is seen.
        Where there is a ``quota``, without the layers that it gives no sample in this pass."""
        return joined([self.tile(number, place, quota) for place in range(len(self.tiles))])

    def tile(self, number: int, place: int, quota: Quota | None = None) -> dict[str, Image]:
        """Pass ``number`` of one of the tiles."""
        _, upper, _, lower = (edge - self.settings.crop[1] for edge in self.tiles[place])
        samples = drawn(quota or self.quota, number) | {THROUGH: round(min(self.quota.values()))}
        scenes, beyond = self.scenes | {THROUGH: self._scene((THROUGH,))}, self._beyond
        # No layer has the noise of another: together they would have more of it than apart.
        seeds = count((number * len(self.tiles) + place) * len(scenes))
        with using(self.variant):
            found = {
                name: np.array(mi.render(scene, sensor=place, spp=own, seed=mi.UInt32(seed)), dtype=np.float32)
                for (name, scene), seed in zip(scenes.items(), seeds, strict=False)
                if (own := samples[name])
            }
        return found | {BEYOND: beyond[upper:lower]}

    def guides(self) -> Image:
        """What the camera sees first, for the noise removal: albedo and normal, (height, width, 6)."""
        return self._things.guides()

    def seen(self) -> tuple[NDArray[np.int32], NDArray[np.float32]]:
        """Which part is seen at each pixel, (height, width): its number in the coated parts, from 1; 0 where is none.
        Glass is what stands there. And how far what is seen is before the camera, along the way it looks, m."""
        return self._things.seen()


def in_groups(parts: Iterable[Part], settings: PictureSettings) -> bool:
    """Whether what is to be traced is a large site, or one of some size of which few paths are traced: what loading
    one mesh takes longer is not won again while they are."""
    if not isinstance(parts, Coats):
        return False
    spared = parts.repeated
    return spared > LARGE or (spared > SOME and spared * WORTH > paths_of(settings))


def paths(depth: int = DEPTH, hidden: bool = False) -> dict[str, Any]:
    """Paths of so many surfaces; what shines may be ``hidden`` where it is seen itself."""
    return {"type": "volpath", "max_depth": depth, "rr_depth": 5, "hide_emitters": hidden}


def ground(settings: PictureSettings, middle: Floats, own: Mapping[str, Finish] | None) -> dict[str, Any]:
    """The level ground round the middle of what stands, m."""
    place = mi.ScalarTransform4f().translate([float(middle[0]), float(middle[1]), -0.002])
    finish = finishes.find(settings.ground, own)
    return {"type": "rectangle", "to_world": place.scale(GROUND), "bsdf": bsdf(finish, 2 * GROUND)}
