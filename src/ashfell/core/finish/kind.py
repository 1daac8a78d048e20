"""Kinds of surfaces: which entries a finish of each has, what they begin as, and how light meets it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from ashfell.core.base.registry import Registry

Meets = Literal["body", "pane"]
"""How light meets a surface: it is scattered by a body, or goes on through a pane."""


@dataclass(frozen=True)
class Surface:
    """One kind of surface.

    Attributes
    ----------
    key : str
        As documents name it.
    label : str
        As the page lists it.
    order : int
        Its place in that list.
    entries : tuple of str
        Which of the entries of a finish it has, besides its colour and what a texture has.
    start : mapping
        What the entries begin as where a finish becomes one of this kind; what is not named becomes what a finish has
        when nothing is said.
    patterns : tuple of str
        The computed textures that are offered for it, the usual one first.
    meets : str
    """

    key: str
    label: str
    order: int
    entries: tuple[str, ...] = ("roughness",)
    start: Mapping[str, Any] = field(default_factory=dict)
    patterns: tuple[str, ...] = ()
    meets: Meets = "body"


SURFACES: Registry[Surface] = Registry("kind of surface", "ashfell.core.finish.kinds")
