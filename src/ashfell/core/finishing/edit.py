"""Changes to a finish, as somebody makes them: pure functions from JSON data to JSON data."""

from __future__ import annotations

import copy

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import Unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.document import Finish, Maps, Texture, rgb, to_linear, to_srgb
from ashfell.core.finish.kind import SURFACES
from ashfell.core.finish.pattern import PATTERNS
from ashfell.core.unit.edit.place import number, put

HEX = "0123456789abcdef"
KEPT = ("format", "name", "kind", "colour", "texture")
"""What a finish keeps when it becomes one of another kind."""
BLACK = 1e-4
"""Less than this is reflected by nothing: its colour has no tone that could be kept."""


def change_finish(data: Data, address: str, value: str, bare: Unit = "mm") -> Data:
    """One entry of a finish changed.

    Parameters
    ----------
    data : dict
        A valid finish document.
    address : str
        E.g. ``"roughness"``, ``"texture.width"``; ``"kind"`` makes it one of another kind, with what that begins as;
        ``"reflectance"`` makes its colour as bright as that; ``"texture.pattern"`` gives it another texture, an empty
        one none; ``"texture.maps.colour"`` and the like another image, by its key.
    value : str
        What was typed. A colour is ``#rrggbb``, ``rgb``, or a reflectance from 0 to 1 for grey.
    bare : Unit
        The unit of a number typed without one.

    Raises
    ------
    Refusal
        When the value cannot be read or the entry does not exist.
    """
    changed = copy.deepcopy(data)
    match address:
        case "kind":
            changed = _of_kind(changed, value)
        case "colour":
            changed["colour"] = read_colour(address, value)
        case "reflectance":
            changed["colour"] = _as_bright(changed["colour"], _share(address, value))
        case "texture.pattern":
            changed["texture"] = _patterned(changed["texture"], value)
        case "texture.second" if changed["texture"]:
            changed["texture"]["second"] = read_colour(address, value)
        case "texture.removed":
            changed["texture"] = None
        case "format":
            raise Refusal(address, "a known entry", "The format of a finish is not changed.")
        case _:
            put(changed, address, value, bare, Finish)
    return dump(read(Finish, changed))


def read_colour(address: str, value: str) -> str:
    """A colour as somebody writes it, ``#rrggbb``.

    >>> read_colour("colour", "A4452C"), read_colour("colour", "#fff"), read_colour("colour", "0.5")
    ('#a4452c', '#ffffff', '#bcbcbc')

    Raises
    ------
    Refusal
        When it is none.
    """
    text = value.strip().lower().removeprefix("#")
    if len(text) in (3, 6) and all(letter in HEX for letter in text):
        return "#" + (text if len(text) == 6 else "".join(letter * 2 for letter in text))
    try:
        share = float(text)
    except ValueError:
        share = -1.0
    if not 0 <= share <= 1:
        told = f"“{value}” is no colour."
        raise Refusal(address, "a colour", told, "Type it as #a4452c, or a reflectance from 0 to 1.")
    return _hex((share, share, share))


def _hex(linear: tuple[float, float, float]) -> str:
    return "#" + "".join(f"{min(255, max(0, round(to_srgb(value) * 255))):02x}" for value in linear)


def _share(address: str, value: str) -> float:
    share = float(number(address, value, whole=False))
    if not 0 <= share <= 1:
        raise Refusal(address, "a share", f"{value} is not from 0 to 1.", "Type a number from 0 to 1.")
    return share


def _as_bright(colour: str, share: float) -> str:
    """A colour of the same tone that reflects a share of the light; paler where it would be brighter than can be."""
    red, green, blue = (to_linear(value / 255) for value in rgb(colour))
    own = 0.2126 * red + 0.7152 * green + 0.0722 * blue
    if own < BLACK:
        return _hex((share, share, share))
    red, green, blue = (value * share / own for value in (red, green, blue))
    most = max(red, green, blue)
    if most > 1:  # towards white, so that the luminance is kept
        towards = (most - 1) / (most - share) if most > share else 1.0
        red, green, blue = (value + (share - value) * towards for value in (red, green, blue))
    return _hex((red, green, blue))


def _of_kind(data: Data, kind: str) -> Data:
    if kind not in SURFACES:
        raise Refusal("kind", "one of a list", f"“{kind}” is no kind of surface.", "Choose one of them.")
    if kind == data["kind"]:
        return data
    surface = SURFACES[kind]
    kept = {name: data[name] for name in KEPT} | {"kind": kind}
    texture = kept["texture"]
    if texture and texture["pattern"] not in (*surface.patterns, "image"):
        kept["texture"] = None
    return kept | dict(surface.start)


def _patterned(texture: Data | None, key: str) -> Data | None:
    if not key:
        return None
    if key not in PATTERNS:
        raise Refusal("texture.pattern", "one of a list", f"“{key}” is no texture.", "Choose one of them.")
    pattern = PATTERNS[key]
    fresh = dump(Texture(pattern=key)) | {"width": pattern.width, "depth": pattern.depth}
    if texture is None:
        return fresh
    kept = {name: texture[name] for name in ("second", "seed", "turn", "x", "y")}
    return fresh | kept | {"maps": dump(Maps())}
