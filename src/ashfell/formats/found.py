"""A closed path found in a drawing, and the units of drawings: what asks for one does not read the libraries of
formats."""

from __future__ import annotations

from dataclasses import dataclass

from ashfell.core.base.document import Data

Node = tuple[float, float, float]
"""A node of a path: x, y and the bulge of what follows it."""
MM_OF: dict[str, float] = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8, "px": 25.4 / 96}
"""Millimetres of each unit; a CSS pixel is 1/96 in."""


@dataclass(frozen=True)
class Found:
    """A closed path: its nodes (x, y, bulge), mm, from the lower left of its bounds, and its size."""

    nodes: tuple[Node, ...]
    width: float
    height: float

    @property
    def words(self) -> str:
        return f"{self.width:.6g} by {self.height:.6g} mm, {len(self.nodes)} nodes"

    def document(self) -> Data:
        """The entries of a unit document that give it this outline."""
        nodes = [{"x": f"{x:.10g}", "y": f"{y:.10g}", "bulge": round(bulge, 9)} for x, y, bulge in self.nodes]
        return {
            "outline": {"kind": "path", "nodes": nodes},
            "width": f"{self.width:.10g}",
            "height": f"{self.height:.10g}",
        }
