"""The sentences of storeys, walls, plates and roofs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.base.lengths import named
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.curve import CURVES
from ashfell.core.site.course import facets_of
from ashfell.core.site.document.plate import Plate
from ashfell.core.site.document.roof import Roof
from ashfell.core.site.document.wall import Storey, Wall
from ashfell.core.unit.say.writer import Action, Sentence, Writer

REFERENCES = {"outside": "its outer face", "centre": "its middle", "inside": "its inner face"}
FOLDS = {"no": "crisp", "yes": "smooth"}
CORNERS = {"mitred": "mitred", "through": "running through", "stopped": "stopped"}
BUILT = {"yes": "a wall", "no": "no wall, but what is placed"}
REACHES = {"inside": "inner faces", "outside": "outer faces"}
Storeys = Mapping[str, str]
"""What storeys are called, by id."""


def say_storey(w: Writer, storey: Storey) -> Sentence:
    """What somebody would say of a storey."""
    path = Address("storeys") / storey.id
    return _sentence(path, w.length(path / "height", storey.height, "Height of the storey"), "from floor to floor")


def say_wall(w: Writer, wall: Wall, storeys: Storeys) -> Sentence:
    """What somebody would say of a wall."""
    path = Address("walls") / wall.id
    curves = {"": "straight"} | {key: kind.words for key, kind in CURVES.items()}
    return _sentence(
        path,
        w.length(path / "length", wall.length, "Length"),
        "long,",
        w.choice(path / "curve.kind", wall.curve.kind if wall.curve else "", curves, "Course"),  # type: ignore[attr-defined]
        *_curve(w, path, wall),
        ", from",
        w.length(path / "x", wall.x, "Start across"),
        ",",
        w.length(path / "y", wall.y, "Start up"),
        "at",
        w.number(path / "angle", wall.angle, "Angle in degrees"),
        "°, on",
        w.choice(path / "reference", wall.reference, REFERENCES, "What stands on its line"),
        *_stands(w, path, wall, storeys),
        *_leaves(w, path, wall),
        "; its end",
        w.choice(path / "corner", wall.corner, CORNERS, "How it meets the next"),
        "; here stands",
        w.choice(path / "built", "yes" if wall.built else "no", BUILT, "Whether the wall is built"),
    )


def _curve(w: Writer, path: Address, wall: Wall) -> list[Any]:
    if wall.curve is None:
        return []
    own = path / "curve"
    kind = CURVES[wall.curve.kind]  # type: ignore[attr-defined]
    said = [*kind.say(w, own, wall.curve), "in"]
    if kind.ends is not None:
        smooth = w.choice(own / "smooth", "yes" if wall.curve.smooth else "no", FOLDS, "How its folds look")
        return [*said[:-1], ", folds", smooth]
    if wall.curve.chord is None:
        said += [w.number(own / "facets", wall.curve.facets, "Facets"), "facets"]
        said += [Action(own / "chord", "By chord", "Say how long a facet may be", "500 mm")]
    else:
        said += ["facets of", w.length(own / "chord", wall.curve.chord, "Longest facet"), "at most"]
    try:
        round_it = facets_of(wall)[-1].end
        said += [f"({named(round_it, w.style)} along them),"]
    except Refusal:
        said += [","]
    smooth = w.choice(own / "smooth", "yes" if wall.curve.smooth else "no", FOLDS, "How its folds look")
    return [*said, "folds", smooth]


def _stands(w: Writer, path: Address, wall: Wall, storeys: Storeys) -> list[Any]:
    """On which storey, how high, and what its top is like."""
    said: list[Any] = []
    if storeys:
        said += ["; on", w.choice(path / "storey", wall.storey or "", {"": "level 0"} | dict(storeys), "Storey")]
    if wall.base.mm or storeys:
        said += [", raised by", w.length(path / "base", wall.base, "Base")]
    else:
        said += [Action(path / "base", "Raise", "Let it begin above the ground", "300")]
    said += [","]
    if wall.up_to:
        tops = {"": "a height of its own"} | dict(storeys)
        said += ["to the top of", w.choice(path / "up_to", wall.up_to, tops, "To the top of")]
    else:
        said += [w.length(path / "height", wall.height, "Height"), "high"]
        last = list(storeys)[-1] if storeys else ""
        said += [Action(path / "up_to", "To a storey", "Let it reach the top of a storey", last)] if last else []
    if wall.ridge is not None:
        middle = "its middle"
        said += [", over a ridge", w.length(path / "ridge.height", wall.ridge.height, "Height of the ridge")]
        said += ["high at", w.length(path / "ridge.at", wall.ridge.at, "Where the ridge is", middle)]
        said += [Action(path / "ridge", "×", "Take the ridge away")]
    else:
        said += [Action(path / "ridge", "Ridge", "Let its top run over a ridge", "1")]
    if wall.end_height is not None or wall.ridge is None:
        said += [", at its end", w.length(path / "end_height", wall.end_height, "Height at its end", "as high")]
    return said


def _leaves(w: Writer, path: Address, wall: Wall) -> list[Any]:
    """What it is made of, from the outside in."""
    said: list[Any] = ["; ", w.length(path / "thickness", wall.thickness, "Thickness"), "thick:"]
    said += [w.finish(path / "outside", wall.outside, "Outside finish", own=False), "outside"]
    for index, leaf in enumerate(wall.leaves):
        own = path / f"leaves.{index}"
        finishes = {"": "cavity"} | dict(w.finishes)
        said += [",", w.length(own / "thickness", leaf.thickness, f"Thickness of leaf {index + 1}")]
        said += [w.choice(own / "finish", leaf.finish or "", finishes, f"Finish of leaf {index + 1}")]
        said += [Action(own / "removed", "×", f"Take leaf {index + 1} away")]
    said += [Action(path / "leaves.added", "Leaf", "Put a leaf or a cavity behind the outer one")]
    said += [", ", w.length(path / "lining", wall.lining, "Depth of the inside finish")]
    return [*said, w.finish(path / "inside", wall.inside, "Inside finish", own=False), "inside"]


def say_plate(w: Writer, plate: Plate, storeys: Storeys, walls: Mapping[str, str]) -> Sentence:
    """What somebody would say of a plate; ``walls`` are those it can lie within, by id."""
    path = Address("plates") / plate.id
    if plate.bay is not None:
        reach = w.choice(path / "reach", plate.reach, REACHES, "To which faces")
        own_sizes = Action(path / "bay", "Rectangle", "Give it sizes of its own", "")
        shape = ["to the", reach, f"of the bay of {walls.get(plate.bay, plate.bay)}", own_sizes]
    elif plate.corners:
        shape = _say_corners(w, path, plate)
    elif plate.walls:
        names = ", ".join(walls.get(key, key) for key in plate.walls)
        reach = w.choice(path / "reach", plate.reach, REACHES, "To which faces")
        shape = ["to the", reach, f"of {names}", Action(path / "walls", "Rectangle", "Give it sizes of its own", "[]")]
    else:
        shape = [
            w.length(path / "width", plate.width, "Width"),
            "by",
            w.length(path / "depth", plate.depth, "Depth"),
            ", from",
            w.length(path / "x", plate.x, "Start across"),
            ",",
            w.length(path / "y", plate.y, "Start up"),
            Action(path / "cornered", "Corners", "Let it go round corners of its own"),
            *([Action(path / "within", "Within walls", "Let it follow the walls round it")] if walls else []),
        ]
    return _sentence(
        path,
        *shape,
        ",",
        w.length(path / "thickness", plate.thickness, "Thickness"),
        "thick, top at",
        w.length(path / "level", plate.level, "Level"),
        *_above(w, path, plate.storey, storeys),
        ";",
        w.finish(path / "finish", plate.finish, "Finish", own=False),
    )


SAID = 16
"""Of more corners than this their number is told."""


def _say_corners(w: Writer, path: Address, plate: Plate) -> list[Any]:
    own_sizes = Action(path / "corners", "Rectangle", "Give it sizes of its own", "[]")
    if len(plate.corners) > SAID:
        return [f"round {len(plate.corners)} corners", own_sizes]
    said: list[Any] = ["round"]
    for index, corner in enumerate(plate.corners):
        own = path / "corners" / str(index)
        said += [
            *(["and"] if index else []),
            w.length(own / "x", corner.x, f"Across, corner {index + 1}"),
            ",",
            w.length(own / "y", corner.y, f"Up, corner {index + 1}"),
            Action(own / "removed", "×", f"Take corner {index + 1} away"),
        ]
    more = Action(path / "corners" / "added", "Corner", "Add a corner between the last and the first")
    return [*said, more, own_sizes]


def _above(w: Writer, path: Address, storey: str | None, storeys: Storeys) -> list[Any]:
    if not storeys:
        return []
    return ["above", w.choice(path / "storey", storey or "", {"": "level 0"} | dict(storeys), "Storey")]


def say_roof(w: Writer, roof: Roof, storeys: Storeys) -> Sentence:
    """What somebody would say of a roof plane."""
    path = Address("roofs") / roof.id
    return _sentence(
        path,
        w.length(path / "length", roof.length, "Length of the eaves"),
        "long, rises by",
        w.number(path / "slope", roof.slope, "Slope in degrees"),
        "° over",
        w.length(path / "run", roof.run, "Run"),
        ", from",
        w.length(path / "x", roof.x, "Start across"),
        ",",
        w.length(path / "y", roof.y, "Start up"),
        "at",
        w.number(path / "angle", roof.angle, "Angle in degrees"),
        "°, at",
        w.length(path / "level", roof.level, "Level of the eaves line"),
        *_above(w, path, roof.storey, storeys),
        "; eaves",
        w.length(path / "eaves", roof.eaves, "Eaves"),
        "out, verges",
        w.length(path / "verge", roof.verge, "Verges"),
        ", hips",
        w.length(path / "hip_start", roof.hip_start, "Hip at the start"),
        "and",
        w.length(path / "hip_end", roof.hip_end, "Hip at the end"),
        ";",
        w.length(path / "thickness", roof.thickness, "Thickness"),
        "thick,",
        w.finish(path / "outside", roof.outside, "Outside finish", own=False),
        "outside,",
        w.length(path / "lining", roof.lining, "Depth of the inside finish"),
        w.finish(path / "inside", roof.inside, "Inside finish", own=False),
        "inside",
    )


def _sentence(path: Address, *parts: Any) -> Sentence:
    flat: list[Any] = []
    for part in parts:
        flat += part if isinstance(part, (tuple, list)) else [part]
    return Sentence(path, (*flat, "."))
