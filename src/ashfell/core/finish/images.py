"""Images of textures, by the SHA-256 of their content: whatever holds one, it is the same one.

What holds images offers itself here as a source; the core reads no files.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.refusal import Refusal

Pixels = NDArray[np.uint8]
Source = Callable[[str], "Pixels | None"]
"""The pixels (h, w, 3) of a key, sRGB bytes as they were brought; None where it is not held there."""

_SOURCES: list[Source] = []


def offer(source: Source) -> Source:
    """Add a source."""
    if source not in _SOURCES:
        _SOURCES.append(source)
    return source


@lru_cache(maxsize=8)
def image(key: str) -> Pixels:
    """The pixels of an image, (h, w, 3).

    Raises
    ------
    Refusal
        When nothing holds it.
    """
    for source in _SOURCES:
        found = source(key)
        if found is not None:
            return found
    raise Refusal(
        "texture.maps", "an image that is kept", f"The image {key[:12]}… is not here.", "Bring the image again."
    )
