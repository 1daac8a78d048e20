"""Outlines and lines to trace over from a stranger's SVG or DXF, read in a process with limits.

Run as a module it reads a file on its standard input and writes what it found as JSON.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence

from ashfell.core.base.refusal import Refusal
from ashfell.formats.found import Found
from ashfell.services import bounded

MEMORY = 1000 * 2**20


def outlines(content: bytes, name: str, unit: str = "") -> list[Found]:
    """The closed paths of a drawing, the largest first; see :func:`read_paths`.

    Raises
    ------
    Refusal
        When it cannot be read, or takes more than it may.
    """
    made = json.loads(bounded.run("ashfell.services.reading.drawing", content, "outlines", name, unit, memory=MEMORY))
    return [Found(tuple((x, y, bulge) for x, y, bulge in nodes), width, height) for nodes, width, height in made]


def lines(content: bytes, name: str) -> tuple[str, float, float]:
    """All that a drawing draws as path data, and its size; see :func:`read_lines`.

    Raises
    ------
    Refusal
        When it cannot be read, or takes more than it may.
    """
    path, across, up = json.loads(
        bounded.run("ashfell.services.reading.drawing", content, "lines", name, memory=MEMORY)
    )
    return str(path), float(across), float(up)


def main(arguments: Sequence[str] = sys.argv[1:]) -> int:
    """Read a drawing on standard input, write what was found."""
    from ashfell.formats.paths import read_lines, read_paths  # not for who only asks

    what, name, unit = (*arguments, "", "", "")[:3]
    content = sys.stdin.buffer.read()
    try:
        if what == "outlines":
            made: object = [(one.nodes, one.width, one.height) for one in read_paths(content, name, unit)]
        else:
            made = read_lines(content, name, unit)
    except Refusal as refusal:
        return bounded.tell(refusal)
    except (ValueError, ArithmeticError, LookupError, TypeError, AttributeError, RecursionError) as error:
        # Whatever a stranger's numbers do to the libraries that read them.
        told = f"The drawing cannot be read: {type(error).__name__}."
        return bounded.tell(Refusal("file", "a drawing that can be read", told, "Export it again, with plain numbers."))
    sys.stdout.write(json.dumps(made, allow_nan=False))
    return 0


if __name__ == "__main__":
    sys.exit(main())
