"""What is written twice: pylint's comparison of lines. Types are not inferred for it, which takes most of its time.

``python tools/repeats.py`` tells what is, and fails if anything is.
"""

from __future__ import annotations

import sys

from astroid.manager import AstroidManager
from pylint import run_pylint

PLACES = ["src/ashfell", "tests", "bench", "tools"]


def main() -> None:
    AstroidManager.visit_transforms = lambda _, node: node  # type: ignore[method-assign]
    run_pylint(PLACES)


if __name__ == "__main__":
    sys.exit(main())
