"""Documents without a database: read from files, checked, changed, compared.

The command line and the pages both use these.
"""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from ashfell.core.audit.finding import Finding
from ashfell.core.audit.site import audit_scene
from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.address import Address
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.kept import kept
from ashfell.core.base.lengths import Style, Unit
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import schema_of
from ashfell.core.finish import Finish
from ashfell.core.kinds.curve import CURVES
from ashfell.core.kinds.filling import FILLINGS
from ashfell.core.kinds.hardware import HARDWARE
from ashfell.core.kinds.outline import OUTLINES
from ashfell.core.kinds.surrounding import SURROUNDINGS
from ashfell.core.site import draw, enclosed, schedule
from ashfell.core.site import edit as site_edit
from ashfell.core.site.arrange import MOVES, ROWS, arrange, move
from ashfell.core.site.aside import middle_of, with_kind
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.fitting import Fitted, Gaps, Way, fitted, refused_after
from ashfell.core.site.hanging import hang, hung_over
from ashfell.core.site.holes import with_holes
from ashfell.core.site.scene import Scene, build_scene
from ashfell.core.site.surroundings import beside_of
from ashfell.core.unit.document.unit import UnitDocument, read_unit
from ashfell.core.unit.edit.change import change as change_unit_data
from ashfell.core.unit.effects import Clear, clear_sizes
from ashfell.core.unit.make import Unit as MadeUnit
from ashfell.core.unit.make import made

SITES = frozenset({"walls", "plates", "roofs", "placements", "storeys", "units"})
"""What only a site has."""
SCENES_KEPT = 130e6
"""How much of scenes is kept, bytes: before and after a change of the largest, or of a few people at once."""

DOCUMENTS_KEPT, CLEAR_KEPT = 8e6, 8e6
"""How much of units' documents as they are read, and of their clear sizes, is kept, bytes."""
WALL = ("from", "to", "length", "angle")
"""What a request may say of a wall that is added."""
EMPTY_OPENING = {"measured": "centre", "width": "900", "height": "2100", "sill": "0"}
"""What an opening without a unit begins as."""
KINDS: dict[str, type[BaseModel]] = {"unit": UnitDocument, "site": SiteDocument, "finish": Finish}


@dataclass(frozen=True)
class Changed:
    """A unit's data after a change, and the unit made of it."""

    data: Data
    unit: MadeUnit


@dataclass(frozen=True)
class ChangedSite:
    """A site's data after a change, the site with its units, and the scene made of it."""

    data: Data
    site: SiteDocument
    scene: Scene

    @property
    def findings(self) -> list[Finding]:
        """All that the audit finds."""
        return audit_scene(self.scene)


def unit_of(data: Mapping[str, Any]) -> MadeUnit:
    """The unit of a document; one of the same content is made once.

    Raises
    ------
    Refusal
    """
    return made(_document(json.dumps(data)))


@kept(DOCUMENTS_KEPT, lambda _, text: 20.0 * len(text))
def _document(text: str) -> UnitDocument:
    return read_unit(json.loads(text))


def clear_sizes_of(data: Mapping[str, Any]) -> Clear:
    """The clear lights of a unit's cells, kept longer than all that is made of it.

    Raises
    ------
    Refusal
    """
    return _clear_sizes(json.dumps(data))


@kept(CLEAR_KEPT, lambda found, text: len(text) + sum(100.0 * len(sizes) for cell in found.values() for sizes in cell))
def _clear_sizes(text: str) -> Clear:
    return clear_sizes(made(_document(text)).layout)


def change_unit(data: Data, address: str, value: str, bare: Unit = "mm") -> Changed:
    """One entry of a unit changed; nothing where the address is empty.

    Raises
    ------
    Refusal
        When the value cannot be read, there is no such entry, or the unit cannot be built then.
    """
    changed = change_unit_data(data, address, value, bare) if address else data
    return Changed(changed, unit_of(changed))


def scene_of(data: Mapping[str, Any]) -> ChangedSite:
    """The site of a document with all its units, and its scene; those of the same content are made once.

    Raises
    ------
    Refusal
    """
    site, scene = _scene(json.dumps(data))
    return ChangedSite(dict(data), site, scene)


@kept(SCENES_KEPT, lambda found, _: found[1].weight)
def _scene(text: str) -> tuple[SiteDocument, Scene]:
    site = read_site(json.loads(text))
    return site, build_scene(site)


def change_site(data: Data, held: Data, asked: Mapping[str, str], bare: Unit = "mm") -> ChangedSite:
    """A site changed as somebody asked.

    Parameters
    ----------
    data : dict
        The site document as it is kept.
    held : dict
        The units and finishes that it may use.
    asked : mapping
        ``do`` is ``add-wall`` (with what :data:`WALL` names), ``add-storey``, ``add-roof``, ``add-plate``,
        ``add-placement`` (with ``wall``, ``unit`` and a ``place``), ``add-holes`` (with the ``key`` of a model), or
        ``remove`` (with ``table`` and ``key``); else ``entry`` is the address of what becomes ``value``.
    bare : Unit
        The unit of a number typed without one.

    Raises
    ------
    Refusal
        When it cannot be done, or would leave something out that stands there now.
    """
    before = scene_of(data | held)
    changed = _changed_site(data, before.site, before.scene, asked, bare)
    if changed is data:
        return ChangedSite(data, before.site, before.scene)
    after = scene_of(changed | held)
    site_edit.refuse_worse(before.scene, after.scene)
    return ChangedSite(changed, after.site, after.scene)


def _changed_site(data: Data, site: SiteDocument, scene: Scene, asked: Mapping[str, str], bare: Unit) -> Data:
    match asked.get("do", ""):
        case "add-wall":
            return draw.add_wall(data, {name: asked.get(name, "") for name in WALL}, bare)
        case "add-storey":
            return site_edit.add(data, "storeys", name=f"Storey {len(data['storeys']) + 1}")
        case "add-roof":
            return enclosed.add_roof(data, asked.get("wall", ""))
        case "add-bay":
            return enclosed.add_bay(data, asked.get("wall", ""))
        case "add-room":
            return site_edit.add_room(data, {name: asked.get(name, "") for name in site_edit.ROOM}, bare)
        case "add-plate":
            return enclosed.add_plate(data)
        case "add-lamp":
            return hang(data, site, asked.get("place", ""), bare)
        case "add-surrounding":
            kind = asked.get("kind", "block")
            start = with_kind({"kind": ""}, kind, SURROUNDINGS)
            x, y = beside_of(site)
            count = sum(one.kind == kind for one in site.surroundings) + 1
            name = f"{SURROUNDINGS[kind].label.capitalize()} {count}"
            return site_edit.add(data, "surroundings", name=name, x=x, y=y, **start)
        case "add-holes":
            key = asked.get("key", "")
            model = next((one for one in site.surroundings if one.id == key and one.mesh), None)
            if model is None:
                raise Refusal("surroundings", "a model", f"There is no model “{key}”.", "Pick one in the list.")
            return with_holes(data, model)
        case "add-camera":
            x, y = middle_of(site)
            return site_edit.add(data, "cameras", to_x=x, to_y=y)
        case "add-opening":
            return site_edit.add(data, "placements", wall=asked.get("wall", ""), **EMPTY_OPENING)
        case "add-placement":
            place = asked.get("place", "")
            return site_edit.place_unit(data, site, asked.get("wall", ""), asked.get("unit", ""), place, bare)
        case "remove":
            return site_edit.remove(data, asked.get("table", ""), asked.get("key", ""))
    entry, value = Address(asked.get("entry", "")), asked.get("value", "")
    if entry.parent.parent == "walls" and entry.last in draw.DRAWN:
        return draw.redrawn(data, scene, entry, value, bare)
    if entry.parent.parent == "plates" and entry.last == "within":
        return enclosed.within(data, entry.parent.last, entry)
    if entry.parent.parent == "placements" and entry.last in MOVES:
        return move(data, scene, entry, value, bare)
    if entry.parent.parent == "lamps" and entry.last == "moved":
        return hung_over(data, entry, value, bare)
    if entry.last in ROWS:
        return arrange(data, scene, entry)
    return site_edit.change(data, entry, value, bare) if entry else data


def opened_all(built: ChangedSite, percent: float) -> ChangedSite:
    """A site with the sashes of all its units opened, as far as they go."""
    site = built.site
    opened = tuple(one.model_copy(update={"opened": percent}) if one.unit else one for one in site.placements)
    changed = site.model_copy(update={"placements": opened})
    return ChangedSite(built.data, changed, build_scene(changed))


def table_taken(
    data: Data, held: Data, lines: Sequence[Sequence[str]], bare: Unit = "mm"
) -> tuple[schedule.Taken, ChangedSite]:
    """The openings of a table put into a site, and the site as it then is; what the building would refuse of them is
    told by its row. A site without walls gets those that the table names.

    Parameters
    ----------
    data, held : dict
        As :func:`change_site`.
    lines : sequence of rows
        The first are headings.
    """
    before = scene_of(data | held)
    if not data["walls"] and not data["roofs"]:
        sizes = {key: unit.width.mm for key, unit in before.site.units.items()}
        sizes |= {unit.name.casefold(): unit.width.mm for unit in before.site.units.values()}
        data = schedule.with_walls(data, lines, sizes, bare)
    walls = {one["id"]: one["name"] for one in (*data["walls"], *data["roofs"])}
    units = {key: unit.name for key, unit in before.site.units.items()}
    known = schedule.Known(walls, units, {one["id"]: one["name"] for one in data["storeys"]})
    found = schedule.taken(data, lines, known, bare)
    after = scene_of(found.data | held)
    known_before = {place for place, _ in before.scene.refused}
    refused = [one for one in after.scene.refused if one[0] not in known_before]
    return schedule.refused_rows(found, refused), ChangedSite(found.data, after.site, after.scene)


def fit_units(
    data: Data, held: Data, before: ChangedSite, chosen: Collection[str], unit: str, gaps: Gaps, way: Way
) -> tuple[Data, list[Fitted]]:
    """A unit in some openings, each with what becomes of it; what the building refuses is left as it is.

    Parameters
    ----------
    data, held : dict
        As :func:`change_site`.
    before : ChangedSite
        The site as it is.
    chosen, unit, gaps, way
        As :func:`ashfell.core.site.fitting.fitted`.

    Raises
    ------
    Refusal
    """
    found, results = fitted(data, before.scene, chosen, unit, gaps, way)
    was = {one["id"]: one for one in data["placements"]}
    fresh = {one["id"]: one for one in found["placements"]}
    told = {one.placement: one for one in results}
    while True:
        held_back = {key for key, one in told.items() if one.refusal}
        kept = data | {"placements": [was[key] if key in held_back else one for key, one in fresh.items()]}
        in_the_way = refused_after(before.scene, scene_of(kept | held).scene, told)
        if not in_the_way:
            return kept, list(told.values())
        told |= in_the_way


def check_unit(data: Mapping[str, Any], style: Style = Style()) -> tuple[MadeUnit, list[Finding]]:
    """A unit and all findings about it.

    Raises
    ------
    Refusal
    """
    unit = unit_of(data)
    return unit, audit_unit(unit, style)


def check_site(data: Mapping[str, Any]) -> tuple[Scene, list[Finding]]:
    """A scene and all findings about it.

    Raises
    ------
    Refusal
    """
    found = scene_of(data)
    return found.scene, found.findings


# --- files ------------------------------------------------------------------------------------------------------------


def json_object(content: bytes | str, what: str = "a document") -> Data:
    """The JSON object in a file.

    Raises
    ------
    Refusal
        When there is none.
    """
    try:
        data = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise Refusal("file", what, "The file is not JSON.", "Choose a file that holds a document.") from error
    if not isinstance(data, dict):
        raise Refusal("file", what, "The file holds no JSON object.", "Choose a file that holds a document.")
    return data


def load(path: Path) -> Data:
    """The document in a file.

    Raises
    ------
    OSError, ValueError
        When the file cannot be read, or is not JSON.
    Refusal
        When it holds no object.
    """
    data = json.loads(path.read_bytes())
    if not isinstance(data, dict):
        raise Refusal("", "a document", "The file holds no JSON object.", "Name a file that holds a document.")
    return data


def is_unit(data: Mapping[str, Any]) -> bool:
    """Whether a document is of a unit, and not of a site."""
    named = str(data.get("format", ""))
    return named.startswith("ashfell/unit/") if named else SITES.isdisjoint(data)


def load_site(path: Path) -> Data:
    """A site's document; a unit given as text is a file beside it."""
    data = load(path)
    units = data.get("units", {})
    if isinstance(units, dict):
        read_in = {key: load(path.parent / unit) if isinstance(unit, str) else unit for key, unit in units.items()}
        return data | ({"units": read_in} if read_in else {})
    return data


def taken_in(content: bytes) -> Data:
    """A unit document from a file that somebody brings, checked by building it.

    Raises
    ------
    Refusal
    """
    return dump(unit_of(json_object(content, "a unit document")).document)


def schema(kind: str) -> Data:
    """The JSON Schema of a kind of document: ``unit``, ``site`` or ``finish``."""
    return schema_of(KINDS[kind], *(() if kind == "finish" else (FILLINGS, OUTLINES, CURVES, HARDWARE)))


def finish_of(data: Mapping[str, Any]) -> Finish:
    """The finish of a document.

    Raises
    ------
    Refusal
    """
    return read(Finish, data)
