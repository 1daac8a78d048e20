"""Windows and doors of an IFC file as units: by their overall size, their lining and their panels."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

import numpy as np

from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit.document.unit import read_unit
from ashfell.core.unit.make import made as build
from ashfell.formats.ifc_units import DOCUMENT

if TYPE_CHECKING:
    from ashfell.services.reading.ifc import Box, Reader

SAME = 1e-3
"""How far a size may be from that of a document, mm."""
ROUND = 0.05
"""How far an opening may be from what a unit and its gaps leave of it: that of a curve is made of facets, mm."""
COLUMNS = {"DOUBLE_PANEL_VERTICAL": 2, "TRIPLE_PANEL_VERTICAL": 3}
ROWS = {"DOUBLE_PANEL_HORIZONTAL": 2, "TRIPLE_PANEL_HORIZONTAL": 3}


class Units:
    """The units of a file, each once."""

    def __init__(self, reader: Reader) -> None:
        self.reader = reader
        self.made: dict[str, Data] = {}
        self._known: dict[str, str] = {}

    def placed(self, filling: Any, opening: Data, back: Any, box: Box) -> Data:
        """What a placement says of the window or door in its opening."""
        from ashfell.services.reading.ifc import length

        mm = self.reader.mm
        width, height = (float(value or 0) * mm for value in (filling.OverallWidth, filling.OverallHeight))
        if width < 1 or height < 1:
            width, height = float(opening["width"]), float(opening["height"])
        kept = _document_of(_type_of(filling), width, height)
        gaps = [(float(opening[name]) - size) / 2 for name, size in (("width", width), ("height", height))]
        gap = min(gaps)
        data, mirrored = kept or (self._document(filling, width, height), False)
        told = json.dumps(data, sort_keys=True)
        if told not in self._known:
            key = self.reader.key(data["name"], "unit")
            self._known[told], self.made[key] = key, data
        place = back @ self.reader.matrix(filling)
        turned = bool(place[0, 0] < 0)
        recess = box.high[1] - place[1, 3] if turned else place[1, 3] - box.low[1]
        found: Data = {"unit": self._known[told]}
        if gap > -ROUND and abs(gaps[0] - gaps[1]) < ROUND:
            found |= {"width": None, "height": None}
        else:
            found["fits"] = True
        found |= {name: True for name, is_so in (("mirrored", mirrored), ("turned", turned)) if is_so}
        if gap > ROUND:
            found["gap"] = length(gap)
        if 0 <= recess < box.size[1]:
            found["recess"] = length(recess)
        return found

    def _document(self, filling: Any, width: float, height: float) -> Data:
        """A unit that can be built: with all that is told, or with its outline alone."""
        from ashfell.services.reading.ifc import length

        door = filling.is_a("IfcDoor")
        kind = _type_of(filling)
        name = (getattr(kind, "Name", None) or filling.Name or ("Door" if door else "Window"))[:80]
        plain: Data = {"name": name, "width": length(width), "height": length(height)}
        lining, panels = _told(kind, "LiningProperties"), _told(kind, "PanelProperties")
        for try_ in (self._whole, self._framed):
            data = plain | try_(filling, kind, lining, panels, width, height)
            try:
                build(read_unit(data))
            except Refusal:
                continue
            return data
        self.reader.noted.append(f"“{name}”: its lining cannot be built, and it is taken as a plain frame.")
        return plain | ({"fill": {"kind": "leaf", "depth": "60"}} if door else {})

    def _framed(self, filling: Any, kind: Any, lining: Any, panels: Any, width: float, height: float) -> Data:
        """Its frame alone."""
        from ashfell.services.reading.ifc import length

        mm, found = self.reader.mm, {}
        face, depth = (
            getattr(lining[0], name, None) if lining else None for name in ("LiningThickness", "LiningDepth")
        )
        if face:
            found["face"] = length(face * mm)
        if depth:
            found["depth"] = length(depth * mm)
        fill: Data = {"fill": {"kind": "leaf", "depth": "60"}} if filling.is_a("IfcDoor") else {}
        return ({"frame": found} if found else {}) | fill

    def _whole(self, filling: Any, kind: Any, lining: Any, panels: Any, width: float, height: float) -> Data:
        """Its frame, its mullions and transoms, and how it opens."""
        from ashfell.services.reading.ifc import length

        found = self._framed(filling, kind, lining, panels, width, height)
        if filling.is_a("IfcDoor"):
            operation = str(getattr(kind, "OperationType", None) or getattr(filling, "OperationType", None) or "")
            hand = "right" if "RIGHT" in operation else "left"
            return found | {"fill": {"kind": "leaf", "depth": "60", "hand": hand}}
        parted = str(getattr(kind, "PartitioningType", None) or getattr(filling, "PartitioningType", None) or "")
        face = float(getattr(lining[0], "LiningThickness", None) or 0) * self.reader.mm if lining else 0.0
        for axis, word, counts, span in (("columns", "Mullion", COLUMNS, width), ("rows", "Transom", ROWS, height)):
            count = counts.get(parted)
            if not count:
                continue
            thick = float(getattr(lining[0], f"{word}Thickness", None) or 0) * self.reader.mm if lining else 0.0
            bar = length(thick or face or 50)
            marks = [
                getattr(lining[0], f"{name}{word}Offset", None) if lining else None for name in ("First", "Second")
            ]
            sizes = _sizes([float(mark) * span for mark in marks if mark], float(bar), face, span)
            lights: list[Data] = (
                [{"size": length(size)} for size in sizes[: count - 1]] + [{}] if sizes else [{}] * count
            )
            found |= {axis: {"lights": lights, "bars": [bar] * (count - 1)}}
        return found


def _sizes(centres: list[float], bar: float, face: float, span: float) -> list[float]:
    """The clear lights between a frame and bars about some centres, but for the last; none where they make none."""
    edges = [face, *(edge for centre in centres for edge in (centre - bar / 2, centre + bar / 2)), span - face]
    sizes = np.diff(edges)[::2].tolist()
    return sizes if centres and min(sizes) > 1 else []


def _document_of(kind: Any, width: float, height: float) -> tuple[Data, bool] | None:
    """The document that a type brings with it, and whether it is the mirror image, where that is still as large as
    what stands there."""
    told = next((one for one in _told(kind, "PropertySet") if one.Name == DOCUMENT), None)
    values = {one.Name: one.NominalValue.wrappedValue for one in told.HasProperties} if told else {}
    try:
        data = json.loads(values["Document"])
        outer = build(read_unit(data)).layout.outer
    except (KeyError, ValueError, RecursionError, Refusal, AttributeError, TypeError):
        return None
    same = abs(float(outer.width) - width) < SAME and abs(float(outer.height) - height) < SAME
    return (data, bool(values.get("Mirrored"))) if same else None


def _type_of(filling: Any) -> Any:
    """The type, or in IFC 2x3 the style, of an occurrence."""
    relations = [*getattr(filling, "IsTypedBy", ()), *getattr(filling, "IsDefinedBy", ())]
    return next((one.RelatingType for one in relations if one.is_a("IfcRelDefinesByType")), None)


def _told(kind: Any, word: str) -> list[Any]:
    return [one for one in getattr(kind, "HasPropertySets", None) or () if one.is_a().endswith(word)]
