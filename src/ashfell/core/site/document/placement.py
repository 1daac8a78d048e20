"""Placements in a site document: units in walls, and openings without one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ashfell.core.base.document import Document, Gap, Key, Side, Size, mm
from ashfell.core.base.lengths import Length
from ashfell.core.kinds.roles import RoleKey, SidedKey
from ashfell.core.unit.document.members import Percent

MOST = 10_000
"""The most of one placement along its wall."""

COPY = ":"
"""Stands between the id of a placement and the number of the one of its repeat that is meant."""

Mark = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
"""What an opening is called in a schedule."""
Stands = Literal["recessed", "flush outside", "flush inside", "centred", "behind the leaf", "through"]


class Repeat(Document):
    """A placement again and again: ``along`` times along its wall with a ``gap`` between one and the next, and ``up``
    times, by a ``rise`` or else from storey to storey. ``then`` are the units that follow its own, in turn; every
    second of a row is ``mirrored``, or those behind its middle.
    """

    along: Annotated[int, Field(ge=1, le=MOST)] = 2
    gap: Gap = mm("1000")
    up: Annotated[int, Field(ge=1, le=200)] = 1
    rise: Size | None = None
    then: tuple[Key, ...] = ()
    mirrored: Literal["none", "every second", "second half"] = "none"


class Placement(Document):
    """A unit in a wall, or an opening without one; schedules call it by its ``mark``, or its id.

    It stands in the stretch from the wall's start to its end, or from where the opening ``after`` which it comes ends,
    and ``until`` where another begins. ``offset`` is from the end of the stretch named by ``measured`` to the nearer
    edge of the opening; from the ``centre`` it is how far the opening's centre stands to the right; with ``equal`` as
    much is left before it as behind it, and between all of a ``repeat``. ``sill`` is from the wall's foot to the
    opening, or from the level of a ``storey``; with a ``head``, from there to its upper edge, that counts instead. The
    unit ``stands`` ``recess`` behind the wall's outer face (when it is turned, the inner one), flush with a face,
    centred in the thickness, against the back of the leaf that it looks out of, or ``through`` the wall, its frame made
    as deep as that. ``gap`` is the installation gap
    all round, ``gaps`` those of its sides that differ. Behind the frame the opening widens towards the wall's inner
    face by a ``splay`` on every side, before it the wall covers the opening by a ``step``;
    ``splays`` and ``steps`` are those of sides that differ. In a roof the ``reveal`` behind the frame is square to it,
    plumb, or flared: plumb at its foot and level at its head. ``turned`` shows its outside to
    the inside, ``mirrored`` is the other hand, ``opened`` how far its sashes are in percent. ``width`` and ``height``
    are sizes of its own, to which the unit is solved again, or those of an opening without one; ``finishes`` its own by
    role, ``inner`` those of its inner side. With ``fits`` they are those of the opening, and the unit is what its gaps
    leave of it. Where a wall folds it is ``folded`` with it, and divided by ``posts`` that stand on the folds, or
    stands flat in a seat of its own.
    """

    id: Key
    mark: Mark = ""
    wall: Key
    unit: Key | None = None
    measured: Literal["start", "end", "centre", "equal"] = "start"
    after: Key | None = None
    until: Key | None = None
    offset: Length = mm("0")
    storey: Key | None = None
    sill: Gap = mm("900")
    head: Size | None = None
    stands: Stands = "recessed"
    recess: Length = mm("40")
    gap: Gap = mm("0")
    gaps: dict[Side, Gap] = {}
    splay: Gap = mm("0")
    splays: dict[Side, Gap] = {}
    step: Gap = mm("0")
    steps: dict[Side, Gap] = {}
    reveal: Literal["square", "plumb", "flared"] = "square"
    turned: bool = False
    mirrored: bool = False
    opened: Percent | None = None
    width: Size | None = None
    height: Size | None = None
    fits: bool = False
    folded: bool = True
    posts: bool = False
    finishes: dict[RoleKey, Key] = {}
    inner: dict[SidedKey, Key] = {}
    repeat: Repeat | None = None

    def __hash__(self) -> int:
        return hash((self.id, self.wall, self.unit, self.offset, self.sill))

    @property
    def entry(self) -> str:
        """The id of the entry that it is, or that it repeats."""
        return self.id.partition(COPY)[0]

    @property
    def number(self) -> int:
        """Which one of a repeat it is, from 0."""
        return int(self.id.partition(COPY)[2] or 1) - 1
