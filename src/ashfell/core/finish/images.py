"""Images of textures, by the SHA-256 of their content."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.held import Held
from ashfell.core.base.refusal import Refusal

Pixels = NDArray[np.uint8]


def _missing(key: str) -> Refusal:
    told = f"The image {key[:12]}… is not here."
    return Refusal("texture.maps", "an image that is kept", told, "Bring the image again.")


image: Held[Pixels, Pixels] = Held(lambda pixels: pixels, _missing)
"""The pixels (h, w, 3) of an image, sRGB bytes as they were brought, from what offered itself with them."""
