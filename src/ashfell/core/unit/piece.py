"""A piece of hardware by itself, as a catalogue keeps it: said, drawn from before it and from its side."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ashfell.core.base.document import Document, Name
from ashfell.core.base.lengths import Style
from ashfell.core.kinds.hardware import HARDWARE, HardwareEntry, OneHardware, made_of
from ashfell.core.parts import ALONG_V, Part
from ashfell.core.plane.points import Floats
from ashfell.core.seen import Shape, smooth_elevation
from ashfell.core.unit.say.writer import Sentence, Writer

APART = 0.25
"""How far from each other the two views of a piece are drawn, of its larger size."""
FROM_ITS_SIDE = np.array([[0.0, 0.0, 1.0], [0.0, 1.0, 0.0], [-1.0, 0.0, 0.0]])
"""How a piece is turned to be seen from its left: the face that it is fixed to is on the left then."""


class PieceDocument(Document):
    """A piece with its sizes, and where it is put when nothing else is said."""

    name: Name
    hardware: OneHardware


def piece_name(kind: str) -> str:
    """What a piece of a kind is called: "Lever"."""
    return HARDWARE[kind].words.partition(" ")[2].capitalize()


def piece_bounds(own: HardwareEntry) -> Floats:
    """(2, 3): least and greatest corner of a piece in its own space, turned as it is, mm."""
    points = made_of(own)[1]
    return np.array([points.min(axis=0), points.max(axis=0)])


def piece_shapes(own: HardwareEntry) -> list[Shape]:
    """A piece as it is seen from before it, and beside that from its left."""
    pieces, _ = made_of(own)
    parts = [
        Part(f"{piece.name}.{number}", "", "hardware", "", ALONG_V, solid)
        for piece in pieces
        for number, solid in enumerate(piece.form.solids())
    ]
    turned = np.eye(4)
    turned[:3, :3] = FROM_ITS_SIDE
    front, side = smooth_elevation(parts), smooth_elevation([part.moved(turned) for part in parts])
    low, high = piece_bounds(own)
    shift = np.array([high[0] + APART * float((high - low).max()), 0.0])
    return [*front, *(_shifted(shape, shift) for shape in side)]


def _shifted(shape: Shape, by: Floats) -> Shape:
    assert shape.lines is not None
    return shape._replace(loops=tuple(loop + by for loop in shape.loops), lines=shape.lines + by)


def piece_text(own: HardwareEntry, style: Style, finishes: Mapping[str, str]) -> str:
    """What a piece is, in words."""
    writer, record = Writer(style, finishes), HARDWARE[own.kind]
    sentence = Sentence("", (record.words.capitalize(), ",", *record.say(writer, "", own)))
    return f"{sentence.text.rstrip(' ,')}."
