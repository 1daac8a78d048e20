"""Binary glTF."""

from ashfell.formats import glb
from ashfell.services.handover.format import FORMATS, Chosen, Format
from ashfell.services.handover.source import Source
from ashfell.services.textures import jpeg


def _write(source: Source, chosen: Chosen) -> bytes:
    if source.made is not None:
        return glb.write_unit(source.unit, source.own, jpeg)
    return glb.write_scene(source.name, source.scene, source.own, jpeg, source.only, aside=True)


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
    )
)
