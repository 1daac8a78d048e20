"""Free closed paths of lines and arcs."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ashfell.core.base.document import Data, Document, Place, dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.outline import OUTLINES, OutlineEntry, OutlineKind
from ashfell.core.plane.curves import stretched
from ashfell.core.plane.outline import Outline
from ashfell.core.unit.say.writer import Action, Writer


class Node(Document):
    """A node of a free path; ``bulge`` of the segment that leaves it: 0 is a line, 1 a half circle turning left."""

    x: Place
    y: Place
    bulge: Annotated[float, Field(ge=-3, le=3)] = 0.0


class Path(OutlineEntry):
    """A free closed path, in its own coordinates; the overall size scales it when it differs from the path's."""

    kind: Literal["path"]
    nodes: Annotated[tuple[Node, ...], Field(min_length=2, max_length=400)]


def _path(entry: Path, width: float, height: float) -> Outline:
    outline = Outline.of([(float(node.x.mm), float(node.y.mm), node.bulge) for node in entry.nodes])
    if not outline.facets(1.0).polygon.is_valid:
        raise Refusal(
            "outline.nodes",
            "a path that does not cross itself",
            "The path crosses or touches itself.",
            "Put its nodes in order round the outline.",
        )
    return stretched(outline, width, height)


def _say(w: Writer, path: str, entry: Path) -> list[Any]:
    draw = Action(f"{path}.nodes", "Draw", "Draw the nodes of the outline", looks="points")
    return [f", through {len(entry.nodes)} nodes", draw]


def _new(unit: Data) -> Data:
    """The rectangle that the unit's overall size is."""
    width, height = unit["width"], unit["height"]
    nodes = [{"x": "0", "y": "0"}, {"x": width, "y": "0"}, {"x": width, "y": height}, {"x": "0", "y": height}]
    return dump(Path.model_validate({"kind": "path", "nodes": nodes}))


PATH = OUTLINES.register(OutlineKind("path", "Free path", Path, _path, order=140, say=_say, fresh=_new))
