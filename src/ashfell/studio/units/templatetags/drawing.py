"""What can be taken hold of on the drawing of a unit. Written here and not as templates: a drawing has hundreds."""

from __future__ import annotations

from typing import Any

from django import template
from django.utils.safestring import SafeString

from ashfell.core.drawing.sheet import Box, Figure, Line, Lock, Mark
from ashfell.studio.drawn import element, words
from ashfell.studio.units.sheet import DrawnPath

register = template.Library()
FOCUSED = {"tabindex": 0}


@register.simple_tag
def box(one: Box) -> SafeString:
    """A stretch of a strip; a bar's can be moved."""
    place = {name: f"{getattr(one, name):.2f}" for name in ("x", "y", "width", "height")}
    told: dict[str, Any] = place | {"data-about": one.about, "data-stretch": one.stretch}
    if not one.handle:
        return element("rect", {"class": f"box {one.kind}"} | told)
    handle = one.handle
    moved = {
        "id": f"handle-{one.move}",
        "data-bar": handle.axis,
        "data-move-entry": one.move,
        "role": "slider",
        "aria-label": handle.label,
        "aria-valuenow": f"{handle.now:.2f}",
        "aria-valuemin": f"{handle.least:.2f}",
        "aria-valuemax": f"{handle.most:.2f}",
        "aria-valuetext": f"starts at {handle.text}",
    }
    return element("rect", {"class": f"box {one.kind} {handle.axis}"} | told | FOCUSED | moved)


@register.simple_tag
def figure(one: Figure) -> SafeString:
    """A number that can be typed over."""
    small, crowded = " small-figures" if one.small else "", " crowded" if one.zoom > 1 else ""
    typed = element(
        "input",
        {
            "class": f"entry on-sheet{small}{crowded}",
            "data-zoom": f"{one.zoom:.3f}",
            "type": "text",
            "autocomplete": "off",
            "spellcheck": "false",
            "id": one.id,
            "data-entry": one.entry,
            "data-about": one.about,
            "data-stretch": one.stretch,
            "value": one.value,
            "title": one.exact,
            "aria-label": one.label,
            "data-typed": one.typed or None,
        },
    )
    return element("foreignObject", {name: getattr(one, name) for name in ("x", "y", "width", "height")}, typed)


@register.simple_tag
def lock(one: Lock) -> SafeString:
    """A switch that locks a light at its size."""
    switch = element(
        "button",
        {
            "type": "button",
            "class": "lock crowded" if one.zoom > 1 else "lock",
            "data-zoom": f"{one.zoom:.3f}",
            "id": one.id,
            "data-set": one.entry,
            "data-stretch": one.stretch,
            "aria-pressed": str(one.locked).lower(),
            "aria-label": one.label,
            "title": one.label,
        },
        SafeString(""),
    )
    return element("foreignObject", {"x": one.x, "y": one.y, "width": 24, "height": 24}, switch)


@register.simple_tag
def line(one: Line) -> SafeString:
    """A line of a dimension."""
    return element("line", {name: getattr(one, name) for name in ("x1", "y1", "x2", "y2")})


@register.simple_tag
def mark(one: Mark) -> SafeString:
    """A number or word that is only read."""
    return element("text", {"x": one.x, "y": one.y, "text-anchor": one.anchor}, words(one.text))


@register.simple_tag
def pick(one: DrawnPath) -> SafeString:
    """A light that can be picked."""
    told = {"d": one.d, "class": one.kind, "data-at": one.at, "data-light": one.light, "data-within": one.within}
    return element(
        "path", told | FOCUSED | {"role": "button", "aria-label": one.label, "aria-pressed": str(one.chosen).lower()}
    )
