"""Images of textures: what somebody brings becomes a plain PNG of a sensible size, read in a process of its own.

Run as a module it reads an image on its standard input and writes the PNG.
"""

from __future__ import annotations

import io
import sys
from typing import IO, Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, UnidentifiedImageError

from ashfell.core.base.refusal import Refusal
from ashfell.services import bounded

LARGEST_FILE = 24 * 2**20
MOST_PIXELS = 40_000_000
KEPT = (2048, 2048)
"""The size it is kept in at most, pixels."""
FORMATS = ("PNG", "JPEG", "WEBP")
EXR = b"\x76\x2f\x31\x01"
"""What an OpenEXR file begins with."""


def brought(file: IO[Any] | None, size: int, clear: bool = False) -> bytes:
    """A PNG of an image that somebody brings: without anything but its pixels, at most as large as is kept; ``clear``
    is whether what is clear in it stays so.

    Raises
    ------
    Refusal
        When there is none, it is too large, or cannot be read.
    """
    if file is None or size > LARGEST_FILE:
        told = f"Choose a PNG, JPEG or EXR of at most {LARGEST_FILE // 2**20} MiB."
        raise Refusal("file", "an image", told)
    content = file.read()
    memory = bounded.MEMORY * (3 if content.startswith(EXR) else 1)
    return bounded.run("ashfell.services.images", content, *(["clear"] if clear else []), memory=memory)


def pixels_of(content: bytes) -> NDArray[np.uint8]:
    """The pixels (h, w, 3) of a PNG that is kept."""
    with Image.open(io.BytesIO(content), formats=("PNG",)) as image:
        return np.asarray(image.convert("RGB"), dtype=np.uint8)


def _read(content: bytes) -> Image.Image:
    if content.startswith(EXR):
        return Image.fromarray(_from_exr(content))
    image = Image.open(io.BytesIO(content), formats=FORMATS)
    if image.width * image.height > MOST_PIXELS:
        raise _refused(f"{image.width} by {image.height} pixels are too many.", "Make it smaller.")
    image.draft("RGB", KEPT)
    if image.mode.startswith("I"):  # 16 bits of grey
        return Image.fromarray((np.asarray(image, dtype=np.float64) / 257).clip(0, 255).astype(np.uint8))
    return image


def _from_exr(content: bytes) -> NDArray[np.uint8]:
    import mitsuba as mi

    mi.set_variant("scalar_rgb")
    stream = mi.MemoryStream()
    stream.write(content)
    stream.seek(0)
    bitmap = mi.Bitmap(stream, mi.Bitmap.FileFormat.OpenEXR)
    held = bitmap.convert(mi.Bitmap.PixelFormat.RGB, mi.Struct.Type.UInt8, srgb_gamma=True)
    return np.asarray(held, dtype=np.uint8)


def _refused(message: str, remedy: str) -> Refusal:
    return Refusal("file", "an image that can be read", message, remedy)


def main() -> int:
    """Read an image on standard input, write it as PNG."""
    try:
        image = _read(sys.stdin.buffer.read())
        image.thumbnail(KEPT)
        held = io.BytesIO()
        alpha = "clear" in sys.argv[1:] and "A" in image.getbands()
        image.convert("RGBA" if alpha else "RGB").save(held, "PNG")
    except Refusal as refusal:
        return bounded.tell(refusal)
    except (UnidentifiedImageError, OSError, SyntaxError, RuntimeError, ValueError, Image.DecompressionBombError):
        return bounded.tell(_refused("The file is no image that can be read.", "Choose PNG, JPEG, WebP or EXR."))
    sys.stdout.buffer.write(held.getvalue())
    return 0


if __name__ == "__main__":
    sys.exit(main())
