"""Two tones: the finishes that roles have on the inner side, from the middle of the glass on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction

from ashfell.core.kinds.roles import Finishes
from ashfell.core.parts import Inner, Member
from ashfell.core.unit.layout import Light, Ring
from ashfell.core.unit.members.glazing import Seated

OUT = (0.0, 0.0, 1.0)


def toned(
    members: Iterable[Member],
    finishes: Finishes,
    inner: Mapping[str, str],
    line: Fraction,
    lights: Sequence[Light] = (),
) -> Iterator[Member]:
    """Members with the inner finishes of their roles; what has a finish of its own has that all over.

    Parameters
    ----------
    members : iterable of Member
    finishes : Finishes
        Those of the roles.
    inner : mapping
        Those of their inner sides, by role.
    line : Fraction
        Where the inner side begins, behind the unit's outer face, mm: see :func:`line_between`.
    lights : sequence of Light, optional
        Solved; what is in one of them has its inner side from that light's own line on.
    """
    lines = {key: at for light in lights for key, at in _lines(light)}
    for member in members:
        own = inner.get(member.role, member.finish)
        if member.inner or own == member.finish or member.finish != finishes.of(member.role):
            yield member
            continue
        at = lines.get(member.sash, lines.get(member.light, line))
        yield replace(member, inner=Inner(own, OUT, -float(at)))


def line_between(ring: Ring, lights: Sequence[Light]) -> Fraction:
    """Where the inner side of a ring begins, behind the unit's outer face, mm: in the middle of its glass; where it
    holds sashes, of them; else of itself."""
    if ring.seat is not None:
        return (ring.seat.glass_front + ring.seat.glass_back) / 2
    held = [sash.body.ring for light in lights for sash in light.sashes] or [ring]
    return (min(one.front for one in held) + max(one.back for one in held)) / 2


def _lines(light: Light) -> Iterator[tuple[str, Fraction]]:
    """The lines of a light, and of its sashes, by their keys."""
    content = light.content
    if isinstance(content, Seated) and content.planes is not None:
        yield light.key, (content.planes.front + content.planes.back) / 2
    for sash in light.sashes:
        at = line_between(sash.body.ring, sash.body.lights)
        yield sash.key_in(light), at
        if sash is light.sashes[0]:
            yield light.key, at
