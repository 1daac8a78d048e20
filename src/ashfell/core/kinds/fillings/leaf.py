"""A leaf of a door: stiles and rails round what it holds, or what it holds alone."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from ashfell.core.base.document import Data, Gap, Side, Size, mm
from ashfell.core.base.lengths import named, parse
from ashfell.core.kinds.filling import FILLINGS, Filling
from ashfell.core.kinds.fillings.hung import (
    Hung,
    fresh_hung,
    hung_members,
    hung_operation,
    hung_pieces,
    hung_symbols,
    say_hung,
    solve_hung,
)
from ashfell.core.kinds.fillings.swing import Hinges, clear_width, clears_casing, sweeps
from ashfell.core.kinds.roles import ROLES, Role
from ashfell.core.unit.layout import Light
from ashfell.core.unit.say.writer import Action, Writer

LEAST_CLEAR = parse("32 in")
"""The clear width of a doorway on an accessible way (ADA 2010, 404.2.3, from memory), mm."""
ROLES.register(Role("leaf", "Leaves", "white-paint", (248, 244, 236), 35))


class Leaf(Hung):
    """A leaf: stiles and a top rail as wide as its ``face``, a taller bottom rail, stiles running through; a face of 0
    leaves the boards or the flush board that it holds alone. It hangs clear of the frame by its ``clearance``, over the
    floor or the threshold by its ``foot``, and has no stop there."""

    kind: Literal["leaf"]
    face: Gap = mm("100")
    sides: dict[Side, Size] = {"sill": mm("200")}
    depth: Size = mm("44")
    clearance: Gap = mm("3")
    foot: Gap | None = mm("6")
    stop: Gap = mm("12")
    hinges: Hinges | None = Hinges()
    joint: Literal["mitred", "jambs", "head"] = "jambs"
    role: ClassVar[Literal["sash", "leaf"]] = "leaf"
    has_foot_stop: ClassVar[bool] = False


def _fresh(data: Data, fill: Data, fits: Any) -> None:
    """A new leaf takes thinner glass where that lets it fit, and no taller rail where that has no room."""
    fresh_hung(data, fill, fits)
    if not fits():
        fill["sides"] = {}
        fresh_hung(data, fill, fits)


def _say(w: Writer, path: str, light: Light) -> None:
    say_hung(w, path, light)
    clear = clear_width(light)
    if clear is not None:
        advice = "enough" if clear >= LEAST_CLEAR else "less than is asked for"
        told = f"32 in are asked for on accessible ways (ADA 404.2.3, from memory, as advice): {advice}."
        w.say(f"{path}.clear", f"Open, it leaves {named(clear, w.style)} clear.", nested=True, told=(told,))
    if path == "fill":
        give = Action("entrance", "Make an entrance of this", "Put the leaf between two sidelights")
        w.say("entrance", give, nested=True)


def _door(fill: Any) -> tuple[str, str]:
    """Its hand as IFC4 tells it: seen the way that it opens. One that swings out is seen from inside."""
    if not fill.turning.moves:
        return "USERDEFINED", "FIXEDPANEL"
    if fill.turning.pair:
        return "DOUBLE_DOOR_SINGLE_SWING", "SWINGING"
    hand = fill.hand if fill.swings_in else {"left": "right", "right": "left"}[fill.hand]
    return f"SINGLE_SWING_{hand.upper()}", "SWINGING"


KIND = FILLINGS.register(
    Filling(
        "leaf",
        Leaf,
        "a leaf",
        lambda fill: f"leaf, {fill.turning.words}",
        solve_hung,
        hung_members,
        order=25,
        say=_say,
        symbols=hung_symbols,
        operation=hung_operation,
        door=_door,
        clears=clears_casing,
        pieces=hung_pieces,
        fresh=_fresh,
        sweeps=sweeps,
    )
)
