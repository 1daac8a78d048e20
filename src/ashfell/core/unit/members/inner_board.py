"""The board inside at the foot of a unit: over the reveal to the wall's inner face and a little beyond."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from functools import partial

from ashfell.core.base.refusal import Refusal
from ashfell.core.base.spacing import exact_mm
from ashfell.core.parts import ALONG_U, Member
from ashfell.core.solid.boolean import of_manifold
from ashfell.core.solid.form import Box, Carved, Form, Sweep
from ashfell.core.solid.section import edge_points
from ashfell.core.solid.topology import Solid
from ashfell.core.unit.document.trim import InnerBoard
from ashfell.core.unit.document.unit import UnitDocument
from ashfell.core.unit.layout import Layout, Ring
from ashfell.core.unit.members.jambs import jambs_of, stands_on_board
from ashfell.core.unit.members.limits import check_edge
from ashfell.core.unit.members.trim import along_u, straight_side

ENTRY = "trim.board"


def inner_board(document: UnitDocument, layout: Layout) -> Iterator[Member]:
    """The inner board of a unit, where it has one: it lies behind the frame, from its foot up, as wide as that in the
    reveal and with horns before the wall.

    Raises
    ------
    Refusal
        When the outline has no level sill with a member, or the board would stand before the glass.
    """
    board = document.trim.board
    if board is None:
        return
    left, right, foot = straight_side(layout, "sill", ENTRY)
    ring, frame = layout.outermost, layout.frame
    if "sill" in ring.bare or not ring.faces.any():
        raise Refusal(ENTRY, "a sill to stand behind", "This frame has no member at its foot.", "Leave the board out.")
    _check(board, _face_of_sill(ring))
    if document.trim.inside and jambs_of(ring) < board.thickness.mm:
        raise stands_on_board()
    back, wall = -float(ring.back), -float(frame.back + _forward(board))
    horns = float(board.horns.mm)
    whole = along_u(_section(board, back, wall, foot), left - horns, right + horns)
    form: Form = whole
    if horns and wall < back - 1e-9:
        high = (foot - 1, foot + float(board.thickness.mm) + 1)
        ends = ((left - horns - 1, left), (right, right + horns + 1))
        blocks = [Box((a, high[0], wall), (b, high[1], back + 1)) for a, b in ends]
        form = Carved(partial(_notched, whole, blocks), whole.length)
    yield Member("board", ENTRY, "board", document.finishes.of("board"), ALONG_U, form)


def _forward(board: InnerBoard) -> Fraction:
    """How far the wall's inner face stands behind the frame, mm."""
    return board.forward.mm if board.forward else Fraction(0)


def _face_of_sill(ring: Ring) -> Fraction:
    """How high the member at the foot of a ring is, mm."""
    own = min(face for face, tag in zip(ring.faces.tolist(), ring.loop.tags, strict=True) if tag == "sill")
    return Fraction(own).limit_denominator(10**6)


def _check(board: InnerBoard, most: Fraction) -> None:
    """Refuse a board that is thicker than what stands before it is high, or ends within the frame."""
    if board.thickness.mm > most:
        raise Refusal(
            f"{ENTRY}.thickness",
            "a board below the glass",
            f"The board is {exact_mm(board.thickness.mm)} thick, the frame before it {exact_mm(most)} high.",
            f"Make it {exact_mm(most)} at most.",
            most,
        )
    forward = _forward(board)
    if forward + board.projection.mm <= 1:
        raise Refusal(
            f"{ENTRY}.projection",
            "a board behind the frame",
            f"The wall ends {exact_mm(-forward)} before the back of the frame, and the board stands out "
            f"{exact_mm(board.projection.mm)} of it.",
            f"Let it stand out {exact_mm(2 - forward)} at least.",
            2 - forward,
        )


def _section(board: InnerBoard, back: float, wall: float, foot: float) -> list[tuple[float, float]]:
    """Points (w, v): its two front edges are worked."""
    front, thick = wall - float(board.projection.mm), float(board.thickness.mm)
    deep = board.projection.mm + _forward(board)
    check_edge(board.edge, board.thickness.mm / 2, deep, f"{ENTRY}.edge", "the board")
    points = edge_points(board.edge)
    lower = [(front + y, foot + x) for x, y in reversed(points)]
    upper = [(front + y, foot + thick - x) for x, y in points]
    return [(back, foot), *lower, *upper, (back, foot + thick)]


def _notched(whole: Sweep, blocks: list[Box]) -> list[Solid]:
    """The board without what of its horns would be in the wall."""
    left = whole.solids()[0].manifold()
    for block in blocks:
        left -= block.solids()[0].manifold()
    return of_manifold(left)
