"""What takes long to make and is the same whenever it is made, kept between runs by its name."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from tempfile import NamedTemporaryFile


def folder() -> Path:
    """Where it is kept: ``ASHFELL_CACHE``, else the place for such things in the person's home."""
    given = os.environ.get("ASHFELL_CACHE")
    if given:
        return Path(given)
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "ashfell"


def kept(name: str, suffix: str, make: Callable[[], bytes]) -> bytes:
    """What a name stands for, from the folder where it was made before. Where nothing can be kept it is made each
    time."""
    place = folder() / f"{hashlib.sha256(name.encode()).hexdigest()[:32]}.{suffix}"
    with suppress(OSError):
        return place.read_bytes()
    made = make()
    with suppress(OSError):
        place.parent.mkdir(parents=True, exist_ok=True)
        with NamedTemporaryFile(dir=place.parent, suffix=".new", delete=False) as new:
            try:
                new.write(made)
                new.flush()
                os.replace(new.name, place)
            except OSError:
                os.unlink(new.name)
    return made
