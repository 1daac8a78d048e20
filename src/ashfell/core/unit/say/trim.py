"""Sentences of the trim."""

from __future__ import annotations

from ashfell.core.unit import Unit
from ashfell.core.unit.document.trim import Board, Casing, Feet, InnerBoard, Sill, TopRail
from ashfell.core.unit.say.writer import Action, Said, Writer

TRIMS = (
    ("outside", "Casing outside"),
    ("inside", "Casing inside"),
    ("sill", "Sill"),
    ("board", "Inner board"),
    ("apron", "Apron inside"),
    ("head_drip", "Drip over the head"),
    ("feet", "Feet"),
    ("rail", "Top rail"),
)


def say_trim(w: Writer, unit: Unit) -> None:
    """The sentences of casings, sills, aprons and drips."""
    trim = unit.document.trim
    missing = [
        Action(f"trim.{key}", words, f"Add: {words.lower()}", "yes")
        for key, words in TRIMS
        if getattr(trim, key) is None
    ]
    for side in ("outside", "inside"):
        if casing := getattr(trim, side):
            _say_casing(w, f"trim.{side}", side, casing)
    if trim.sill:
        _say_sill(w, trim.sill)
    if trim.board:
        _say_inner_board(w, trim.board)
    for key, words in TRIMS[4:6]:
        if board := getattr(trim, key):
            _say_board(w, f"trim.{key}", words, board)
    if trim.feet:
        _say_feet(w, trim.feet)
    if trim.rail:
        _say_rail(w, trim.rail)
    if missing:
        w.say("trim", "Add", *missing, about="")


def _say_casing(w: Writer, path: str, side: str, casing: Casing) -> None:
    w.say(
        path,
        f"Casing {side}",
        w.length(f"{path}.width", casing.width, f"Width of the casing {side}"),
        "wide,",
        w.length(f"{path}.projection", casing.projection, f"Projection of the casing {side}"),
        "off the wall, lapping the frame",
        w.length(f"{path}.lap", casing.lap, f"Lap of the casing {side}"),
        ", on",
        w.choice(
            f"{path}.sides",
            casing.sides,
            {"fitting": "all sides with room", "all": "all sides", "no sill": "all sides but the sill"},
            f"Sides of the casing {side}",
        ),
        ", the wall",
        w.length(f"{path}.forward", casing.forward, f"How far the wall stands before the frame {side}", "as placed"),
        "before the frame,",
        w.section(path, casing.section, w.edge(f"{path}.edge", casing.edge, f"Casing {side}"), f"the casing {side}"),
        ".",
        Action(path, "×", f"Leave out the casing {side}"),
    )


def _say_sill(w: Writer, sill: Sill) -> None:
    horns = ("with horns of", w.length("trim.sill.horns", sill.horns, "Horns of the sill"))
    leave = Action("trim.sill", "×", "Leave out the sill")
    if sill.section is not None:
        w.say("trim.sill", "Sill,", w.section("trim.sill", sill.section, (), "the sill"), ",", *horns, ".", leave)
        return
    w.say(
        "trim.sill",
        "Sill",
        w.length("trim.sill.thickness", sill.thickness, "Thickness of the sill"),
        "thick, standing",
        w.length("trim.sill.projection", sill.projection, "Projection of the sill"),
        "out, falling",
        *_fall(w, sill),
        ",",
        *horns,
        ",",
        w.length("trim.sill.under", sill.under, "How far the sill goes under"),
        "under the frame,",
        w.section("trim.sill", None, w.edge("trim.sill.nosing", sill.nosing, "Nosing"), "the sill"),
        ".",
        Action(
            "trim.sill.drip",
            "No drip" if sill.drip else "Drip",
            "Leave out the drip" if sill.drip else "Cut a drip",
            "" if sill.drip else "yes",
        ),
        leave,
    )


def _say_inner_board(w: Writer, board: InnerBoard) -> None:
    path = "trim.board"
    w.say(
        path,
        "Inner board",
        w.length(f"{path}.thickness", board.thickness, "Thickness of the inner board"),
        "thick, standing",
        w.length(f"{path}.projection", board.projection, "Projection of the inner board"),
        "out of the wall, with horns of",
        w.length(f"{path}.horns", board.horns, "Horns of the inner board"),
        ", the wall",
        w.length(f"{path}.forward", board.forward, "How far the wall stands behind the frame", "as placed"),
        "behind the frame,",
        w.edge(f"{path}.edge", board.edge, "Inner board"),
        ".",
        Action(path, "×", "Leave out the inner board"),
    )


def _say_board(w: Writer, path: str, words: str, board: Board) -> None:
    over = (w.length(f"{path}.over", board.over, f"Overhang: {words.lower()}"), "past the sides")
    leave = Action(path, "×", f"Leave out: {words.lower()}")
    if board.section is not None:
        w.say(path, f"{words},", w.section(path, board.section, (), words.lower()), ",", *over, ".", leave)
        return
    w.say(
        path,
        words,
        w.length(f"{path}.height", board.height, f"Height: {words.lower()}"),
        "high, standing",
        w.length(f"{path}.projection", board.projection, f"Projection: {words.lower()}"),
        "out,",
        *over,
        ",",
        w.section(path, None, w.edge(f"{path}.edge", board.edge, words), words.lower()),
        ".",
        leave,
    )


def _say_feet(w: Writer, feet: Feet) -> None:
    w.say(
        "trim.feet",
        w.number("trim.feet.count", feet.count, "Feet"),
        "feet",
        w.length("trim.feet.width", feet.width, "Width of the feet"),
        "wide,",
        w.length("trim.feet.length", feet.length, "Length of the feet"),
        "across and",
        w.length("trim.feet.height", feet.height, "Height of the feet"),
        "high,",
        w.length("trim.feet.inset", feet.inset, "From the ends to the feet"),
        "from the ends.",
        Action("trim.feet", "×", "Leave out the feet"),
    )


def _say_rail(w: Writer, rail: TopRail) -> None:
    w.say(
        "trim.rail",
        "Top rail",
        w.length("trim.rail.height", rail.height, "Height of the top rail"),
        "high,",
        w.length("trim.rail.width", rail.width, "Width of the top rail"),
        "across,",
        w.length("trim.rail.over", rail.over, "Overhang of the top rail"),
        "past the ends.",
        Action("trim.rail", "×", "Leave out the top rail"),
    )


def _fall(w: Writer, sill: Sill) -> tuple[Said, ...]:
    """How a sill sheds water: by a length over its projection, or by degrees."""
    if sill.slope is None:
        return w.length("trim.sill.fall", sill.fall, "Fall of the sill"), Action(
            "trim.sill.slope", "by degrees", "Slope the sill by degrees", "7"
        )
    return (
        w.number("trim.sill.slope", sill.slope, "Slope of the sill in degrees"),
        "°",
        Action("trim.sill.slope", "by a length", "Slope the sill by a length"),
    )
