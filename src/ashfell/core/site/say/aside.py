"""The sentences of lamps, cameras and what stands round the building."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ashfell.core.base.address import Address
from ashfell.core.kinds.lamp import LAMPS
from ashfell.core.kinds.surrounding import SURROUNDINGS
from ashfell.core.site.document.camera import Camera
from ashfell.core.site.document.lamp import Lamp
from ashfell.core.site.document.surrounding import Surrounding
from ashfell.core.site.say.building import Storeys
from ashfell.core.unit.say.writer import Sentence, Writer

BROUGHT = {"yes": "in its own finishes", "no": "all of it in"}
UPRIGHT = {"yes": "kept upright", "no": "as the camera tilts"}


def say_lamp(w: Writer, lamp: Lamp, storeys: Storeys) -> Sentence:
    """What somebody would say of a lamp."""
    path, entries = Address("lamps") / lamp.id, lamp.of.entries
    kinds = {key: kind.label for key, kind in LAMPS.items()}
    said: list[Any] = ["A", w.choice(path / "kind", lamp.kind, kinds, "Kind of lamp")]
    if "width" in entries:
        said.append(w.length(path / "width", lamp.width, "Width"))
        said.append("by" if "length" in entries else "across")
    if "length" in entries:
        said.append(w.length(path / "length", lamp.length, "Length"))
    if "beam" in entries:
        said += ["of", w.number(path / "beam", lamp.beam, "Beam in degrees"), "°"]
    said += [
        "with",
        w.number(path / "lumens", lamp.lumens, "Light in lumens"),
        "lm of",
        w.number(path / "kelvin", lamp.kelvin, "Colour in kelvin"),
        "K, at",
        w.length(path / "x", lamp.x, "Across"),
        ",",
        w.length(path / "y", lamp.y, "Up"),
        ",",
        w.length(path / "z", lamp.z, "Height"),
        *_above(w, path, lamp.storey, storeys),
    ]
    if "tilt" in entries:
        said += [", tilted", w.number(path / "tilt", lamp.tilt, "Tilt in degrees from straight down"), "°"]
        said += ["to", w.number(path / "turn", lamp.turn, "Turned in degrees from x"), "°"]
    said += [", switched with", w.text(path / "group", lamp.group, "Group of lamps"), "."]
    return Sentence(path, tuple(said))


def say_camera(w: Writer, camera: Camera, storeys: Storeys) -> Sentence:
    """What somebody would say of a camera."""
    path = Address("cameras") / camera.id
    said: list[Any] = [
        "Stands at",
        w.length(path / "x", camera.x, "Across"),
        ",",
        w.length(path / "y", camera.y, "Up"),
        ", its eye",
        w.length(path / "z", camera.z, "Height of the eye"),
        *_above(w, path, camera.storey, storeys),
        ", looks at",
        w.length(path / "to_x", camera.to_x, "Target across"),
        ",",
        w.length(path / "to_y", camera.to_y, "Target up"),
        ",",
        w.length(path / "to_z", camera.to_z, "Height of the target"),
        "through",
        w.number(path / "lens", camera.lens, "Lens in mm, for a frame 36 mm wide"),
        "mm, verticals",
        w.choice(path / "upright", "yes" if camera.upright else "no", UPRIGHT, "Verticals"),
        ", rolled",
        w.number(path / "roll", camera.roll, "Roll in degrees"),
        "°, nothing nearer than",
        w.length(path / "clip", camera.clip, "Nearest that is seen"),
        ".",
    ]
    return Sentence(path, tuple(said))


def say_surrounding(w: Writer, one: Surrounding, openings: Mapping[str, str] = {}) -> Sentence:
    """What somebody would say of what stands round the building; a model may stand in one of the ``openings``, by their
    ids."""
    path, entries = Address("surroundings") / one.id, one.of.entries
    kinds = {key: kind.label for key, kind in SURROUNDINGS.items() if "mesh" not in kind.entries}
    brought = "mesh" in entries
    said: list[Any] = ["A model"] if brought else ["A", w.choice(path / "kind", one.kind, kinds, "What it is")]
    if "width" in entries:
        said += [w.length(path / "width", one.width, "Width"), "wide,"]
    if "depth" in entries:
        said += [w.length(path / "depth", one.depth, "Depth"), "deep,"]
    said += [w.length(path / "height", one.height, "Height"), "high"]
    if "ridge" in entries:
        said += [", its roof rising by", w.length(path / "ridge", one.ridge, "Rise of its roof")]
    if "trunk" in entries:
        said += [", its crown from", w.length(path / "trunk", one.trunk, "Height of its trunk"), "up"]
    if brought:
        here = {one.opening: one.opening} if one.opening not in openings else {}
        words = {"": "in no opening", **here, **openings}
        said += [",", w.choice(path / "opening", one.opening, words, "Opening that it stands in as it is")]
    if one.opening:
        said += [",", w.length(path / "recess", one.recess, "Recess"), "behind the outer face"]
    else:
        said += [
            ", at",
            w.length(path / "x", one.x, "Across"),
            ",",
            w.length(path / "y", one.y, "Up"),
            ",",
            w.length(path / "level", one.level, "Level of its foot"),
            "above 0",
        ]
    said += [", turned", w.number(path / "turn", one.turn, "Turned in degrees"), "°,"]
    if brought:
        said += [w.choice(path / "as_brought", "yes" if one.as_brought else "no", BROUGHT, "Its finishes")]
    if not brought or not one.as_brought:
        said += [w.finish(path / "finish", one.finish, "Finish")]
    if "seed" in entries:
        said += [", grown as number", w.number(path / "seed", one.seed, "Number it has grown by")]
    return Sentence(path, (*said, "."))


def _above(w: Writer, path: Address, storey: str | None, storeys: Storeys) -> list[Any]:
    if not storeys:
        return ["above the ground"]
    return ["above", w.choice(path / "storey", storey or "", {"": "0"} | dict(storeys), "Storey that it stands on")]
