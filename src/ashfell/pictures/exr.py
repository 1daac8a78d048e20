"""OpenEXR: the layers of a picture as channels, for those who compose it elsewhere."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from typing import Any

import mitsuba as mi
import numpy as np
from numpy.typing import NDArray

from ashfell.core.parts import Part
from ashfell.pictures.backdrop import BEYOND, THROUGH
from ashfell.pictures.develop import Image, light_in, mixed

if mi.variant() is None:
    mi.set_variant("scalar_rgb")

LEGEND = "ashfellLegend"
"""The attribute that says what the numbers of parts, roles and finishes stand for, as JSON."""


def exr(layers: Mapping[str, Image], seen: Mapping[str, NDArray[Any]], parts: Sequence[Part]) -> bytes:
    """An OpenEXR file, half floats.

    Parameters
    ----------
    layers : mapping of (h, w, 3)
        Layers of light, linear sRGB. ``R``, ``G``, ``B`` are all of them together before nothing, ``A`` how much is
        covered; what is beyond is ``beyond``, and how much of it is seen, by colour, is ``through``.
    seen : mapping
        ``guides`` (h, w, 6): albedo and normal; ``depth`` (h, w) m; ``marks`` (h, w): numbers of coated parts from 1.
    parts : sequence of Part
    """
    marks, guides = seen["marks"], seen["guides"]
    channels: dict[str, NDArray[Any]] = _rgb("", mixed({name: layers[name] for name in light_in(layers)}))
    for name in light_in(layers):
        channels |= _rgb(channel_of(name) + ".", layers[name])
    if THROUGH in layers:
        channels["A"] = 1 - layers[THROUGH].mean(axis=-1).clip(0, 1)
        channels |= _rgb(f"{THROUGH}.", layers[THROUGH]) | _rgb(f"{BEYOND}.", layers[BEYOND])
    channels |= _rgb("albedo.", guides[..., :3])
    channels |= {f"normal.{axis}": guides[..., 3 + k] for k, axis in enumerate("XYZ")}
    channels["depth.Z"] = seen["depth"]
    legend: dict[str, list[str]] = {"part": [part.id for part in parts]}
    for name in ("role", "finish"):
        words = [getattr(part, name) for part in parts]
        legend[name] = list(dict.fromkeys(words))
        numbers = np.array([0, *(legend[name].index(word) + 1 for word in words)])
        channels[f"{name}.ID"] = numbers[marks]
    channels["part.ID"] = marks
    stacked = np.stack([*channels.values()], axis=-1).astype(np.float32)
    bitmap = mi.Bitmap(np.ascontiguousarray(stacked), channel_names=[*channels])
    bitmap.metadata()[LEGEND] = json.dumps(legend)
    stream = mi.MemoryStream()
    bitmap.write(stream, mi.Bitmap.FileFormat.OpenEXR)
    return bytes(stream.raw_buffer())


def channel_of(layer: str) -> str:
    """What a layer is called among channels.

    >>> channel_of("sun"), channel_of("lamps:club room")
    ('light_sun', 'light_lamps_club_room')
    """
    return "light_" + re.sub(r"[^A-Za-z0-9]+", "_", layer).strip("_")


def _rgb(before: str, image: Image) -> dict[str, NDArray[Any]]:
    return {f"{before}{letter}": image[..., k] for k, letter in enumerate("RGB")}
