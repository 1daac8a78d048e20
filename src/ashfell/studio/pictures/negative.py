"""What is kept of a picture beside its image, so that it can be developed again: its layers of light, what guides the
removal of noise, and which part is at each pixel. Files are written whole or not at all.
"""

from __future__ import annotations

import io
import os
from collections.abc import Iterator, Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ashfell.pictures.develop import Image, light_in
from ashfell.pictures.sums import Sums, even

Arrays = dict[str, NDArray[Any]]
LAYER = "layer "
"""What the names of layers begin with in a file."""


def write(path: Path, content: bytes) -> None:
    """A file, whole or not at all."""
    new = path.with_suffix(path.suffix + ".new")
    with new.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    new.replace(path)


def write_arrays(path: Path, arrays: Mapping[str, NDArray[Any]], packed: bool = False) -> None:
    """Arrays by name, whole or not at all."""
    held = io.BytesIO()
    (np.savez_compressed if packed else np.savez)(held, **arrays)  # type: ignore[arg-type]
    write(path, held.getvalue())


def read_arrays(path: Path) -> Arrays:
    """The arrays of a file by name."""
    with np.load(path) as held:
        return dict(held)


def named(layers: Mapping[str, Image]) -> Arrays:
    """Layers as they stand in a file."""
    return {LAYER + name: layer for name, layer in layers.items()}


def layers_in(arrays: Mapping[str, NDArray[Any]]) -> dict[str, Image]:
    """The layers of a file."""
    return {name[len(LAYER) :]: layer for name, layer in arrays.items() if name.startswith(LAYER)}


def write_sums(path: Path, sums: Sums, guides: Image | None) -> None:
    """The sums of passes, and what guides the removal of noise once that is known."""
    told = {"samples": _numbers(sums.samples, sums), "quota": _numbers(sums.quota, sums)}
    write_arrays(path, named(sums.totals) | told | ({} if guides is None else {"guides": guides}))


def _numbers(of_each: Mapping[str, float], sums: Sums) -> NDArray[np.float64]:
    """A number for each layer, in their order; 0 where there is none."""
    return np.array([of_each.get(name, 0) for name in sums.totals], dtype=float)


def read_sums(path: Path, passes: int, samples: int) -> tuple[Sums, Image | None]:
    """What :func:`write_sums` wrote after so many passes, of so many samples a pixel. Files from before there were
    quotas hold as many samples of each layer."""
    held = read_arrays(path)
    layers = layers_in(held)
    if "samples" not in held:
        quota = even(light_in(layers), samples)
        totals = {name: layer * np.float32(quota.get(name, 1)) for name, layer in layers.items()}
        each = {name: round(quota.get(name, 1)) * passes for name in layers}
        return Sums(samples, passes, totals, each, quota), held.get("guides")
    counts, quotas = (dict(zip(layers, held[name].tolist(), strict=True)) for name in ("samples", "quota"))
    each = {name: round(count) for name, count in counts.items()}
    quota = {name: own for name, own in quotas.items() if own}
    return Sums(samples, passes, layers, each, quota), held.get("guides")


def keep(folder: Path, layers: Mapping[str, Image], seen: Arrays) -> None:
    """The layers without noise, as half floats, and what is seen: ``guides``, ``depth`` and ``marks``."""
    write_arrays(folder / "seen.npz", seen | {"guides": seen["guides"].astype(np.float16)}, packed=True)
    halves = {name: layer.clip(0, 65_000).astype(np.float16) for name, layer in named(layers).items()}
    write_arrays(folder / "layers.npz", halves)


def is_kept(folder: Path) -> bool:
    """Whether a picture can be developed again."""
    return (folder / "layers.npz").exists()


class Layers(Mapping[str, Image]):
    """The layers of a picture that is done, each read when it is asked for; only every ``step`` pixels of them."""

    def __init__(self, folder: Path, step: int = 1) -> None:
        self._file, self._step = folder / "layers.npz", step
        with np.load(self._file) as held:
            self._names = [name[len(LAYER) :] for name in held.files]

    def __getitem__(self, name: str) -> Image:
        with np.load(self._file) as held:
            return np.asarray(held[LAYER + name][:: self._step, :: self._step], dtype=np.float32)

    def __iter__(self) -> Iterator[str]:
        return iter(self._names)

    def __len__(self) -> int:
        return len(self._names)


WIDEST = 1600
"""A look is shown no wider than this while it is changed, pixels."""


@lru_cache(maxsize=2)
def shown_layers(folder: Path, width: int) -> dict[str, Image]:
    """The layers of a picture as a page shows it, ready for many looks one after the other."""
    return dict(Layers(folder, -(-width // WIDEST)))


@lru_cache(maxsize=1)
def kept_seen(folder: Path) -> Arrays:
    """What is seen in a picture that is done: ``guides`` (h, w, 6), ``depth`` (h, w) and ``marks`` (h, w)."""
    return read_arrays(folder / "seen.npz")
