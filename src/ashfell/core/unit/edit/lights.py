"""Changes to lights: what fills them, split, merged, copied; and the outline of the unit."""

from __future__ import annotations

import copy
from fractions import Fraction

from ashfell.core.base.address import Address, OfCell, cell_key
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import Unit, exact, parse
from ashfell.core.base.refusal import Refusal
from ashfell.core.kinds.filling import FILLINGS
from ashfell.core.kinds.outline import OUTLINES
from ashfell.core.unit.document.cell import Cell
from ashfell.core.unit.document.members import AXES, Division, LightEntry
from ashfell.core.unit.document.unit import UnitDocument, read_unit
from ashfell.core.unit.edit.divisions import axis_of, new_bar, place_of, sharing_light
from ashfell.core.unit.edit.place import at, unknown
from ashfell.core.unit.members.faces import JAMBS, exact_face
from ashfell.core.unit.solve.unit import laid_out


def set_kind(data: Data, address: Address, value: str, bare: Unit) -> None:
    """Another filling with its usual sizes, or another kind of outline; an empty filling is that of the cell
    around it.
    """
    if address.last == "outline":
        _set_outline(data, address, value)
        return
    record = FILLINGS.get(value)
    if value and record is None:
        raise Refusal(
            address / "kind", "a known filling", f"“{value}” is no filling.", f"Choose {', '.join(FILLINGS)}."
        )
    cell = at(data, address.parent)
    cell[address.last] = dump(record.entry.model_validate({"kind": value})) if record else None
    if record and record.fresh:
        record.fresh(data, cell[address.last], lambda: _can_be_built(data))


def _can_be_built(data: Data) -> bool:
    try:
        laid_out(read(UnitDocument, data))
    except Refusal:
        return False
    return True


def _set_outline(data: Data, address: Address, value: str) -> None:
    record, of_unit = OUTLINES.get(value), address == "outline"
    if not of_unit and not isinstance(at(data, address.parent), dict):
        raise unknown(address)
    if not value and not of_unit:
        at(data, address.parent)["outline"] = None
        return
    if record is None:
        raise Refusal(
            address / "kind", "a known outline", f"“{value}” is no outline.", f"Choose {', '.join(OUTLINES)}."
        )
    if not of_unit:
        at(data, address.parent)["outline"] = record.new(data)
        return
    data["outline"] = record.new(data)
    data["frame"]["sides"] = {}


def copy_fill(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A light's filling given to its row, its column or all lights of its cell."""
    owner_address, _, (column, row) = _light(address.parent, address / "copied")
    owner = at(data, owner_address)
    fill = at(data, address.parent)["fill"]
    for i in range(1, len(owner["columns"]["lights"]) + 1):
        for j in range(1, len(owner["rows"]["lights"]) + 1):
            if value == "all" or (value == "row" and j == row) or (value == "column" and i == column):
                owner["cells"].setdefault(cell_key(i, j), dump(Cell()))["fill"] = copy.deepcopy(fill)


def _light(address: Address, asked: Address) -> OfCell:
    found = address.of_cell()
    if found is None:
        raise unknown(asked)
    return found


def split(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A light parted in two, side by side or one above the other."""
    entry = address / "split"
    axis = axis_of(Address(value) if value else entry)
    cell = at(data, address)
    if len(cell["columns"]["lights"]) > 1 or len(cell["rows"]["lights"]) > 1:
        raise Refusal(entry, "a whole light", "This light is divided already.", "Change how many lights it has.")
    cell[axis] |= {"lights": [sharing_light(), sharing_light()], "bars": [new_bar(data["frame"]["face"])]}


def merge(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A light that also takes the place of the next one to the right or above; with any other word it is parted
    again.
    """
    entry, found = address / "merged", address.of_cell()
    if found is None:
        raise Refusal(entry, "a light among others", "There is no light beside this one.", "Divide the unit first.")
    owner, cell = at(data, found.owner), at(data, address)
    (i, j), (across, up) = found.place, cell["span"]
    across, up = {"right": (across + 1, up), "up": (across, up + 1)}.get(value, (1, 1))
    if i + across - 1 > len(owner["columns"]["lights"]) or j + up - 1 > len(owner["rows"]["lights"]):
        raise Refusal(
            entry, "a light within its cell", "There is no light on that side.", "Merge towards the other side."
        )
    cell["span"] = [across, up]
    for key in list(owner["cells"]):
        a, b = place_of(key)
        if key != found.key and i <= a < i + across and j <= b < j + up:
            del owner["cells"][key]


def clear(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A light like the others again."""
    at(data, address.parent).pop(address.last, None)


SIDELIGHT: dict[str, str] = {"mm": "400", "m": "400 mm", "in": "16 in", "ft": "16 in"}
"""How wide each sidelight of a new entrance is."""


def make_entrance(data: Data, address: Address, value: str, bare: Unit) -> None:
    """A leaf that fills the whole unit put between two sidelights: posts as wide as the frame's face, the leaf as wide
    as it was, the unit wider by what is beside it.

    Raises
    ------
    Refusal
        When the unit holds something else.
    """
    fill, divided = data.get("fill"), any(len(data[axis]["lights"]) > 1 for axis in AXES)
    if address or divided or not fill or fill["kind"] != "leaf" or data["angled"]:
        raise Refusal(
            "entrance",
            "a leaf that fills the unit",
            "Only a leaf alone in its frame becomes an entrance.",
            "Let the unit hold a single leaf first.",
        )
    document = read_unit(data)
    face = document.frame.face.mm
    jambs = [exact_face(side, face, {key: own.mm for key, own in document.frame.sides.items()}) for side in JAMBS]
    clear = document.width.mm - sum(jambs, Fraction(0))
    side, usual = parse(SIDELIGHT.get(bare, "400")), dump(LightEntry())
    data["width"] = exact(document.width.mm + 2 * (face + side))
    data["columns"] = dump(Division()) | {
        "lights": [usual, usual | {"size": exact(clear)}, usual],
        "bars": [new_bar(exact(face)) for _ in range(2)],
    }
    data["cells"] = {"c2r1": dump(Cell()) | {"fill": fill}}
    data["fill"] = None
