"""Binary glTF."""

from typing import Any

from ashfell.formats import glb
from ashfell.services.handover.format import FORMATS, Chosen, Format, Option
from ashfell.services.handover.source import Source
from ashfell.services.textures import jpeg

LEVEL = Option(
    "level",
    "Level",
    {"all": "everything", "seen": "without hidden faces", "light": "light, for web pages"},
)
PACKED = Option("packed", "Packed", {"": "not packed", "draco": "by Draco, to 0.05 mm"})


def _write(source: Source, chosen: Chosen) -> bytes:
    from ashfell.formats.glb_packed import packed  # its library is large

    content = _plain(source, chosen)
    return packed(content) if chosen.get(PACKED.key) else content


def _plain(source: Source, chosen: Chosen) -> bytes:
    level: Any = chosen.get(LEVEL.key, LEVEL.usual)
    if source.made is not None:
        return glb.write_unit(source.unit, source.own, jpeg, level)
    return glb.write_scene(source.name, source.scene, source.own, jpeg, source.only, aside=True, level=level)


FORMATS.register(
    Format(
        "glb",
        10,
        "GLB",
        "models",
        ("site", "storey", "unit"),
        ".glb",
        "model/gltf-binary",
        "Every unit once and where it stands, with finishes at their real scale, lamps and cameras; metres, y up.",
        _write,
        (LEVEL, PACKED),
    )
)
