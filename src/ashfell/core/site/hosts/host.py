"""Hosts: what openings are cut into and units stand in. A straight wall, a curved one, a roof plane each answer the
same questions."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from fractions import Fraction

from ashfell.core.base.address import Address
from ashfell.core.parts import Part
from ashfell.core.plane.points import Floats
from ashfell.core.site.opening import Opening

Layer = tuple[str, str, float, float]
"""Name, finish, and from where to where it lies, w in mm."""


class Host(ABC):
    """Something with a surface and a thickness. Its own space is u along it from its start, v up from its foot, w
    outwards from its outer face, mm.

    Attributes
    ----------
    id : str
        As the site names it.
    entry : Address
    name : str
        In words.
    length, height, thickness : Fraction
        Of the face that openings are cut into, and how deep they are, mm.
    """

    id: str
    entry: Address
    name: str
    length: Fraction
    height: Fraction
    thickness: Fraction

    @property
    @abstractmethod
    def clear(self) -> tuple[Fraction, Fraction]:
        """From where to where along it there is its full thickness, mm."""

    @abstractmethod
    def frame(self, u: float = 0.0) -> Floats:
        """From a space at a point of its foot, u along it, to the site: (4, 4), mm; x and y in plan, z up."""

    @abstractmethod
    def parts(self, openings: Sequence[Opening]) -> tuple[Part, ...]:
        """Its closed solids with openings cut through them, in its own space."""

    @abstractmethod
    def plan(self, openings: Sequence[Opening]) -> list[Floats]:
        """Its pieces between openings as seen from above, (c, 2) each, in the site, mm."""

    @property
    @abstractmethod
    def section(self) -> tuple[Layer, ...]:
        """What it is made of across its thickness: name, finish, and from where to where each layer lies, w in mm. Away
        from their ends and other openings hosts of one section are alike."""

    @abstractmethod
    def around(
        self, opening: Opening, margin: float, others: Sequence[Opening] = (), section: tuple[Layer, ...] = ()
    ) -> list[Part]:
        """What of it lies within a margin of an opening, less that and ``others``, in its own space; of another
        ``section`` where one is given."""
