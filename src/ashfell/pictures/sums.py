"""What the passes of a picture come to: every layer of light added up, and how many samples a pixel each of them has.

In the first pass every layer has as many samples. What noise it shows there tells how many each is given in all that
follow: a layer that hardly shows has hardly any. The same first pass tells the same, so it does not matter which
machine traces the others.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from math import floor, isqrt

import numpy as np
from numpy.typing import NDArray

from ashfell.core.site.photometry import WEIGHTS
from ashfell.pictures.develop import Image, light_in

Quota = Mapping[str, float]
"""How many samples a pixel each layer of light has in a pass, on average."""
STEPS = 32
"""A layer has at least this part of the samples of a pass, and as many of these parts."""
BLOCK = 8
"""The side of the blocks that noise is told of, pixels."""
MOST = 2.0
"""More noise than so many times the light of a block is not told from this much: a few bright paths say little."""


def even(names: Iterable[str], samples: int) -> dict[str, float]:
    """As many samples for each layer of light, one at least."""
    lights = list(names)
    return {name: float(_in_a_grid(max(1, round(samples / len(lights))))) for name in lights}


def drawn(quota: Quota, number: int) -> dict[str, int]:
    """How many samples a pixel each layer has in pass ``number``: those that it was not given before; none, in some
    passes, of what has less than one. The layer with most has what the others leave.

    >>> [drawn({"sun": 3.5, "sky": 0.5}, number) for number in (1, 2, 3)]
    [{'sun': 4, 'sky': 0}, {'sun': 3, 'sky': 1}, {'sun': 4, 'sky': 0}]
    """
    given = dict.fromkeys(quota, 0)
    widest = max(quota, key=lambda name: quota[name])
    for passes in range(1, max(1, number) + 1):
        due = {name: floor(each * passes) - given[name] for name, each in quota.items()}
        others = sum(given.values()) - given[widest] + sum(due.values()) - due[widest]
        due[widest] = floor(sum(quota.values()) * passes) - given[widest] - others
        count = {name: _in_a_grid(own) for name, own in due.items()}
        given = {name: given[name] + own for name, own in count.items()}
    return count


def _in_a_grid(most: int) -> int:
    """The most samples up to so many that fill a grid nearly as wide as high, as the tracer spreads them."""
    return next((count for count in range(most, 0, -1) if count % isqrt(count) == 0), 0)


@dataclass(frozen=True, eq=False)
class Sums:
    """The sums of passes, for a picture of ``each`` samples a pixel in one.

    ``totals`` are layers (h, w, c) times their ``samples``; ``quota`` is that of the passes to come, once there is one
    behind.
    """

    each: int
    passes: int = 0
    totals: Mapping[str, Image] = field(default_factory=dict)
    samples: Mapping[str, int] = field(default_factory=dict)
    quota: Quota = field(default_factory=dict)

    def plus(self, traced: Mapping[str, Image]) -> Sums:
        """With one more pass; what is no number in it counts as dark."""
        quota = self.quota or even(light_in(traced), self.each)
        count = drawn(quota, self.passes)
        totals, samples = dict(self.totals), dict(self.samples)
        for name, layer in traced.items():
            own = count.get(name, 1)
            totals[name] = sound(layer) * np.float32(own) + totals.get(name, np.float32(0))
            samples[name] = samples.get(name, 0) + own
        return Sums(self.each, self.passes + 1, totals, samples, self.quota or by_noise(traced, self.each))

    def means(self) -> dict[str, Image]:
        """The layers as all passes show them."""
        return {name: np.asarray(total / np.float32(self.samples[name])) for name, total in self.totals.items()}

    def noise_with(self, traced: Mapping[str, Image]) -> float:
        """How noisy the layers are together with one more pass: as a share of their light, by how far the one is from
        those before. A mean of n samples and one of m differ by the variance of a sample times 1 / n + 1 / m; that of
        both together has 1 / (n + m) of it."""
        count = drawn(self.quota, self.passes)
        variance: NDArray[np.floating] = np.zeros((1, 1), np.float32)
        together = variance
        for name, held in self.means().items():
            if name not in count:
                continue
            before, new = self.samples[name], count[name]
            light = held @ _WEIGHTS
            if new:
                away = sound(traced[name]) @ _WEIGHTS - light
                variance = variance + away**2 * np.float32(before * new / (before + new) ** 2)
                light = light + away * np.float32(new / (before + new))
            together = together + light
        return _as_seen(variance, together)


_WEIGHTS = WEIGHTS.astype(np.float32)


def sound(layer: Image) -> Image:
    """A layer with nothing in it that is no number."""
    return layer if np.isfinite(layer).all() else np.nan_to_num(layer, posinf=0, neginf=0)


def by_noise(first: Mapping[str, Image], samples: int) -> dict[str, float]:
    """So many samples a pass, given to the layers of light of a first pass by how noisy each makes what is seen."""
    lights = {name: sound(first[name]) @ _WEIGHTS for name in light_in(first)}
    seen = _blocks(np.sum(list(lights.values()), axis=0, dtype=np.float32))
    noisy = {}
    for name, light in lights.items():
        # From pixel to pixel noise is another, and what is shown hardly.
        apart = np.diff(light, axis=1, append=light[:, -1:]) ** 2 / 2
        noisy[name] = float(np.minimum(np.sqrt(_blocks(apart)) / np.maximum(seen, 1e-9), MOST).mean())
    total = sum(noisy.values())
    if not total:
        return even(lights, samples)
    parts = {name: max(1, round(STEPS * each / total)) for name, each in noisy.items()}
    widest = max(parts, key=lambda name: parts[name])
    parts[widest] = max(1, parts[widest] - (sum(parts.values()) - STEPS))
    return {name: samples * own / STEPS for name, own in parts.items()}


def _as_seen(variance: NDArray[np.floating], together: NDArray[np.floating]) -> float:
    """Noise as a share of light: what a few bright paths find says little of the rest, so as the middle of blocks."""
    widths, lit = np.sqrt(_blocks(variance)), _blocks(together)
    there = lit > 1e-6
    return float(np.median(widths[there] / lit[there])) if there.any() else 0.0


def _blocks(image: NDArray[np.floating]) -> NDArray[np.floating]:
    """The means of an image (h, w) in blocks; of one that is smaller than a block, in one."""
    rows, columns = (size // BLOCK * BLOCK for size in image.shape)
    if not rows or not columns:
        return np.asarray(image.mean(keepdims=True))
    cut = image[:rows, :columns].reshape(rows // BLOCK, BLOCK, columns // BLOCK, BLOCK)
    return np.asarray(cut.mean(axis=(1, 3)))
