"""The finishes that ship, and finding one by its key."""

from __future__ import annotations

import re
from collections.abc import Mapping

from ashfell.core.base.document import mm
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.document import Finish, Texture

TINT = re.compile(r"tint-([0-9a-f]{6})")


def tinted(colour: tuple[float, float, float]) -> str:
    """The key of coloured glass of an sRGB colour (0 to 1); :func:`find` knows all of them.

    >>> find(tinted((0.2, 0.4, 0.6))).colour
    '#336699'
    """
    return "tint-" + "".join(f"{round(value * 255):02x}" for value in colour)


def _textured(pattern: str, width: str, second: str, seed: int, depth: str = "0") -> Texture:
    return Texture(pattern=pattern, width=mm(width), second=second, seed=seed, depth=mm(depth))


def _paint(name: str, colour: str, roughness: float = 0.4) -> Finish:
    return Finish(name=name, kind="paint", colour=colour, roughness=roughness)


def _timber(name: str, colour: str, second: str, seed: int, roughness: float = 0.5, varnish: float = 0.0) -> Finish:
    texture = _textured("timber", "900", second, seed)
    return Finish(name=name, kind="timber", colour=colour, roughness=roughness, varnish=varnish, texture=texture)


def _metal(name: str, colour: str, roughness: float, texture: Texture | None = None, metallic: float = 1.0) -> Finish:
    return Finish(name=name, kind="metal", colour=colour, roughness=roughness, metallic=metallic, texture=texture)


def _glass(name: str, colour: str, roughness: float = 0.0, texture: Texture | None = None) -> Finish:
    return Finish(
        name=name,
        kind="glass",
        colour=colour,
        roughness=roughness,
        transmission=1.0,
        texture=texture,
    )


def _built(name: str, kind: str, colour: str, texture: Texture, roughness: float = 0.9, varnish: float = 0.0) -> Finish:
    return Finish(name=name, kind=kind, colour=colour, roughness=roughness, varnish=varnish, texture=texture)


LIBRARY: dict[str, Finish] = {
    "white-paint": _paint("Chalk white paint", "#e9e6df", 0.42),
    "bone-paint": _paint("Bone paint", "#d8cfbd", 0.45),
    "mist-paint": _paint("River mist paint", "#a9b3b0", 0.42),
    "slate-paint": _paint("Wet slate paint", "#3b4246", 0.38),
    "pine-paint": _paint("Deep pine paint", "#2f4238", 0.36),
    "navy-paint": _paint("Night water paint", "#253447", 0.32),
    "ember-paint": _paint("Ember red paint", "#a4452c"),
    "soot-paint": _paint("Soot paint", "#1f2022", 0.3),
    "ash-timber": _timber("Pale ash, oiled", "#c9a878", "#a27c4e", 11, 0.48),
    "smoked-oak": _timber("Smoked oak", "#6f4e35", "#43301f", 23),
    "larch-timber": _timber("Larch, varnished", "#b9824f", "#8a5a31", 37, 0.45, 0.6),
    "silvered-larch": _timber("Silvered larch", "#9a958b", "#6f6b63", 41, 0.85),
    "black-timber": _timber("Charred timber", "#2a2725", "#141312", 53, 0.7),
    "brushed-metal": _metal("Brushed aluminium", "#c3c5c6", 0.32, _textured("brushed", "400", "#aeb1b3", 5)),
    "bronze-metal": _metal("Patinated bronze", "#5c4630", 0.42),
    "brass-metal": _metal("Satin brass", "#c8a159", 0.28),
    "steel-metal": _metal("Polished steel", "#d2d3d2", 0.12),
    "iron-metal": _metal("Blackened iron", "#2d2e30", 0.5, None, 0.85),
    "dull-lead": _metal("Dull lead", "#55575a", 0.55, None, 0.9),
    "black-rubber": Finish(name="Black rubber", kind="rubber", colour="#1d1d1e", roughness=0.75),
    "clear-glass": _glass("Clear glass", "#ffffff"),
    "grey-glass": _glass("Grey tinted glass", "#8f9a9d"),
    "bronze-glass": _glass("Bronze tinted glass", "#a58a6c"),
    "green-glass": _glass("Pale green glass", "#c9e2d2"),
    "frosted-glass": _glass("Frosted glass", "#f4f8f7", 0.35),
    "reeded-glass": _glass("Reeded glass", "#f6faf8", 0.02, _textured("reeded", "100", "#808080", 1, "1.5")),
    "hammered-glass": _glass("Hammered glass", "#f3f8f5", 0.02, _textured("hammered", "400", "#808080", 29, "2")),
    "mirror-glass": Finish(name="Mirror", kind="mirror", colour="#eef0f0", roughness=0.0, metallic=1.0),
    "lime-plaster": _built("Lime plaster", "plaster", "#ddd7ca", _textured("plaster", "2 m", "#cfc7b7", 7, "0.6")),
    "white-plaster": _built("White plaster", "plaster", "#e8e6e1", _textured("plaster", "2 m", "#dedbd4", 13, "0.3")),
    "river-brick": _built("River brick", "masonry", "#8b5843", _textured("brick", "1.8 m", "#b9b1a3", 3, "4"), 0.88),
    "kiln-brick": _built(
        "Dark kiln brick", "masonry", "#4a3a36", _textured("brick", "1.8 m", "#7d766c", 61, "4"), 0.85
    ),
    "field-stone": _built("Coursed field stone", "stone", "#8f877a", _textured("coursed", "1.8 m", "#b3aa99", 9, "12")),
    "floor-stone": _built("Honed stone", "stone", "#8d8a84", _textured("plaster", "2 m", "#7d7a75", 19), 0.55),
    "slate-tile": _built("Slate tile", "tile", "#4c5155", _textured("tiles", "1.2 m", "#35383a", 71, "1.5"), 0.45, 0.2),
    "white-tile": _built(
        "White glazed tile", "tile", "#e6e5df", _textured("tiles", "1.2 m", "#b9b5ab", 73, "1.5"), 0.25, 0.8
    ),
    "board-concrete": _built(
        "Board-marked concrete", "concrete", "#9a978f", _textured("boarded", "2.4 m", "#8a877f", 83, "3")
    ),
    "smooth-concrete": _built(
        "Smooth concrete", "concrete", "#a8a6a0", _textured("plaster", "2 m", "#98968f", 89), 0.7
    ),
    "linen-fabric": Finish(
        name="Linen",
        kind="fabric",
        colour="#cbbfa8",
        roughness=0.9,
        sheen=0.3,
        texture=_textured("weave", "100", "#b5a88f", 97, "0.4"),
    ),
    "pale-gravel": _built("Pale gravel", "ground", "#8f897c", _textured("gravel", "3 m", "#6f6a5d", 31), 0.95),
    "mown-grass": _built("Mown grass", "ground", "#6b7a45", _textured("gravel", "1.6 m", "#4c5a31", 43), 0.95),
    "foliage": _built("Summer leaves", "plant", "#55693a", _textured("gravel", "900 mm", "#35452a", 107, "12"), 0.8),
    "dark-foliage": _built("Needles", "plant", "#3a4d38", _textured("gravel", "600 mm", "#26352a", 109, "12"), 0.85),
    "bark": _built("Bark", "plant", "#6d5f50", _textured("boarded", "300 mm", "#4a4037", 113, "8"), 0.9),
    "wet-paving": _built(
        "Wet paving", "ground", "#5d5c59", _textured("tiles", "2.4 m", "#3f3e3b", 101, "3"), 0.35, 0.5
    ),
}
"""Finishes that ship, by key."""


def find(key: str, own: Mapping[str, Finish] | None = None) -> Finish:
    """A finish by key, the project's own before the library's.

    Raises
    ------
    Refusal
        When there is none of that key.
    """
    finish = (own or {}).get(key) or LIBRARY.get(key) or _coloured_glass(key)
    if finish is None:
        raise Refusal(
            "finishes", "a known finish", f"There is no finish “{key}”.", "Choose one from the finishes page."
        )
    return finish


def _coloured_glass(key: str) -> Finish | None:
    colour = TINT.fullmatch(key)
    return _glass("Coloured glass", f"#{colour[1]}") if colour else None
