"""Which variant of the tracer a picture is traced by: the one that is ready at once, or the one that is compiled for
its scene, which is twice as fast from then on, where that pays and the compiler it needs is there.

That compiler is LLVM, a library of the system. One that is too old for the tracer ends the process that it is in, so
it is tried in another process first.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache
from glob import glob
from pathlib import Path

import mitsuba as mi

from ashfell.core.parts import Part
from ashfell.pictures.settings import Camera, PictureSettings

READY, COMPILED = "scalar_rgb", "llvm_ad_rgb"
PAYS = 20_000_000
"""From how many paths on a scene is compiled: its first pass takes some 15 s more, and every million paths 0.7 to 2.2 s
less (``make bench``)."""
LIBRARY = "DRJIT_LIBLLVM_PATH"
"""The variable that says which compiler the tracer takes."""
SWITCH = "ASHFELL_COMPILED"
"""The variable by which nothing is compiled, where it is ``no``."""
PLACES = ("/usr/lib/*/libLLVM*.so*", "/usr/lib64/libLLVM*.so*", "/usr/lib/llvm-*/lib/libLLVM*.so*")
PATIENCE = 120
"""Seconds that a compiler has for its trial."""

if mi.variant() is None:
    mi.set_variant(READY)


@contextmanager
def using(variant: str) -> Iterator[None]:
    """Everything inside is traced by a variant."""
    before = mi.variant() or READY
    mi.set_variant(variant)
    try:
        yield
    finally:
        mi.set_variant(before)


def paths_of(settings: PictureSettings) -> int:
    """How many paths all passes of a picture have."""
    left, top, right, bottom = settings.crop
    return (right - left) * (bottom - top) * settings.samples * settings.passes


def variant_of(settings: PictureSettings) -> str:
    """The variant that a picture is traced by."""
    return COMPILED if paths_of(settings) >= PAYS and os.environ.get(SWITCH) != "no" and runs() else READY


@lru_cache(maxsize=1)
def runs() -> bool:
    """Whether there is a compiler that the tracer runs with; from then on it takes that."""
    for library in libraries():
        if _tried(library):
            if library:
                os.environ[LIBRARY] = library
            return True
    return False


def libraries() -> list[str]:
    """Compilers to be tried: the one that is said; else those in their usual places, the newest first, or whichever the
    tracer finds by itself."""
    if said := os.environ.get(LIBRARY):
        return [said]
    found = {str(Path(path).resolve()): path for place in PLACES for path in glob(place)}
    return sorted(found, key=_version, reverse=True) or [""]


def _version(path: str) -> list[int]:
    return [int(number) for number in re.findall(r"\d+", Path(path).name)]


def _tried(library: str) -> bool:
    """Whether a small scene is traced with a compiler, in a process of its own."""
    told = {**os.environ, LIBRARY: library} if library else {**os.environ}
    try:
        tried = subprocess.run(
            [sys.executable, "-m", __name__], env=told, capture_output=True, timeout=PATIENCE, check=False
        )
    except subprocess.TimeoutExpired:
        return False
    return tried.returncode == 0


def trial() -> tuple[list[Part], PictureSettings]:
    """What a compiler is tried with: a small window under the sky."""
    from ashfell.core.unit import build, read_unit

    camera = Camera(eye=(0.45, -2.0, 0.5), target=(0.45, 0.0, 0.45))
    return [*build(read_unit({"width": "900", "height": "900"}))], PictureSettings(
        camera=camera, off=("sun",), width=48, height=30, quality="good"
    )


def _trial() -> None:
    """It is traced by both variants."""
    from ashfell.pictures.trace import Tracer

    parts, settings = trial()
    ready, compiled = (Tracer(parts, settings, variant=variant).trace(0)["sky"].mean() for variant in (READY, COMPILED))
    if not 0.5 < compiled / ready < 2:
        sys.exit(f"{compiled} instead of {ready}")


if __name__ == "__main__":
    _trial()
