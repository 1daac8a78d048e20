"""Several files in one, the same bytes for the same content."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping

BEGAN = (1980, 1, 1, 0, 0, 0)
"""The time that every file is said to be of: the earliest there is."""
ALIGNED = 64
"""Where the content of a stored file may begin, bytes."""


def packed(files: Mapping[str, bytes]) -> bytes:
    """A ZIP of files by name, compressed."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files.items():
            archive.writestr(_told(name, zipfile.ZIP_DEFLATED), content, compresslevel=6)
    return held.getvalue()


def stored(files: Mapping[str, bytes]) -> bytes:
    """A ZIP of files by name as they are, each beginning at a multiple of 64 bytes (as USDZ asks for)."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_STORED) as archive:
        for name, content in files.items():
            told = _told(name, zipfile.ZIP_STORED)
            begins = held.tell() + 30 + len(name.encode())
            room = -(begins + 4) % ALIGNED
            # A field of its own that holds nothing but room: two bytes of kind, two of length.
            told.extra = b"\x86\x19" + room.to_bytes(2, "little") + b"\0" * room
            archive.writestr(told, content)
    return held.getvalue()


def _told(name: str, how: int) -> zipfile.ZipInfo:
    told = zipfile.ZipInfo(name, BEGAN)
    told.compress_type = how
    told.external_attr = 0o644 << 16
    return told
