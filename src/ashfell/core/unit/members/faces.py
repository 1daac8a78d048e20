"""Faces: how wide the members of a ring are along each side; one rule for frames, extra rings and sashes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction

import numpy as np

from ashfell.core.base.refusal import Refusal
from ashfell.core.plane.loop import Loop
from ashfell.core.plane.points import TOUCH, Floats, cross, following, left_of

JAMBS = ("left", "right")
"""The sides that ``jambs`` names together."""


def exact_face(side: str, face: Fraction, sides: Mapping[str, Fraction]) -> Fraction:
    """The face along one side, mm: its own, that of both jambs, or the common one."""
    own = sides.get(side, sides.get("jambs") if side in JAMBS else None)
    return face if own is None else own


def side_faces(loop: Loop, face: Fraction, sides: Mapping[str, Fraction], entry: str) -> Floats:
    """The face along each edge of a loop, (c,) mm; along a curve that runs on from the sides
    beside it, it goes from that of one to its own and to that of the other.

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
        When there is no side of a name.
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
    for run in _tangent_curves(loop):
        tag = loop.tags[run[0]]
        own = float(found[run[0]]) if tag in sides or not tag.startswith("corner") else None
        wanted = (float(found[run[0] - 1]), own, float(found[(run[-1] + 1) % len(found)]))
        found[run] = carried = _carried(loop, run, wanted)
        least = carried.min()
        if not least >= min(value for value in wanted if value is not None) / 2 - 1e-9:
            told = "cannot be carried round" if np.isnan(least) else f"would come down to {least:.2f} mm"
            raise Refusal(
                f"{entry}.{tag}",
                "an even face round curved corners",
                f"Between {wanted[0]:g} and {wanted[2]:g} mm this curve {told}.",
                "Give the sides beside curved ones the same width.",
            )
    return found


def _tangent_curves(loop: Loop) -> list[list[int]]:
    """The edges of each curved side that runs on from the sides beside it without an angle."""
    return [
        [*edges]
        for _, edges, closed in loop.runs()
        if not closed and len(edges) > 1 and loop.curved[edges[0]] and _is_tangent(loop, edges)
    ]


def _is_tangent(loop: Loop, run: Sequence[int]) -> bool:
    """Whether a run of facets meets both sides beside it at half the angle that its facets make."""
    order = [run[0] - 1, *run, (run[-1] + 1) % len(loop.tags)]
    along = loop.along[order]
    turns = np.abs(np.arcsin(np.clip(cross(along[:-1], along[1:]), -1, 1)))
    return bool(max(turns[0], turns[-1]) < 0.75 * turns[1:-1].max(initial=0.0))


def _carried(loop: Loop, run: Sequence[int], wanted: tuple[float, float | None, float]) -> Floats:
    """The distances of a curved side's facets, mm: ``wanted`` are those of the side before it, its own in its middle
    (for a corner that has none: its arc keeps its centre for the lesser of the others), and that of the side behind it.
    Its arcs keep their centres for one distance and are then moved, so that they are arcs again and run on into both
    sides."""
    before, own, after = wanted
    normals = left_of(loop.along)
    held = [run[0] - 1, (run[-1] + 1) % len(loop.tags)]
    if own is None:
        least = min(before, after)
        move = _solved(normals[held], np.array([before - least, after - least]))
    elif own == before == after:
        return np.full(len(run), own)
    else:
        middle = normals[run[len(run) // 2 - (1 - len(run) % 2) : len(run) // 2 + 1]].sum(axis=0)
        looks = np.array([normals[held[0]], middle / np.hypot(*middle), normals[held[1]]])
        least, *moved = _solved(np.column_stack([np.ones(3), looks]), np.array([before, own, after])).tolist()
        move = np.array(moved)
    return np.asarray(least + normals[[*run]] @ move)


def _solved(rows: Floats, wanted: Floats) -> Floats:
    """What gives ``wanted``, and the least of it where the sides at both ends of a curve look one way (it begins and
    ends on one side); not a number where nothing gives it."""
    found, _, rank, _ = np.linalg.lstsq(rows, wanted, rcond=1e-6)
    fits = rank == len(rows) or np.abs(rows @ found - wanted).max() < TOUCH
    return np.asarray(found if fits else np.full(len(found), np.nan))


def check_left_out(loop: Loop, face: Fraction, sides: Mapping[str, Fraction], entry: str) -> None:
    """Refuse to leave out the member of a side that is curved, or runs into a curve, or is the last.

    Raises
    ------
    Refusal
    """
    tags = loop.tags
    bare = {tag for tag in tags if not exact_face(tag, face, sides)}
    for k, tag in enumerate(tags):
        if tag in bare:
            ends = loop.along[[k - 1, (k + 1) % len(tags)]]
            smooth = np.abs(cross(ends, loop.along[[k, k]])).min() < 0.1
            why = "is curved" if loop.curved[k] else "runs into a curve" if smooth else ""
            if why or bare == set(tags):
                raise Refusal(
                    f"{entry}.{tag}",
                    "a side that can be left out",
                    f"The {tag} {why or 'is the last'}: its member cannot be left out.",
                    "Give it a face, or none of its own.",
                )


def check_uneven(loop: Loop, corners: Floats, entry: str) -> None:
    """Refuse a profile laid round a loop, (c, k, 3), where a member beside a hollow corner runs into the next one:
    their faces are too unlike.
    """
    turns = cross(loop.along, following(loop.along))
    hollow = [run for run in loop.runs() if loop.curved[run[1][0]] and len(run[1]) > 1 and turns[run[1][0]] < 0]
    if not hollow:
        return
    here, there = corners[..., :2], following(corners[..., :2])
    inner, inner_there = np.roll(here, -1, axis=1), np.roll(there, -1, axis=1)
    first = cross(there - here, inner_there - here)
    second = cross(inner_there - here, inner - here)
    forwards = np.sign((first + second).sum(axis=0))
    if (np.minimum(first * forwards, second * forwards) < -TOUCH).any():
        tag = hollow[0][0]
        raise Refusal(
            f"{entry}.{tag}",
            "an even face round curved corners",
            "A hollow corner does not run into sides so unlike it.",
            "Give the sides beside hollow corners the same width.",
        )
