"""What was made of a file: a site, and in words what of the file is in it and what is not."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from dataclasses import asdict, dataclass, field

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.services import bounded


@dataclass
class Understood:
    """A site document; ``left`` says of things in the file why they are not in it, ``noted`` what was taken for
    simpler than it is. Of a drawing there are its layers (name, how many lines, whether they were read), its unit, and
    what is laid under the plan of it."""

    site: Data
    left: list[str] = field(default_factory=list)
    noted: list[str] = field(default_factory=list)
    layers: list[tuple[str, int, bool]] = field(default_factory=list)
    unit: str = ""
    underlay: Data | None = None
    underlays: dict[str, Data] = field(default_factory=dict)
    revisions: dict[str, list[Data]] = field(default_factory=dict)
    """What lies under the documents of a whole project, and their revisions, by their names."""
    images: dict[str, str] = field(default_factory=dict)
    """Images that finishes show, and meshes of models, by key, as base64."""

    @property
    def counted(self) -> str:
        """How much of each there is."""
        placed = self.site.get("placements", ())
        counts = [
            (len(self.site.get("storeys", ())), "storey"),
            (len(self.site.get("walls", ())), "wall"),
            (len(self.site.get("plates", ())), "plate"),
            (len(self.site.get("roofs", ())), "roof plane"),
            (len(placed), "opening"),
            (sum(bool(one.get("unit")) for one in placed), "unit in one"),
            (sum(one.get("kind") == "model" for one in self.site.get("surroundings", ())), "model"),
        ]
        told = [f"{count} {words}{'' if count == 1 else 's'}" for count, words in counts if count]
        return ", ".join(told).replace("units in one", "units in them").replace("unit in ones", "units in them")

    @staticmethod
    def tell(make: Callable[[], Understood]) -> int:
        """Write what was understood, or tell why nothing was; returns how the process is to end."""
        try:
            content = make().written()
        except Refusal as refusal:
            return bounded.tell(refusal)
        sys.stdout.buffer.write(content)
        return 0

    def as_data(self) -> Data:
        """As plain data."""
        return asdict(self)

    def written(self) -> bytes:
        """As JSON, to be handed from one process to another."""
        return json.dumps(self.as_data()).encode()

    @classmethod
    def of(cls, content: bytes) -> Understood:
        """The same from JSON."""
        data = json.loads(content)
        return cls(**data | {"layers": [(name, count, read) for name, count, read in data["layers"]]})
