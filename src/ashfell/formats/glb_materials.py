"""Finishes as materials of a glTF file: textures at real size, what transmits, varnish, sheen. A relief is not written:
its normals would need tangents at every corner, which walls of 16 bytes a corner have not."""

from __future__ import annotations

import io
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from math import pi
from typing import Any, Literal

import numpy as np
from PIL import Image

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish, Texture
from ashfell.core.finish.texture import Pixels, albedo, detail, laid, roughness, up_of
from ashfell.core.plane.points import Floats

Json = dict[str, Any]
Of = Literal["colour", "roughness"]
Textures = Callable[[Finish, Of], bytes]
"""One tile of a finish as JPEG: its colour or its roughness; empty where it has none."""
LARGEST = 1024
"""The most pixels of an image that is written, a side."""


def texture_jpeg(finish: Finish, of: Of) -> bytes:
    """One tile of a finish as JPEG, computed, or its image made as small as a file needs it."""
    pixels = _pixels(finish, of)
    if pixels is None:
        return b""
    image, held = Image.fromarray(pixels), io.BytesIO()
    image.thumbnail((LARGEST, LARGEST))
    image.save(held, "JPEG", quality=88)
    return held.getvalue()


LIGHT = 384
"""The same where a file is to be light."""


def light_jpeg(textures: Textures, finish: Finish, of: Of) -> bytes:
    """One tile of a finish as a smaller JPEG: its colour alone."""
    content = textures(finish, of) if of == "colour" else b""
    if not content:
        return b""
    held = io.BytesIO()
    with Image.open(io.BytesIO(content)) as image:
        image.thumbnail((LIGHT, LIGHT))
        image.save(held, "JPEG", quality=80)
    return held.getvalue()


def _pixels(finish: Finish, of: Of) -> Pixels | None:
    if of == "colour":
        return albedo(finish, detail(finish))
    rough = roughness(finish)
    if rough is None:
        return None
    # glTF reads roughness from green and metalness from blue.
    level = np.round(rough * 255).astype(np.uint8)
    return np.stack([np.zeros_like(level), level, np.full_like(level, round(finish.metallic * 255))], axis=-1)


@dataclass
class Materials:
    """The materials of one file, made as they are asked for; what they hold is for the file to write."""

    own: Mapping[str, Finish]
    textures_of: Textures
    materials: list[Json] = field(default_factory=list)
    textures: list[Json] = field(default_factory=list)
    images: list[bytes] = field(default_factory=list)
    extensions: set[str] = field(default_factory=set)
    _material_of: dict[tuple[str, str], int] = field(default_factory=dict)
    _texture_of: dict[tuple[str, Of], int | None] = field(default_factory=dict)

    def find(self, key: str) -> Finish:
        """A finish by its key."""
        return finishes.find(key, self.own)

    def is_oblique(self, key: str) -> bool:
        """Whether its tiles are oblong and lie at a slant: glTF scales before it turns, so that places in the texture
        must be written as they are in the tile."""
        texture = self.find(key).texture
        return texture is not None and texture.turn % 90 != 0 and abs(texture.across - up_of(texture)) > 1e-9

    def laid(self, key: str, places: Floats) -> Floats:
        """Places (n, 2) along and across the grain, m, as a file holds them: downwards, in tiles where they must be."""
        if self.is_oblique(key):
            texture = self.find(key).texture
            assert texture is not None
            matrix = laid(texture)
            places = places @ matrix[:, :2].T + matrix[:, 2]
        return np.asarray(places * (1.0, -1.0))

    def material(self, key: str, how: str = "") -> int:
        """A finish; ``how`` says how texture coordinates of what lies along its own axes are to be read."""
        if (key, how) not in self._material_of:
            self._material_of[key, how] = len(self.materials)
            self.materials.append(self._material(key, self.find(key), how))
        return self._material_of[key, how]

    def _material(self, key: str, finish: Finish, how: str) -> Json:
        look: Json = {"metallicFactor": finish.metallic, "roughnessFactor": finish.roughness}
        material: Json = {"name": key, "pbrMetallicRoughness": look}
        colour = self._texture(key, finish, "colour", how) if finish.texture else None
        if colour:
            look["baseColorTexture"] = colour
        else:
            look["baseColorFactor"] = [*finish.linear, 1.0]
        if rough := self._texture(key, finish, "roughness", how):
            look |= {"metallicRoughnessTexture": rough, "metallicFactor": 1.0, "roughnessFactor": 1.0}
        extensions = _extensions(finish)
        if extensions:
            material["extensions"] = extensions
            self.extensions.update(extensions)
        return material

    def _texture(self, key: str, finish: Finish, of: Of, how: str) -> Json | None:
        if finish.texture is None:
            return None
        if (key, of) not in self._texture_of:
            content = self.textures_of(finish, of)
            if content:
                self.images.append(content)
                self.textures.append({"sampler": 0, "source": len(self.images) - 1})
            self._texture_of[key, of] = len(self.textures) - 1 if content else None
        index = self._texture_of[key, of]
        if index is None:
            return None
        if self.is_oblique(key):
            return {"index": index}
        self.extensions.add("KHR_texture_transform")
        return {"index": index, "extensions": {"KHR_texture_transform": _transform(finish.texture, how)}}


def _transform(texture: Texture, how: str) -> Json:
    """How places in metres become places in a tile. What is laid level reads (u, v): v is turned over as images run
    downwards; turned it reads (v, w) or (w, u), second first."""
    base = 90.0 if how == "turned" else 0.0
    across, up = texture.across, up_of(texture)
    if round((base + texture.turn) / 90) % 2:
        across, up = up, across
    found: Json = {"scale": [1 / across, (-1 if how == "level" else 1) / up]}
    if turn := base + texture.turn:
        found["rotation"] = round(turn / 180 * pi, 12)
    shift = laid(texture)[:, 2]
    if shift.any():
        found["offset"] = [float(shift[0]), float(-shift[1])]
    return found


def _extensions(finish: Finish) -> Json:
    found: Json = {}
    if finish.transmits:
        found["KHR_materials_transmission"] = {"transmissionFactor": finish.transmission}
        found["KHR_materials_ior"] = {"ior": finish.ior}
    if finish.varnish:
        found["KHR_materials_clearcoat"] = {"clearcoatFactor": finish.varnish, "clearcoatRoughnessFactor": 0.05}
    if finish.sheen:
        found["KHR_materials_sheen"] = {"sheenColorFactor": [finish.sheen] * 3, "sheenRoughnessFactor": 0.5}
    return found
