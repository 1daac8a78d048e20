"""Computed textures kept between runs: making them costs seconds, and they depend on their finish alone."""

from __future__ import annotations

from functools import lru_cache

from ashfell.core.finish import Finish
from ashfell.core.finish.texture import VERSION
from ashfell.formats import shelf
from ashfell.formats.glb_materials import Of, texture_jpeg


@lru_cache(maxsize=128)
def jpeg(finish: Finish, of: Of = "colour") -> bytes:
    """One tile of a finish as JPEG, its colour or roughness; made once."""
    return shelf.kept(f"{VERSION} {of} {finish.model_dump_json()}", "jpg", lambda: texture_jpeg(finish, of))
