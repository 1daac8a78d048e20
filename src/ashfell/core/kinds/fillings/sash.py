"""A sash that turns, or is fixed."""

from __future__ import annotations

from typing import Literal

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
from ashfell.core.kinds.fillings.swing import clears_casing


class Sash(Hung):
    """A sash: a mitred ring round what it holds."""

    kind: Literal["sash"]


KIND = FILLINGS.register(
    Filling(
        "sash",
        Sash,
        "a sash",
        lambda fill: fill.turning.words,
        solve_hung,
        hung_members,
        order=20,
        say=say_hung,
        symbols=hung_symbols,
        operation=hung_operation,
        clears=clears_casing,
        pieces=hung_pieces,
        fresh=fresh_hung,
    )
)
