"""Faces: how wide the members of a ring are along each side; one rule for frames, extra rings and sashes."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import Floats

JAMBS = ("left", "right")
"""The sides that ``jambs`` names together."""


def exact_face(side: str, face: Fraction, sides: Mapping[str, Fraction]) -> Fraction:
    """The face along one side, mm: its own, that of both jambs, or the common one."""
    own = sides.get(side, sides.get("jambs") if side in JAMBS else None)
    return face if own is None else own


def side_faces(loop: Loop, face: Fraction, sides: Mapping[str, Fraction], entry: str) -> Floats:
    """The face along each edge of a loop, (c,) mm.

    Parameters
    ----------
    loop : Loop
        The outer edge of the ring; its tags are the sides.
    face : Fraction
        The common face, mm.
    sides : mapping
        Faces of sides that differ, by name; ``jambs`` is left and right together.
    entry : str
        Address of the entry that holds ``sides``.

    Raises
    ------
    Refusal
        When there is no side of a name, or a curved corner would run into a side of another width.
    """
    names = set(loop.tags)
    for name in sides:
        if name not in names and not (name == "jambs" and names & set(JAMBS)):
            raise Refusal(
                f"{entry}.{name}",
                "a side of this outline",
                f"This outline has no side “{name}”.",
                f"Its sides are {', '.join(dict.fromkeys(loop.tags))}.",
            )
    found = np.array([float(exact_face(tag, face, sides)) for tag in loop.tags])
    for k, (tag, curved) in enumerate(zip(loop.tags, loop.curved, strict=True)):
        beside = found[[k - 1, (k + 1) % len(found)]]
        if curved and tag.startswith("corner") and (np.abs(beside - found[k]) > 1e-9).any():
            wide = beside[np.abs(beside - found[k]).argmax()]
            raise Refusal(
                f"{entry}.{tag}",
                "an even face round curved corners",
                f"A curved corner {found[k]:g} mm wide cannot run into a side {wide:g} mm wide.",
                "Give the sides beside curved corners the same width.",
            )
    return found
