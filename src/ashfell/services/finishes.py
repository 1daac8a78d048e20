"""Finishes as files: a document with the images of its texture in it."""

from __future__ import annotations

import base64
import binascii
import io
import json
from collections.abc import Callable

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.services.documents import json_object
from ashfell.services.images import brought

LARGEST_FILE = 64 * 2**20


def image_keys(finish: Finish) -> list[str]:
    """The keys of the images that a finish shows."""
    return [key for key in dump(finish.texture.maps).values() if key] if finish.texture else []


def written(finish: Finish, image: Callable[[str], bytes | None]) -> str:
    """A finish as JSON, the images of its texture in base64 beside it."""
    images = {key: base64.b64encode(content).decode() for key in image_keys(finish) if (content := image(key))}
    return json.dumps(dump(finish) | ({"images": images} if images else {}), indent=1)


def taken_in(content: bytes, keep: Callable[[bytes], str]) -> Data:
    """The document of a finish from a file that somebody brings; its images are read as any others and kept.

    Raises
    ------
    Refusal
        When it is no finish, or an image of it is not there or cannot be read.
    """
    data = json_object(content, "a finish")
    images = data.pop("images", {})
    finish = read(Finish, data)
    document = dump(finish)
    for name, key in (document["texture"] or {}).get("maps", {}).items():
        if key:
            document["texture"]["maps"][name] = keep(_image(images, key, name))
    return document


def _image(images: object, key: str, name: str) -> bytes:
    text = images.get(key) if isinstance(images, dict) else None
    if not isinstance(text, str):
        told = f"The image of its {name} is not in the file."
        raise Refusal(f"texture.maps.{name}", "an image in the file", told, "Export the finish again.")
    try:
        content = base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        told = f"The image of its {name} is not base64."
        raise Refusal(f"texture.maps.{name}", "an image in the file", told, "Export the finish again.") from None
    return brought(io.BytesIO(content), len(content))
