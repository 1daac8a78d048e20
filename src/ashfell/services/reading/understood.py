"""What was made of a file: a site, and in words what of the file is in it and what is not."""

from __future__ import annotations

import json
from dataclasses import dataclass, field

from ashfell.core.base.document import Data


@dataclass
class Understood:
    """A site document; ``left`` says of things in the file why they are not in it, ``noted`` what was taken for
    simpler than it is."""

    site: Data
    left: list[str] = field(default_factory=list)
    noted: list[str] = field(default_factory=list)

    @property
    def counted(self) -> str:
        """How much of each there is."""
        placed = self.site.get("placements", ())
        counts = [
            (len(self.site.get("storeys", ())), "storey"),
            (len(self.site.get("walls", ())), "wall"),
            (len(self.site.get("plates", ())), "plate"),
            (len(placed), "opening"),
            (sum("unit" in one for one in placed), "unit in one"),
        ]
        told = [f"{count} {words}{'' if count == 1 else 's'}" for count, words in counts if count]
        return ", ".join(told).replace("units in one", "units in them").replace("unit in ones", "units in them")

    def written(self) -> bytes:
        """As JSON, to be handed from one process to another."""
        return json.dumps({"site": self.site, "left": self.left, "noted": self.noted}).encode()

    @classmethod
    def of(cls, content: bytes) -> Understood:
        """The same from JSON."""
        data = json.loads(content)
        return cls(data["site"], data["left"], data["noted"])
