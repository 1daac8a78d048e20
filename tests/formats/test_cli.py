"""The command line: the same work without a browser."""

import io
import json
import shlex
import subprocess
import sys
from xml.etree import ElementTree

import pytest
import trimesh

from ashfell.cli import REFUSED, Line, main
from ashfell.core.base.lengths import parse
from tests.conftest import DEMO, ROOM, ROOT
from tests.formats.reading import Glb, content


def test_build_writes_glb_svg_and_report(unit_file, tmp_path):
    out = {name: tmp_path / f"out.{name}" for name in ("glb", "svg", "json")}
    path = unit_file()
    assert (
        main(["build", str(path), "--glb", str(out["glb"]), "--svg", str(out["svg"]), "--report", str(out["json"])])
        == 0
    )
    report = json.loads(out["json"].read_text())
    scene = trimesh.load(out["glb"])
    assert len(scene.geometry) == len({part["finish"] for part in report["parts"]})
    assert {told["part"] for told, _ in Glb(out["glb"].read_bytes()).parts()} == {
        part["id"] for part in report["parts"]
    }
    assert [light["clear"]["width"] for light in report["lights"]] == ["732.5 mm"] * 4
    assert [light["clear"]["width_mm"] for light in report["lights"]] == [732.5] * 4
    assert all(part["closed"] and part["volume_mm3"] > 0 for part in report["parts"])
    assert report["findings"] == []
    numbers = [node.text for node in ElementTree.parse(out["svg"]).iter() if node.tag.endswith("text")]
    assert {"3200", "1900", "732.5", "60", "50"} <= set(numbers)


def test_sizes_in_the_report_are_exact_as_text(unit_file, tmp_path):
    thirds = {"rule": "clear", "lights": [{}] * 3, "bars": ["50", "50"]}
    report = tmp_path / "r.json"
    main(["build", str(unit_file(columns=thirds)), "--report", str(report)])
    sizes = [parse(light["clear"]["width"]) for light in json.loads(report.read_text())["lights"]]
    assert sum(sizes) + 2 * 50 + 2 * 60 == 3200
    assert sizes[0].denominator == 3


def test_unequal_lights_are_in_the_findings(unit_file, tmp_path):
    centres = {"rule": "centres", "lights": [{}] * 4, "bars": ["50"] * 3}
    report = tmp_path / "r.json"
    main(["build", str(unit_file(columns=centres)), "--report", str(report)])
    (finding,) = json.loads(report.read_text())["findings"]
    assert finding["rule"] == "equal lights"
    assert "745, 720, 720, 745" in finding["reason"]
    assert "732.5 each" in finding["remedy"]


def test_scene_with_units_from_files_beside_it(tmp_path):
    out, report = tmp_path / "site.glb", tmp_path / "site.json"
    assert main(["scene", str(ROOM), "--glb", str(out), "--report", str(report)]) == 0
    told = json.loads(report.read_text())
    assert told["findings"] == []
    assert told["openings"][0] == {
        "placement": "clubroom-window",
        "x": "1400 mm",
        "sill": "500 mm",
        "head": "2400 mm",
        "width": "3200 mm",
        "height": "1900 mm",
    }
    assert trimesh.load(out).bounds[1][1] == pytest.approx(3.2)


def test_what_cannot_be_built_says_why(unit_file, capsys):
    assert main(["build", str(unit_file(width="100"))]) == 1
    said = capsys.readouterr().err
    assert "width: 3 bars of 50 mm leave −170 mm for 4 lights. The frame would have to be at least" in said


def test_what_cannot_be_read_says_so(tmp_path, capsys):
    assert main(["build", str(tmp_path / "none.json")]) == 2
    broken = tmp_path / "broken.json"
    broken.write_text("{")
    assert main(["build", str(broken)]) == 2
    assert "broken.json" in capsys.readouterr().err


def test_the_documents_examples_run_as_they_stand(tmp_path, monkeypatch, capsys):
    """Every command of docs/command-line.md, and the words it is said to print."""
    text = (ROOT / "docs/command-line.md").read_text()
    monkeypatch.chdir(tmp_path)
    commands = [line.strip() for line in text.splitlines() if line.startswith("    .venv/bin/ashfell ")]
    assert len(commands) == 8
    for command in commands:
        words = [str(ROOT / word) if word.startswith("demo/") else word for word in shlex.split(command)[1:]]
        assert main(words) == 0
        printed = capsys.readouterr().out
        told = ("instances", "pixels", "bytes", "0 findings", "0 differences")
        assert printed.split(".")[0] in text or any(words in printed for words in told)
    for name in ("site.glb", "site.ifc", "entrance.pdf"):
        assert (tmp_path / name).stat().st_size > 10_000
    assert (tmp_path / "bay.png").read_bytes().startswith(b"\x89PNG")


@pytest.mark.parametrize("document", ["unit", "site", "finish"])
def test_schemas_are_published(document, capsys):
    assert main(["schema", document]) == 0
    schema = json.loads(capsys.readouterr().out)
    version = {"unit": 4, "site": 5, "finish": 2}[document]
    assert schema["properties"]["format"]["default"] == f"ashfell/{document}/{version}"
    assert schema["additionalProperties"] is False


def test_sheet_drawing_and_schedule_write_their_kinds_of_file_alone(tmp_path, capsys):
    unit, site = DEMO / "units/entrance.json", DEMO / "site.json"
    assert main(["sheet", str(unit), str(tmp_path / "entrance.pdf")]) == 0
    assert (tmp_path / "entrance.pdf").read_bytes().startswith(b"%PDF-")
    assert main(["drawing", str(unit), str(tmp_path / "entrance.svg")]) == 0
    assert main(["schedule", str(site), str(tmp_path / "openings.csv.zip")]) == 0
    assert main(["sheet", str(unit), str(tmp_path / "entrance.glb")]) == REFUSED
    assert "End it in .pdf." in capsys.readouterr().err
    assert not (tmp_path / "entrance.glb").exists()


def test_a_shell_completes_commands_and_options():
    words = "COMP_WORDS=(ashfell {0}); COMP_CWORD={1}; _shtab_ashfell; echo ${{COMPREPLY[@]}}"
    for typed, place, expected in (("sch", 1, {"schedule", "schema"}), ("write --form", 2, {"--format"})):
        script = f'eval "$({sys.executable} -m ashfell.cli --completion bash)"; {words.format(typed, place)}'
        told = subprocess.run(["bash", "-c", script], capture_output=True, text=True, check=True)
        assert set(told.stdout.split()) == expected


def test_long_work_says_how_far_it_has_come(tmp_path, capsys, monkeypatch):
    written = [str(ROOM), str(tmp_path / "room.ifc")]
    assert main(["write", *written]) == 0
    assert capsys.readouterr().err == ""  # it is soon done
    monkeypatch.setattr("ashfell.cli.PATIENCE", 0)
    monkeypatch.setattr("ashfell.cli.LOGGED", 0)
    assert main(["write", *written]) == 0
    told = capsys.readouterr().err.splitlines()
    site = json.loads(ROOM.read_text())
    count = len(site["walls"]) + len(site["plates"]) + len(site.get("surroundings", ()))
    assert [line for line in told if "written" in line] == [
        f"site.json: walls and plates written, {done} of {count}" for done in range(count + 1)
    ]


def test_on_a_terminal_one_line_is_written_over_and_left_clean(monkeypatch):
    class Terminal(io.StringIO):
        def isatty(self):
            return True

    terminal = Terminal()
    monkeypatch.setattr(sys, "stderr", terminal)
    with Line("site.json") as line:
        line.next = 0
        line.tell("walls built", 9, 10)
        line.tell("walls built", 10, 10)  # a moment after the other
    assert terminal.getvalue() == "\rsite.json: walls built, 9 of 10\r" + " " * 31 + "\r"


def test_some_walls_are_written_alone(tmp_path, capsys):
    data = json.loads(ROOM.read_text())
    wall = data["placements"][0]["wall"]
    assert main(["write", str(ROOM), str(tmp_path / "wall.glb"), "--only", wall]) == 0
    names = {node["name"] for node in content((tmp_path / "wall.glb").read_bytes())["nodes"]}
    assert {name for name in names if name.startswith("walls.")} == {f"walls.{wall}"}
    assert main(["write", str(ROOM), str(tmp_path / "none.glb"), "--only", "nowhere"]) == REFUSED
    assert "nowhere" in capsys.readouterr().err
    assert main(["write", str(ROOM), str(tmp_path / "both.glb"), "--only", wall, "--storey", "ground"]) == REFUSED
    assert "A storey is asked for, too." in capsys.readouterr().err
    assert main(["write", str(DEMO / "units/entrance.json"), str(tmp_path / "u.glb"), "--only", wall]) == REFUSED
    assert "A unit has no walls" in capsys.readouterr().err
