"""What the house keeps to: no module over 400 lines, no function over 60, every public name of the core documented.

``python tools/limits.py`` tells what does not, and fails if anything does.
"""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SRC = ROOT / "src" / "ashfell"
LONGEST_MODULE, LONGEST_FUNCTION = 400, 60
Function = ast.FunctionDef | ast.AsyncFunctionDef


def main() -> int:
    found = [line for path in sorted(SRC.rglob("*.py")) if "migrations" not in path.parts for line in told(path)]
    print("\n".join(found) or "Every module and function is within its limits, and the core is documented.")
    return 1 if found else 0


def told(path: Path) -> Iterator[str]:
    """What is wrong with one module."""
    text, name = path.read_text(), path.relative_to(ROOT)
    lines = len(text.splitlines())
    if lines > LONGEST_MODULE:
        yield f"{name}: {lines} lines, at most {LONGEST_MODULE}"
    tree = ast.parse(text)
    core = SRC / "core" in path.parents
    if text.strip() and ast.get_docstring(tree) is None and path.name != "__init__.py":
        yield f"{name}: no docstring"
    for node in ast.walk(tree):
        if isinstance(node, Function):
            size = (node.end_lineno or node.lineno) - node.lineno + 1
            if size > LONGEST_FUNCTION:
                yield f"{name}:{node.lineno}: {node.name} has {size} lines, at most {LONGEST_FUNCTION}"
    if core:
        yield from (f"{name}:{line}: {what} has no docstring" for line, what in undocumented(tree.body))


def undocumented(body: list[ast.stmt]) -> Iterator[tuple[int, str]]:
    """Public classes, functions and methods without a docstring; what overrides says the same as what it overrides."""
    for node in body:
        if not isinstance(node, (*Function.__args__, ast.ClassDef)) or node.name.startswith("_"):  # type: ignore[attr-defined]
            continue
        if ast.get_docstring(node) is None:
            yield node.lineno, node.name
        if isinstance(node, ast.ClassDef):
            own = [inner for inner in node.body if not (node.bases and isinstance(inner, Function))]
            yield from ((line, f"{node.name}.{what}") for line, what in undocumented(own))


if __name__ == "__main__":
    sys.exit(main())
