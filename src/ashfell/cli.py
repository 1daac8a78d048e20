"""The same work without a browser: ``ashfell build UNIT.json`` and ``ashfell scene SITE.json``."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import Finish
from ashfell.core.report import Report, scene_report, unit_report
from ashfell.core.scene import build_scene
from ashfell.core.unit import UnitDocument, make, read_unit
from ashfell.core.wall import SiteDocument, read_site
from ashfell.formats import glb, svg

REFUSED, UNREADABLE = 1, 2
DOCUMENTS = {"unit": UnitDocument, "site": SiteDocument, "finish": Finish}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status: 0 done, 1 the document is refused, 2 a file cannot be read."""
    options = _parser().parse_args(arguments)
    run: Callable[[argparse.Namespace], None] = options.run
    try:
        run(options)
    except Refusal as refusal:
        print(f"{options.document}: {refusal.entry}: {refusal}", file=sys.stderr)
        return REFUSED
    except (OSError, json.JSONDecodeError) as error:
        print(f"{options.document}: {error}", file=sys.stderr)
        return UNREADABLE
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="ashfell", description="Build units and sites from their documents.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    unit = commands.add_parser("build", help="build a unit document")
    unit.add_argument("document", type=Path, metavar="UNIT.json")
    unit.add_argument("--glb", type=Path, help="write the solids as binary glTF")
    unit.add_argument("--svg", type=Path, help="write the dimensioned elevation")
    unit.add_argument("--report", type=Path, help="write parts, lights and findings as JSON (- for the terminal)")
    unit.set_defaults(run=_build)
    site = commands.add_parser("scene", help="build a site document with its units")
    site.add_argument("document", type=Path, metavar="SITE.json")
    site.add_argument("--glb", type=Path, help="write the scene as binary glTF")
    site.add_argument("--report", type=Path, help="write parts, openings and findings as JSON (- for the terminal)")
    site.set_defaults(run=_scene)
    schema = commands.add_parser("schema", help="print the JSON Schema of a document")
    schema.add_argument("document", choices=sorted(DOCUMENTS))
    schema.set_defaults(run=_schema)
    return parser


def _build(options: argparse.Namespace) -> None:
    unit = make(read_unit(_load(options.document)))
    if options.glb:
        options.glb.write_bytes(glb.write_unit(unit.document.name, unit.parts))
    if options.svg:
        options.svg.write_text(svg.elevation_svg(unit))
    if options.report:
        _write_report(options.report, unit_report(unit))
    print(f"{unit.document.name}: {len(unit.parts)} parts. {unit.layout.columns.sentence()}")


def _scene(options: argparse.Namespace) -> None:
    site = read_site(load_site(options.document))
    scene = build_scene(site)
    if options.glb:
        options.glb.write_bytes(glb.write_scene(site.name, scene, site.finishes))
    if options.report:
        _write_report(options.report, scene_report(site, scene))
    for place, refusal in scene.refused:
        print(f"{place} left out: {refusal}", file=sys.stderr)
    print(f"{site.name}: {len(scene.instances)} instances of {len(scene.definitions)} definitions")


def _schema(options: argparse.Namespace) -> None:
    print(json.dumps(DOCUMENTS[options.document].model_json_schema(), indent=1))


def _load(path: Path) -> dict[str, Any]:
    data = json.loads(path.read_text())
    if not isinstance(data, dict):
        raise Refusal("", "a document", "The file holds no JSON object.")
    return data


def load_site(path: Path) -> dict[str, Any]:
    """A site's data; a unit given as text is a file beside the site's."""
    data = _load(path)
    units = data.get("units", {})
    data["units"] = {key: _load(path.parent / unit) if isinstance(unit, str) else unit for key, unit in units.items()}
    return data


def _write_report(path: Path, report: Report) -> None:
    text = json.dumps(report, indent=1, ensure_ascii=False)
    if str(path) == "-":
        print(text)
    else:
        path.write_text(text + "\n")


if __name__ == "__main__":
    sys.exit(main())
