"""What somebody would say of a finish, and what is not plausible about it."""

from __future__ import annotations

from ashfell.core.finish.document import BRIGHTEST, GLASS_IOR, Finish, Texture
from ashfell.core.finish.kind import SURFACES
from ashfell.core.finish.pattern import PATTERNS
from ashfell.core.unit.say.writer import Action, Said, Sentence, Writer

DULLEST_METAL = 0.3
"""Bare metals reflect more than this (common handbook values: iron 0.5, lead 0.6; weathered ones less)."""
MAPS = {"colour": "colours", "roughness": "roughness", "height": "relief", "normal": "normals"}


def say_finish(w: Writer, finish: Finish) -> list[Sentence]:
    """Sentences for all that a finish says: what it is, how it shines, its texture."""
    kinds = {key: surface.label for key, surface in SURFACES.items()}
    w.say("kind", w.choice("kind", finish.kind, kinds, "Kind of surface"), *_colour(w, finish), ".", told=_told(finish))
    shine = _shine(w, finish)
    if shine:
        w.say("roughness", *shine, ".")
    _say_texture(w, finish)
    return w.sentences


def _colour(w: Writer, finish: Finish) -> tuple[Said, ...]:
    slot = w.colour("colour", finish.colour, "Colour")
    if finish.surface.meets == "pane":
        at = w.length("thickness", finish.thickness, "Thickness that its colour is for", "any thickness")
        return ("that lets through", slot, "at", at)
    share = w.number("reflectance", round(finish.reflectance, 3), "Reflectance, 0 to 1")
    return ("of colour", slot, ", reflecting", share)


def _shine(w: Writer, finish: Finish) -> tuple[Said, ...]:
    entries = finish.surface.entries
    said: list[Said] = ["Roughness", w.number("roughness", finish.roughness, "Roughness, 0 a mirror to 1 chalk")]
    for entry, words, label in (
        ("metallic", ", metallic", "Metallic, 0 to 1"),
        ("varnish", ", varnished", "Varnish, 0 to 1"),
        ("sheen", ", sheen", "Sheen of cloth, 0 to 1"),
    ):
        if entry in entries:
            said += [words, w.number(entry, getattr(finish, entry), label)]
    if "ior" in entries:
        said += [", refractive index", w.number("ior", finish.ior, "Refractive index, 1 to 3", str(GLASS_IOR))]
    return tuple(said)


def _say_texture(w: Writer, finish: Finish) -> None:
    texture, surface = finish.texture, finish.surface
    offered = dict.fromkeys((*surface.patterns, *([texture.pattern] if texture else []), "image"))
    patterns = {"": "none"} | {key: PATTERNS[key].label for key in offered}
    choice = w.choice("texture.pattern", texture.pattern if texture else "", patterns, "Texture")
    if texture is None:
        w.say("texture", "Texture", choice, ".")
        return
    height = w.length(
        "texture.height",
        texture.height,
        "Height of a tile",
        "as wide" if texture.pattern != "image" else "as the image",
    )
    w.say(
        "texture",
        "Texture",
        choice,
        ", a tile",
        w.length("texture.width", texture.width, "Width of a tile"),
        "wide and",
        height,
        "high, turned",
        w.number("texture.turn", texture.turn, "Turned by, in degrees"),
        "°, begun",
        w.length("texture.x", texture.x, "Begun along the grain"),
        "along and",
        w.length("texture.y", texture.y, "Begun across the grain"),
        "across.",
    )
    made: tuple[Said, ...] = ()
    if texture.pattern != "image":
        words = PATTERNS[texture.pattern].second
        made = (
            words.capitalize(),
            w.colour("texture.second", texture.second, "Second colour of the texture"),
            ", variant",
            w.number("texture.seed", texture.seed, "Variant of the texture, a whole number"),
            ";",
        )
    deep = w.length("texture.depth", texture.depth, "Depth of its relief")
    w.say("texture.depth", *made, "relief" if made else "Relief", deep, "deep.", nested=True)
    if texture.pattern == "image":
        _say_maps(w, texture)


def _say_maps(w: Writer, texture: Texture) -> None:
    for name, words in MAPS.items():
        key = getattr(texture.maps, name)
        entry = f"texture.maps.{name}"
        if key:
            w.say(
                entry, f"Image of its {words}", Action(entry, "×", f"Leave out the image of its {words}"), nested=True
            )


def _told(finish: Finish) -> tuple[str, ...]:
    """What is not plausible about it."""
    told = []
    share = finish.reflectance
    if finish.surface.meets == "body" and finish.kind != "mirror" and not finish.metallic and share > BRIGHTEST:
        told.append(
            f"It reflects {share:.0%}: more than {BRIGHTEST:.0%} is brighter than anything built; fresh snow is."
        )
    if finish.metallic > 0.5 and finish.kind == "metal" and share < DULLEST_METAL and finish.roughness < 0.2:
        told.append(f"A polished metal reflects more than {share:.0%}; paint or a patina is rougher.")
    if finish.surface.meets == "pane" and min(finish.linear) > 0.999 and finish.thickness is not None:
        told.append("White lets all through at every thickness.")
    if finish.texture and finish.texture.depth.mm > finish.texture.width.mm / 4:
        told.append("Its relief is deeper than a quarter of its tile; it will look like spikes.")
    return tuple(told)
