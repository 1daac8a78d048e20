"""Files and audits by the command line."""

import json

import ezdxf
import pytest

from ashfell.cli import main
from ashfell.services.handover import FORMATS
from tests.conftest import ROOM


@pytest.mark.parametrize("suffix", [".ifc", ".stl.zip", ".xlsx", ".glb"])
def test_a_site_is_written_in_the_format_of_its_suffix(tmp_path, capsys, suffix):
    path = tmp_path / f"out{suffix}"
    assert main(["write", str(ROOM), str(path)]) == 0
    assert path.stat().st_size > 500
    assert f"{path.stat().st_size} bytes" in capsys.readouterr().out


def test_a_unit_is_written_with_what_is_set(unit_file, tmp_path):
    path = tmp_path / "unit.dxf"
    assert main(["write", str(unit_file()), str(path), "--set", "measure=in", "--lengths", "in"]) == 0
    assert ezdxf.readfile(path).units == ezdxf.units.IN


@pytest.mark.parametrize(
    ("options", "words"),
    [
        (["x.exe"], "no format"),
        (["x.pdf", "--set", "paper=A9"], "Choose one of A3"),
        (["x.pdf", "--set", "colour=red"], "no option “colour”"),
        (["x.ifc", "--storey", "cellar"], "no storey “cellar”"),
    ],
)
def test_what_cannot_be_written_says_why(tmp_path, capsys, options, words):
    assert main(["write", str(ROOM), str(tmp_path / options[0]), *options[1:]]) == 1
    assert words in capsys.readouterr().err
    assert [*tmp_path.iterdir()] == []


def test_an_audit_is_an_exit_status(unit_file, tmp_path, capsys):
    assert main(["check", str(unit_file())]) == 0
    assert "0 findings" in capsys.readouterr().out
    site = tmp_path / "site.json"
    site.write_text(
        json.dumps(
            {"walls": [{"id": "w", "length": "3 m"}], "placements": [{"id": "p", "wall": "w", "unit": "not-there"}]}
        )
    )
    assert main(["check", str(site), "--json"]) == 3
    findings = json.loads(capsys.readouterr().out)
    assert any(one["level"] == "fault" for one in findings)


def test_formats_are_listed(capsys):
    assert main(["formats", "--json"]) == 0
    listed = {one["format"]: one for one in json.loads(capsys.readouterr().out)}
    assert set(listed) == set(FORMATS)
    assert listed["pdf"]["options"]["paper"][0] == "A3"
    assert main(["formats"]) == 0
    assert "ifc" in capsys.readouterr().out
