"""Pictures: all of the way from the settings to the file, against the raw renderer with the same scene and samples;
from how many paths on a scene is worth compiling; and what noise is left in a draft, against many samples.

``python -m bench.pictures`` takes a quarter of an hour; with ``full`` behind it, at the size that pictures are handed
over in and 256 samples, an hour more.
"""

from __future__ import annotations

import json
import sys
from functools import lru_cache, partial
from pathlib import Path
from statistics import median
from time import perf_counter
from typing import Any

import mitsuba as mi
import numpy as np

from ashfell.core.base.document import read
from ashfell.core.parts import Part
from ashfell.core.site.aside import Hung, hung
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures.compiled import COMPILED, PAYS, READY, paths_of, runs, using
from ashfell.pictures.develop import Image, cleaned, denoised, mixed, png
from ashfell.pictures.flat import Flat
from ashfell.pictures.light import layers
from ashfell.pictures.sensor import sensor
from ashfell.pictures.settings import PASSES, PictureSettings
from ashfell.pictures.shoot import shoot
from ashfell.pictures.sums import Sums
from ashfell.pictures.trace import Tracer, ground, paths
from ashfell.services.documents import load_site

DEMO = Path("demo/heron-reach")
SCENES = {"outside": "1-street-front", "inside by day": "6-clubroom-by-day", "inside by lamps": "5-clubroom-by-lamps"}
PAIRS = 5
MOST = 1.15
"""How many times as long as the raw renderer it may take."""


def asked(name: str, **more: Any) -> PictureSettings:
    data = json.loads((DEMO / f"pictures/{name}.json").read_text())
    data.pop("look", None)
    return read(PictureSettings, data | {"minutes": 0, "noise": 0} | more)


@lru_cache(maxsize=1)
def house() -> SiteDocument:
    return read_site(load_site(DEMO / "site.json"))


@lru_cache(maxsize=1)
def coats() -> tuple[Part, ...]:
    return tuple(build_scene(house()).coats)


class Raw:
    """The renderer by itself: the same meshes under all lights in one scene."""

    def __init__(self, settings: PictureSettings, variant: str) -> None:
        self.settings, self.variant = settings, variant
        lamps: list[Hung] = list(hung(house()))
        with using(variant):
            flat = Flat(list(coats()), settings, house().finishes)
            things, below = flat.lit(), mi.load_dict(ground(settings, flat.middle, house().finishes))
            content: dict[str, Any] = {"type": "scene", "sensor": sensor(settings), "integrator": paths()}
            for shining in layers(settings, lamps).values():
                content |= shining
            self.scene = mi.load_dict(content | things | {"ground": below})

    def traced(self, samples: int, times: int) -> Image:
        """As many samples a pixel, so many times."""
        total = np.zeros((self.settings.height, self.settings.width, 3), np.float32)
        with using(self.variant):
            for number in range(times):
                total += np.array(mi.render(self.scene, spp=samples, seed=mi.UInt32(number)), dtype=np.float32)
        return total / times


def finished(settings: PictureSettings) -> bytes:
    """Ours: from the settings to the file."""
    return png(shoot(house(), settings))


def raw(settings: PictureSettings, variant: str) -> bytes:
    """The renderer alone: the scene of the same building, as many samples, and its own way to a file."""
    build_scene(house())
    seen = Raw(settings, variant).traced(settings.samples, settings.passes)
    return png(np.array(mi.Bitmap(seen).convert(mi.Bitmap.PixelFormat.RGB, mi.Struct.Type.UInt8, srgb_gamma=True)))


def against_raw(full: bool) -> None:
    settings = asked(SCENES["outside"], quality="good", width=640, height=400)
    variants = [COMPILED, READY] if runs() else [READY]
    first = {variant: taken(partial(raw, settings, variant)) for variant in variants}
    fastest = min(first, key=lambda variant: first[variant])
    if full:
        settings = settings.model_copy(update={"width": 1280, "height": 800})
        PASSES["good"] = (16, 16)
    samples = settings.samples * settings.passes
    ratios = []
    for _ in range(PAIRS):
        ours, theirs = taken(lambda: finished(settings)), taken(lambda: raw(settings, fastest))
        ratios.append((ours / theirs, ours, theirs))
        print(f"{ours:.1f} s, raw {theirs:.1f} s: {ours / theirs:.3f}", flush=True)
    ratio, ours, theirs = median(ratios)
    verdict = "reached" if ratio <= MOST else "missed"
    print(
        f"{settings.width} x {settings.height}, {samples} samples, to the file: {ours:.1f} s, raw renderer ({fastest}) "
        f"{theirs:.1f} s: {ratio:.2f} times as long (goal {MOST:g}, {verdict})"
    )


def taken(task: Any) -> float:
    start = perf_counter()
    task()
    return perf_counter() - start


def from_how_many_paths() -> None:
    """What compiling takes and saves, and so from where on it pays."""
    if not runs():
        print("There is no compiler: nothing is told of the compiled variant.")
        return
    for words, name in SCENES.items():
        settings = asked(name, width=320, height=200, quality="good")
        millions = paths_of(settings) / settings.passes / 1e6
        times = {}
        for variant in (READY, COMPILED):
            start = perf_counter()
            tracer = Tracer(coats(), settings, house().finishes, hung(house()), variant)
            tracer.trace(0)
            begun = perf_counter() - start
            times[variant] = (
                begun,
                min(taken(partial(tracer.trace, number)) for number in (1, 2)) / millions,
            )
        (at_once, slow), (later, fast) = times[READY], times[COMPILED]
        pays = (later - at_once) / max(slow - fast, 1e-9)
        print(
            f"{words}: a million paths {slow:.2f} s, compiled {fast:.2f} s; the first pass {at_once:.1f} s, compiled "
            f"{later:.1f} s: pays from {pays:.0f} million paths on (taken from {PAYS / 1e6:g} million on)"
        )


def noise() -> None:
    """How far a draft is from a picture of 4,096 samples, as seen; and the raw renderer's, as many samples and the same
    denoiser."""
    variant = COMPILED if runs() else READY
    for words, name in SCENES.items():
        settings = asked(name, width=160, height=100, quality="draft")
        tracer = Tracer(coats(), settings, house().finishes, hung(house()), READY)
        guides = tracer.guides()
        sums = Sums(settings.samples)
        for number in range(settings.passes):
            sums = sums.plus(tracer.trace(number, sums.quota))
        ours = mixed(cleaned(sums.means(), guides))
        theirs = denoised(Raw(settings, READY).traced(settings.samples, settings.passes), guides)
        reference = Raw(settings, variant).traced(64, 64)
        mine, other = (difference(one, reference) for one in (ours, theirs))
        verdict = "no worse" if mine <= other * 1.02 else "worse"
        print(
            f"{words}: a draft differs from 4,096 samples by {mine:.4f}, the raw renderer's by {other:.4f}: {verdict}"
        )


def difference(one: Image, reference: Image) -> float:
    """The root mean square of what is told apart, of two images exposed alike."""
    level = 0.2 / max(float(np.exp(np.log(reference.mean(axis=-1) + 1e-6).mean())), 1e-9)
    seen = [np.clip(held * level, 0, 1) ** (1 / 2.2) for held in (np.nan_to_num(one), np.nan_to_num(reference))]
    return float(np.sqrt(((seen[0] - seen[1]) ** 2).mean()))


def main() -> None:
    from_how_many_paths()
    noise()
    against_raw("full" in sys.argv)


if __name__ == "__main__":
    main()
