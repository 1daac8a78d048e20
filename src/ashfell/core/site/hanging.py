"""Lamps hung where somebody points, and moved by so much along each of the site's axes."""

from __future__ import annotations

from fractions import Fraction

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, typed_length
from ashfell.core.base.lengths import Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import middle_of
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.edit import add, index_of, with_table
from ashfell.core.site.settle import Levels

AXES = ("x", "y", "z")


def hang(data: Data, site: SiteDocument, place: str, bare: Unit = "mm") -> Data:
    """A lamp added, its middle at a ``place`` of the site, ``"across; up; height"``; amid the walls where none is said.
    It is of the storey that its place is on.

    Raises
    ------
    Refusal
        When the place cannot be read.
    """
    if not place:
        x, y = middle_of(site)
        return add(data, "lamps", x=x, y=y)
    *on_plan, height = _three("lamps.place", place, bare)
    levels = Levels(site.storeys).of
    storey = next((key for key, level in reversed(levels.items()) if level <= height), next(iter(levels), None))
    above = height - levels[storey] if storey else height
    own = dict(zip(AXES, map(exact, (*on_plan, above)), strict=True))
    return add(data, "lamps", storey=storey, **own)


def hung_over(data: Data, entry: Address, value: str, bare: Unit = "mm") -> Data:
    """A lamp moved by a ``value``, ``"across; up; higher"``; ``entry`` is its address with ``moved`` behind it.

    Raises
    ------
    Refusal
        When there is no such lamp, or the value cannot be read.
    """
    index = index_of(data, "lamps", entry.parent.last, entry)
    lamp = data["lamps"][index]
    ways = zip(AXES, _three(entry, value, bare), strict=True)
    return with_table(data, "lamps", index, lamp | {axis: exact(parse(str(lamp[axis])) + way) for axis, way in ways})


def _three(entry: str, value: str, bare: Unit) -> list[Fraction]:
    texts = value.split(";")
    if len(texts) != len(AXES):
        raise Refusal(entry, "three lengths", f"“{value}” are not three lengths.", "Give them as “across; up; height”.")
    return [parse(typed_length(entry, text, bare)) for text in texts]
