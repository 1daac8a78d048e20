"""What a program of one's own works with: documents are plain data, as in their files; nothing of the web is needed.

>>> from ashfell import unit
>>> columns = {"rule": "clear", "lights": [{}] * 4, "bars": ["50"] * 3}
>>> unit({"width": "3200", "height": "1900", "columns": columns}).words
'4 lights of 737.5 mm clear, by equal clear lights; 3 bars of 50 mm.'
"""

from __future__ import annotations

from base64 import b64decode
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from ashfell.core.audit.finding import Finding
from ashfell.core.base.differences import Difference, differences
from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.lengths import STYLES
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import Part
from ashfell.core.report import Report, scene_report, unit_report
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.scene import Scene
from ashfell.core.solid.meshes import mesh
from ashfell.core.unit.make import Unit
from ashfell.pictures.develop import Look, png
from ashfell.pictures.settings import PictureSettings
from ashfell.services.documents import check_site, check_unit, is_unit, load_site, scene_of, table_taken, unit_of
from ashfell.services.handover import FORMATS, chosen, of_site, of_unit, told
from ashfell.services.reading.table import rows

HEAD = 64


@dataclass(frozen=True)
class BuiltUnit:
    """A unit with its parts, and its spacing in words."""

    made: Unit

    @property
    def parts(self) -> tuple[Part, ...]:
        """Its closed solids, mm."""
        return tuple(self.made.parts)

    @property
    def words(self) -> str:
        """How its columns share its width."""
        return self.made.layout.columns.sentence()

    @property
    def report(self) -> Report:
        """Everything about it as plain data."""
        return unit_report(self.made)


@dataclass(frozen=True)
class BuiltSite:
    """A site with what stands in it; ``left_out`` says why an opening does not."""

    document: SiteDocument
    scene: Scene

    @property
    def left_out(self) -> dict[str, str]:
        """What could not be built, by its place, and why."""
        return {place: str(refusal) for place, refusal in self.scene.refused}

    @property
    def report(self) -> Report:
        """Everything about it as plain data."""
        return scene_report(self.document, self.scene)


def load(path: Path | str, **options: Any) -> Data:
    """The document in a file: a unit or a site as JSON (units that a site names are files beside it), a project in one
    file, an IFC, a plan in DXF, or a model in glTF or OBJ (``options`` are those of the page: ``unit``, ``layers``,
    ``thickest``, ``up``, …).

    Raises
    ------
    Refusal
        When nothing can be made of it.
    OSError, ValueError
        When it cannot be read, or is not JSON.
    """
    path = Path(path)
    if path.suffix.lower() == ".json":
        return load_site(path)
    from ashfell.services.reading.readers import reader_of

    content = path.read_bytes()
    understood = reader_of(path.name, content[:HEAD], len(content)).understood(content, options)
    if understood.images:
        mesh.offer({key: b64decode(one) for key, one in understood.images.items()}.get)
    return understood.site


def unit(document: Mapping[str, Any]) -> BuiltUnit:
    """A unit built from its document.

    Raises
    ------
    Refusal
        When it cannot be: with the entry, the rule, the numbers and a remedy.
    """
    return BuiltUnit(unit_of(document))


def site(document: Mapping[str, Any]) -> BuiltSite:
    """A site built from its document.

    Raises
    ------
    Refusal
        When it cannot be.
    """
    found = scene_of(document)
    return BuiltSite(found.site, found.scene)


def with_schedule(document: Data, table: Path | str, lengths: str = "mm") -> Data:
    """A site with the openings of a schedule, CSV or XLSX; one without walls gets those that the table names.

    Raises
    ------
    Refusal
        For the first row that cannot be taken in; its entry names the row and the heading.
    """
    whole = dump(read_site(document))
    held = {"units": whole["units"], "finishes": whole["finishes"]}
    data = whole | {"units": {}, "finishes": {}}
    taken, built = table_taken(data, held, rows(Path(table).read_bytes()), STYLES[lengths].bare)
    if taken.faults:
        fault = taken.faults[0]
        raise Refusal(
            f"{fault.row}.{fault.heading}",
            fault.refusal.rule,
            f"Row {fault.row}, {fault.heading}: {fault.refusal.message}",
            fault.refusal.remedy,
        )
    return built.data | held


def check(document: Mapping[str, Any]) -> list[Finding]:
    """All findings about a unit or a site.

    Raises
    ------
    Refusal
        When it cannot be built.
    """
    return check_unit(document)[1] if is_unit(document) else check_site(document)[1]


def write(
    document: Data,
    path: Path | str,
    kind: str = "",
    storey: str = "",
    lengths: str = "mm",
    only: Sequence[str] = (),
    **options: str,
) -> Path:
    """A unit or a site as a file, in the format of its suffix or another (``ashfell formats`` lists them); of a site a
    storey, or ``only`` the walls, roof planes and plates of some ids.

    Raises
    ------
    Refusal
        When there is no such format or option, or the document cannot be built.
    """
    path, style = Path(path), STYLES[lengths]
    if only and (storey or is_unit(document)):
        message = "A unit has no walls to choose from." if is_unit(document) else "A storey is asked for, too."
        raise Refusal("only", "a selection of a site", message, "Leave one of them out.")
    if is_unit(document):
        source = of_unit(document, style=style)
    else:
        source = of_site(document, style, storey, selected=only or None)
    form = told(kind or _by_suffix(path.name, source.kind), source.kind)
    if unknown := set(options) - {option.key for option in form.options}:
        known = ", ".join(option.key for option in form.options) or "nothing"
        message = f"{form.label} has no option “{min(unknown)}”."
        raise Refusal(min(unknown), "an option of the format", message, f"Set {known}.")
    path.write_bytes(form.write(source, chosen(form, options)))
    return path


def format_of(document: Data, path: Path | str) -> str:
    """The key of the format that a file's suffix stands for; of the longest suffix that fits.

    Raises
    ------
    Refusal
        When there is none.
    """
    kind = "unit" if is_unit(document) else "site"
    return told(_by_suffix(Path(path).name, kind), kind).key


def _by_suffix(name: str, of: str) -> str:
    """The format of a file's suffix; the longest that fits."""
    fitting = [one for one in FORMATS.values() if of in one.of and name.lower().endswith(one.suffix)]
    return max(fitting, key=lambda one: len(one.suffix)).key if fitting else ""


def picture(
    document: Mapping[str, Any],
    path: Path | str,
    settings: Mapping[str, Any],
    look: Mapping[str, Any] | None = None,
    tell: Callable[[int, int], None] | None = None,
    scheduler: str = "",
) -> Path:
    """A picture of a site, traced; or, of ``lines``, drawn. ``tell`` hears of every pass of how many. A ``scheduler``
    has other machines trace it.

    Raises
    ------
    Refusal
        When an entry of the settings is wrong, nothing shines, or the site cannot be built.
    """
    from ashfell.pictures.lines import line_picture
    from ashfell.pictures.shoot import shoot

    path, built, wanted = Path(path), site(document), read(PictureSettings, settings)
    if wanted.surfaces == "lines":
        lines = line_picture(built.scene.parts, wanted, built.document.finishes)
        path.write_bytes(lines.svg().encode() if path.suffix == ".svg" else lines.png())
        return path

    def told_of(number: int) -> None:
        if tell is not None:
            tell(number, wanted.passes)

    pixels = shoot(built.document, wanted, read(Look, look) if look else None, told_of, scheduler)
    path.write_bytes(png(pixels))
    return path


def compare(one: Mapping[str, Any], other: Mapping[str, Any]) -> list[Difference]:
    """What differs between two units or two sites, entry by entry; what is as usual need not be said.

    Raises
    ------
    Refusal
        When one of them is no document, or they are not of one kind.
    """
    if is_unit(one) != is_unit(other):
        raise Refusal(
            "format", "two documents of a kind", "One is a unit, the other a site.", "Compare like with like."
        )
    whole = [dump(unit_of(data).document if is_unit(data) else read_site(data)) for data in (one, other)]
    return differences(*whole)
