"""A project in one file, read with every document in it checked. Run as a module it reads a file on its standard input
and writes what it understood as JSON."""

from __future__ import annotations

import sys
from base64 import b64encode

from ashfell.services.handover.project_file import read_project
from ashfell.services.reading.understood import Understood


def read_here(content: bytes) -> Understood:
    """What is in a project's file.

    Raises
    ------
    Refusal
        When it is none.
    """
    taken = read_project(content)
    found = Understood(taken.site, underlays=taken.underlays, revisions=taken.revisions)
    found.images = {key: b64encode(image).decode() for key, image in taken.images.items()}
    return found


def main() -> int:
    """Read a file on standard input, write what was understood."""
    return Understood.tell(lambda: read_here(sys.stdin.buffer.read()))


if __name__ == "__main__":
    sys.exit(main())
