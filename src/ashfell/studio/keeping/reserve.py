"""Room on the disk that is kept for signing in: when the disk is full it is given up, and taken again once there is
much more room than that."""

from __future__ import annotations

import os
import shutil
from contextlib import suppress
from pathlib import Path

from django.conf import settings

SIZE = 16 * 2**20
"""How much room is kept, bytes."""
EASY = 64
"""How many times as much must be free before it is taken again."""


def _file() -> Path:
    return Path(settings.VAR) / "reserve"


def hold() -> None:
    """Take the room, where it is not taken and the disk has plenty."""
    path = _file()
    if path.exists() or shutil.disk_usage(settings.VAR).free < EASY * SIZE:
        return
    with suppress(OSError), path.open("wb") as file:
        os.posix_fallocate(file.fileno(), 0, SIZE)


def give_up() -> bool:
    """Let others have the room; whether there was some."""
    try:
        _file().unlink()
    except FileNotFoundError:
        return False
    return True
