"""Findings: what is wrong or worth knowing, each with its place, its reason and its remedy."""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from typing import Literal

Level = Literal["fault", "warning", "note"]


@dataclass(frozen=True)
class Finding:
    """One finding: ``place`` is the address of an entry, or parts; ``rule`` what was checked."""

    level: Level
    rule: str
    place: str
    reason: str
    remedy: str = ""

    def as_dict(self) -> dict[str, str]:
        """As plain data."""
        return asdict(self)

    def within(self, name: str) -> Finding:
        """The same finding about something in a definition of a name."""
        return replace(self, place=f"{name}: {self.place}")
