"""Clay: everything white and dull but its glass, so that one sees forms alone."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from ashfell.core import finish as finishes
from ashfell.core.finish import Finish
from ashfell.core.parts import Part
from ashfell.core.site.coats import Coats
from ashfell.pictures.settings import PictureSettings

CLAY = "clay"
OF_CLAY = Finish(name="Clay", kind="plaster", colour="#dedcd7", roughness=1.0)


def in_clay(
    parts: Iterable[Part], settings: PictureSettings, own: Mapping[str, Finish] | None
) -> tuple[Iterable[Part], PictureSettings, dict[str, Finish]]:
    """Everything white and dull but its glass, which is clear; the ground too."""

    def as_clay(part: Part) -> Part:
        is_clear = finishes.find(part.finish, own).transmits
        return replace(part, finish="clear-glass" if is_clear else CLAY, inner=None)

    made: Iterable[Part]
    if isinstance(parts, Coats):
        definitions = {key: tuple(map(as_clay, some)) for key, some in parts.definitions.items()}
        made = Coats(definitions, parts.instances)
    else:
        made = [as_clay(part) for part in parts]
    return made, settings.model_copy(update={"ground": CLAY}), {CLAY: OF_CLAY}
