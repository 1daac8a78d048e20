"""Computed textures kept between runs: making them costs seconds, and they depend on their finish alone."""

from __future__ import annotations

import hashlib
import os
from functools import lru_cache
from pathlib import Path

from ashfell.core.finish import Finish
from ashfell.core.finish.texture import VERSION
from ashfell.formats.glb_materials import Of, texture_jpeg


def folder() -> Path:
    """Where they are kept: ``ASHFELL_CACHE``, else the place for such things in the person's home."""
    given = os.environ.get("ASHFELL_CACHE")
    if given:
        return Path(given)
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "ashfell"


@lru_cache(maxsize=128)
def jpeg(finish: Finish, of: Of = "colour") -> bytes:
    """One tile of a finish as JPEG, its colour or roughness, from the folder where it was made before.

    Where nothing can be kept it is made each time.
    """
    name = hashlib.sha256(f"{VERSION} {of} {finish.model_dump_json()}".encode()).hexdigest()[:32]
    kept = folder() / f"{name}.jpg"
    try:
        return kept.read_bytes()
    except OSError:
        made = texture_jpeg(finish, of)
    try:
        kept.parent.mkdir(parents=True, exist_ok=True)
        new = kept.with_suffix(f".{os.getpid()}.new")
        new.write_bytes(made)
        new.replace(kept)
    except OSError:
        return made
    return made
