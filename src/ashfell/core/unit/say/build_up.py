"""The build-up list: the sentences that specify a unit, from outside in, with their values in place.

A sentence is made of words and fields; the page shows each field as what it takes to change it.
"""

from __future__ import annotations

from collections.abc import Mapping

from ashfell.core.base.lengths import Style
from ashfell.core.unit import Unit
from ashfell.core.unit.look import cell_path, looked_at
from ashfell.core.unit.say.cells import crumbs, say_bars, say_divisions, say_lights
from ashfell.core.unit.say.frame import say_frame, say_outline
from ashfell.core.unit.say.glazing import panes_told, say_glazing
from ashfell.core.unit.say.lights import say_light
from ashfell.core.unit.say.trim import say_trim
from ashfell.core.unit.say.writer import Action, Sentence, Writer


def build_up(unit: Unit, style: Style, finishes: Mapping[str, str], at: str) -> list[Sentence]:
    """The sentences of a unit; those of the light that is picked come before those of the
    division it is in."""
    at = cell_path(at)
    w = Writer(style, finishes, roles=unit.document.finishes.root)
    document, layout = unit.document, unit.layout
    say_outline(w, unit)
    say_frame(w, unit)
    shown = looked_at(unit.layout, at)
    chosen = [light for light in layout.lights if light.path == at]
    if at:
        w.say("at", *crumbs(unit, at), about="")
    light = chosen[0] if chosen else None
    if at:
        say_light(w, unit, at, light, shown)
    say_divisions(w, shown)
    if shown.cell.is_divided:
        say_bars(w, shown)
        say_lights(w, unit, shown)
    if not at:
        say_light(w, unit, at, light, shown)
    seat = layout.body.ring.seat
    say_glazing(w, "glazing", document, bool(layout.root.cell.is_divided), panes_told(w, layout), seat)
    say_trim(w, unit)
    if document.grain:
        back = Action("grain.cleared", "Turn back", "Let all grain run along its members")
        names = ", ".join(name.replace(".", " ") for name in document.grain)
        w.say("grain", f"Grain turned by a quarter on {names}.", back)
    for part, finish in document.painted.items():
        entry, words = f"painted.{part}", part.replace(".", " ")
        let_go = Action("painted", "×", f"Let {words} be as its role again", part)
        own = w.finish(entry, finish, f"Finish of {words}", own=False)
        w.say(entry, words.capitalize(), "in", own, let_go, about=f"part {part}")
    return w.sentences
