"""The same work without a browser: ``ashfell build UNIT.json``, ``ashfell scene SITE.json``, ``ashfell picture``."""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Callable, Iterable, Sequence
from functools import partial
from pathlib import Path

import shtab

from ashfell import library
from ashfell.core.audit.finding import Finding
from ashfell.core.base.document import dump, read
from ashfell.core.base.lengths import STYLES
from ashfell.core.base.progress import heard_by, tell
from ashfell.core.base.refusal import Refusal
from ashfell.core.report import Report, scene_report, unit_report
from ashfell.core.unit.say.build_up import build_up
from ashfell.formats import glb, svg
from ashfell.pictures.settings import PASSES, PictureSettings
from ashfell.services.documents import KINDS, check_unit, load, load_site, scene_of, schema
from ashfell.services.handover import FORMATS
from ashfell.services.textures import jpeg

REFUSED, UNREADABLE, FAULTY = 1, 2, 3
PATIENCE, WRITTEN_OVER, LOGGED = 1.0, 0.2, 5.0
"""After how long work is long, and how often what is shown of it is changed, on a terminal and in a log, seconds."""
SHORT = 60
"""How much of a value is printed, letters."""


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status: 0 done, 1 the document is refused, 2 a file cannot be read, 3 it was
    made and the audit finds a fault in it, or what is compared differs."""
    options = _parser().parse_args(arguments)
    run: Callable[[argparse.Namespace], int] = options.run
    try:
        with Line(Path(options.document).name) as line, heard_by(line.tell):
            return run(options)
    except Refusal as refusal:
        print(f"{options.document}: {refusal.entry}: {refusal}", file=sys.stderr)
        return REFUSED
    except (OSError, json.JSONDecodeError) as error:
        print(f"{options.document}: {error}", file=sys.stderr)
        return UNREADABLE


class Line:
    """How far long work has come, in a line on the terminal that is written over; where there is no terminal, as in a
    log, in a line now and then."""

    def __init__(self, name: str) -> None:
        self.name, self.shown, self.next = name, 0, time.monotonic() + PATIENCE
        self.over = sys.stderr.isatty()

    def __enter__(self) -> Line:
        return self

    def __exit__(self, *raised: object) -> None:
        self._show("")

    def tell(self, what: str, done: int, of: int) -> None:
        """Show that so many of so many are done, unless something was shown a moment ago."""
        if time.monotonic() >= self.next:
            self.next = time.monotonic() + (WRITTEN_OVER if self.over else LOGGED)
            self._show(f"{self.name}: {what}, {done} of {of}")

    def _show(self, text: str) -> None:
        if self.over:
            sys.stderr.write("\r" + text.ljust(self.shown) + ("" if text else "\r"))
            sys.stderr.flush()
            self.shown = len(text)
        elif text:
            print(text, file=sys.stderr, flush=True)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="ashfell", description="Build units and sites from their documents.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    unit = commands.add_parser("build", help="build a unit document")
    unit.add_argument("document", type=Path, metavar="UNIT.json")
    unit.add_argument("--glb", type=Path, help="write the solids as binary glTF")
    unit.add_argument("--svg", type=Path, help="write the dimensioned elevation")
    unit.add_argument("--report", type=Path, help="write parts, lights and findings as JSON (- for the terminal)")
    unit.add_argument("--say", choices=STYLES, help="print the build-up list, lengths in this unit")
    unit.set_defaults(run=_build)
    site = commands.add_parser("scene", help="build a site document with its units")
    site.add_argument("document", type=Path, metavar="SITE.json")
    site.add_argument("--glb", type=Path, help="write the scene as binary glTF")
    site.add_argument("--report", type=Path, help="write parts, openings and findings as JSON (- for the terminal)")
    site.set_defaults(run=_scene)
    picture = commands.add_parser("picture", help="trace a picture of a site")
    picture.add_argument("document", type=Path, metavar="SITE.json")
    picture.add_argument("settings", type=Path, metavar="PICTURE.json", help="its settings, and its look beside them")
    picture.add_argument("image", type=Path, metavar="IMAGE.png", help="or, of lines, IMAGE.svg")
    picture.add_argument("--quality", choices=PASSES, help="another than its settings say")
    picture.add_argument("--width", type=int, help="another width in pixels, its proportions kept")
    picture.add_argument("--scheduler", default="", metavar="ADDRESS", help="have its machines trace: tcp://HOST:8786")
    picture.set_defaults(run=_picture)
    for name, words in WRITING.items():
        _add_writing(commands.add_parser(name, help=words), name)
    formats = commands.add_parser("formats", help="list the formats and what can be set about each")
    formats.add_argument("--json", action="store_true", help="as JSON")
    formats.set_defaults(run=_formats, document="formats")
    check = commands.add_parser("check", help="audit a unit or a site; the exit status says whether there is a fault")
    check.add_argument("document", type=Path, metavar="DOCUMENT.json")
    check.add_argument("--json", action="store_true", help="as JSON")
    check.set_defaults(run=_check)
    compare = commands.add_parser(
        "compare", help="list what differs between two documents; the exit status says whether"
    )
    compare.add_argument("document", type=Path, metavar="ONE")
    compare.add_argument("other", type=Path, metavar="OTHER")
    compare.add_argument("--json", action="store_true", help="as JSON")
    compare.set_defaults(run=_compare)
    schemas = commands.add_parser("schema", help="print the JSON Schema of a document")
    schemas.add_argument("document", choices=sorted(KINDS))
    schemas.set_defaults(run=_schema)
    shtab.add_argument_to(parser, "--completion", help="print what completes this command in a shell")
    return parser


WRITING = {
    "write": "write what a file holds into another, in the format of its suffix",
    "convert": "the same, from any file that can be read",
    "drawing": "draw plan, elevations and sections, or a unit: DXF, SVG or PDF",
    "sheet": "draw sheets with a title: PDF",
    "schedule": "list openings, units, glass, members and finishes: XLSX or CSV",
}
ONLY = {"drawing": ("drawings",), "sheet": ("drawings",), "schedule": ("lists",)}
"""Of which groups the formats of a command are."""


def _add_writing(command: argparse.ArgumentParser, name: str) -> None:
    """What is said of a file that is to be written."""
    keys = sorted(key for key, one in FORMATS.items() if one.group in ONLY.get(name, (one.group,)))
    keys = [key for key in keys if name != "sheet" or FORMATS[key].suffix == ".pdf"]
    read = command.add_argument(
        "document", type=Path, metavar="FILE", help="a document, a project, an IFC or a DXF plan"
    )
    written = command.add_argument("file", type=Path, metavar="FILE")
    read.complete, written.complete = shtab.FILE, shtab.FILE  # type: ignore[attr-defined]
    command.add_argument("--read", action="append", default=[], metavar="OPTION=VALUE", help="as unit=m, of a plan")
    command.add_argument("--format", choices=keys, help="another than the suffix says")
    command.add_argument("--set", action="append", default=[], metavar="OPTION=VALUE", help="as paper=A4; repeatable")
    command.add_argument("--storey", default="", help="one storey of a site")
    command.add_argument("--only", action="append", default=[], metavar="ID", help="a wall, roof or plate; repeatable")
    command.add_argument("--lengths", choices=STYLES, default="mm", help="how lengths are shown")
    command.set_defaults(run=_write, formats=keys)


def _build(options: argparse.Namespace) -> int:
    unit, findings = check_unit(load(options.document))
    if options.glb:
        options.glb.write_bytes(glb.write_unit(unit, None, jpeg))
    if options.svg:
        options.svg.write_text(svg.elevation_svg(unit))
    if options.report:
        _write_report(options.report, unit_report(unit))
    if options.say:
        print("\n".join(sentence.text for sentence in build_up(unit, STYLES[options.say], {}, "") if sentence.text))
    print(f"{unit.document.name}: {len(unit.parts)} parts. {unit.layout.columns.sentence()}")
    return _faults(findings)


def _scene(options: argparse.Namespace) -> int:
    built = scene_of(load_site(options.document))
    site, scene = built.site, built.scene
    if options.glb:
        options.glb.write_bytes(glb.write_scene(site.name, scene, site.finishes, jpeg))
    if options.report:
        _write_report(options.report, scene_report(site, scene))
    for place, refusal in scene.refused:
        print(f"{place} left out: {refusal}", file=sys.stderr)
    print(f"{site.name}: {len(scene.instances)} instances of {len(scene.definitions)} definitions")
    refused = {place for place, _ in scene.refused}
    return _faults(finding for finding in built.findings if finding.place not in refused)


def _picture(options: argparse.Namespace) -> int:
    data = load(options.settings)
    look = data.pop("look", None)
    settings = read(PictureSettings, data)
    if options.width:
        height = max(16, round(options.width * settings.height / settings.width))
        settings = read(PictureSettings, dump(settings) | {"width": options.width, "height": height})
    if options.quality:
        settings = settings.model_copy(update={"quality": options.quality})

    library.picture(
        library.load(options.document),
        options.image,
        dump(settings),
        look,
        partial(tell, "passes traced"),
        options.scheduler,
    )
    print(f"{options.image}: {settings.width} by {settings.height} pixels, {settings.quality}")
    return 0


def _write(options: argparse.Namespace) -> int:
    data = library.load(options.document, **_set(options.read))
    form = options.format or library.format_of(data, options.file)
    if form not in options.formats:
        suffixes = ", ".join(sorted({FORMATS[key].suffix for key in options.formats}))
        raise Refusal("file", "a file of this command", f"“{options.file.name}” is none.", f"End it in {suffixes}.")
    file = library.write(data, options.file, form, options.storey, options.lengths, options.only, **_set(options.set))
    print(f"{file}: {file.stat().st_size} bytes")
    return 0


def _set(typed: Sequence[str]) -> dict[str, str]:
    return dict(one.partition("=")[::2] for one in typed)


def _compare(options: argparse.Namespace) -> int:
    found = library.compare(library.load(options.document), library.load(options.other))
    if options.json:
        rows = [{"entry": one.entry, "before": one.before, "after": one.after} for one in found]
        print(json.dumps(rows, indent=1, ensure_ascii=False))
    else:
        for one in found:
            print(f"{one.entry}: {_short(one.before)} → {_short(one.after)}")
        print(f"{len(found)} difference{'' if len(found) == 1 else 's'}")
    return FAULTY if found else 0


def _short(value: object) -> str:
    text = "nothing" if value is None else value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    return text if len(text) <= SHORT else f"{text[:SHORT]}…"


def _formats(options: argparse.Namespace) -> int:
    if options.json:
        listed = [
            {
                "format": one.key,
                "of": list(one.of),
                "suffix": one.suffix,
                "holds": one.holds,
                "options": {option.key: list(option.words) for option in one.options},
            }
            for one in FORMATS.values()
        ]
        print(json.dumps(listed, indent=1, ensure_ascii=False))
        return 0
    for one in FORMATS.values():
        print(f"{one.key:11} {one.suffix:13} {', '.join(one.of)}: {one.holds}")
        for option in one.options:
            print(f"{'':26}{option.key}: {', '.join(word or 'fitted' for word in option.words)}")
    return 0


def _check(options: argparse.Namespace) -> int:
    findings = library.check(library.load(options.document))
    if options.json:
        print(json.dumps([finding.as_dict() for finding in findings], indent=1, ensure_ascii=False))
    else:
        for finding in findings:
            print(f"{finding.level}: {finding.place}: {finding.reason} {finding.remedy}")
        print(f"{len(findings)} finding{'' if len(findings) == 1 else 's'}")
    return FAULTY if any(finding.level == "fault" for finding in findings) else 0


def _faults(findings: Iterable[Finding]) -> int:
    """Faults are told; with one of them the exit status is not 0."""
    faults = [finding for finding in findings if finding.level == "fault"]
    for fault in faults:
        print(f"fault: {fault.place}: {fault.reason} {fault.remedy}", file=sys.stderr)
    return FAULTY if faults else 0


def _schema(options: argparse.Namespace) -> int:
    print(json.dumps(schema(options.document), indent=1))
    return 0


def _write_report(path: Path, report: Report) -> None:
    text = json.dumps(report, indent=1, ensure_ascii=False)
    if str(path) == "-":
        print(text)
    else:
        path.write_text(text + "\n")


if __name__ == "__main__":
    sys.exit(main())
