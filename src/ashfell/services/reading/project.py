"""A project in one file, read with every document in it checked. Run as a module it reads a file on its standard input
and writes what it understood as JSON."""

from __future__ import annotations

import sys
from base64 import b64encode

from ashfell.core.base.refusal import Refusal
from ashfell.services import bounded
from ashfell.services.handover.project_file import read_project
from ashfell.services.reading.understood import Understood


def main() -> int:
    """Read a file on standard input, write what was understood."""
    try:
        taken = read_project(sys.stdin.buffer.read())
    except Refusal as refusal:
        return bounded.tell(refusal)
    found = Understood(taken.site, underlays=taken.underlays, revisions=taken.revisions)
    found.images = {key: b64encode(content).decode() for key, content in taken.images.items()}
    sys.stdout.buffer.write(found.written())
    return 0


if __name__ == "__main__":
    sys.exit(main())
