"""What programs work with: the example of the documentation as it stands, and what each function promises."""

import json
import re

import ifcopenshell
import pytest
from PIL import Image

import ashfell
from ashfell import Refusal
from ashfell.cli import FAULTY, REFUSED, main
from ashfell.core.base.differences import differences
from tests.conftest import DEMO, ROOM, ROOT
from tests.formats.test_dxf_in import hut


def test_the_documents_example_runs_as_it_stands(tmp_path, monkeypatch):
    text = (ROOT / "docs/programs.md").read_text()
    (code,) = re.findall(r"```python\n(.*?)```", text, re.DOTALL)
    assert len(code.strip().splitlines()) <= 30
    (tmp_path / "demo").symlink_to(ROOT / "demo")
    monkeypatch.chdir(tmp_path)
    exec(compile(code, "docs/programs.md", "exec"), {})
    file = ifcopenshell.open("loft.ifc")
    assert sorted(window.Tag for window in file.by_type("IfcWindow")) == ["w1", "w2", "w3"]
    assert (tmp_path / "loft.pdf").read_bytes().startswith(b"%PDF")
    with Image.open("loft.png") as picture:
        assert picture.size == (160, 100)
        assert len(picture.getcolors(20_000)) > 200


def test_every_function_is_told_in_the_documents():
    text = (ROOT / "docs/programs.md").read_text()
    for name in ashfell.__all__:
        assert callable(getattr(ashfell, name))
        if name.islower():
            assert f"`{name}(" in text or f" `{name}(" in text, name
    with pytest.raises(AttributeError, match="nothing"):
        ashfell.nothing  # noqa: B018


def test_a_unit_says_what_it_is():
    made = ashfell.unit(ashfell.load(DEMO / "units/clubroom-window.json"))
    assert made.words == "4 lights of 732.5 mm clear, by equal clear lights; 3 bars of 50 mm."
    assert len(made.parts) == len(made.report["parts"]) == 35


def test_a_schedule_that_does_not_hold_names_row_heading_and_remedy(tmp_path):
    table = tmp_path / "t.csv"
    table.write_text("mark,wall,unit,offset\nW1,Quay,,1 m\nW2,Nowhere,,2 m\n")
    data = {"walls": [{"id": "quay", "name": "Quay"}]}
    with pytest.raises(Refusal) as refusal:
        ashfell.with_schedule(data, table)
    assert refusal.value.entry == "3.wall"
    assert refusal.value.remedy


def test_options_that_are_none_are_refused(tmp_path):
    data = ashfell.load(DEMO / "units/stair-window.json")
    for path, options in (("a.exe", {}), ("a.pdf", {"paper": "A9"}), ("a.pdf", {"colour": "red"})):
        with pytest.raises(Refusal) as refusal:
            ashfell.write(data, tmp_path / path, **options)
        assert refusal.value.remedy
        assert not (tmp_path / path).exists()


# --- what differs


def test_what_differs_is_told_entry_by_entry():
    one = ashfell.load(ROOM)
    other = json.loads(json.dumps(one))
    wall = other["walls"][0]
    wall["length"] = "12345 mm"
    other["placements"].reverse()
    gone = other["placements"].pop()
    found = {one.entry: one for one in ashfell.compare(one, other)}
    assert set(found) == {f"walls.{wall['id']}.length", f"placements.{gone['id']}"}
    assert found[f"placements.{gone['id']}"].kind == "removed"
    assert found[f"walls.{wall['id']}.length"].after == "12345 mm"
    assert ashfell.compare(one, one) == []


def test_what_is_as_usual_need_not_be_said():
    assert ashfell.compare({"width": "900"}, {"width": "900", "glazing": {}}) == []
    assert [one.entry for one in ashfell.compare({"width": "900"}, {"width": "90 cm"})] == ["width"]
    with pytest.raises(Refusal, match="the other a site"):
        ashfell.compare({"width": "900"}, {"walls": []})


def test_ten_thousand_entries_are_compared_by_their_ids():
    one = {"placements": [{"id": str(number), "offset": number} for number in range(10_000)]}
    other = {"placements": [entry | {"offset": 7} for entry in one["placements"][::-1]]}
    assert len(differences(one, other)) == 9_999


# --- the command line


def test_a_plan_is_converted_into_a_building(tmp_path, capsys):
    plan = tmp_path / "hut.dxf"
    plan.write_bytes(hut())
    ifc, again = tmp_path / "hut.ifc", tmp_path / "again.json"
    assert main(["convert", str(plan), str(ifc), "--read", "height=3 m"]) == 0
    assert len(ifcopenshell.open(ifc).by_type("IfcWall")) == 4
    assert main(["convert", str(ifc), str(again)]) == 0
    data = json.loads(again.read_text())
    assert {wall["height"] for wall in data["walls"]} == {"3000"}
    assert sorted(wall["length"] for wall in data["walls"]) == ["4000", "4000", "6000", "6000"]
    capsys.readouterr()
    assert main(["convert", str(plan), str(ifc), "--read", "height=tall"]) == REFUSED
    assert "height" in capsys.readouterr().err


def test_documents_are_compared(tmp_path, capsys):
    one, other = DEMO / "units/stair-window.json", tmp_path / "other.json"
    other.write_text(json.dumps(json.loads(one.read_text()) | {"height": "777"}))
    assert main(["compare", str(one), str(one)]) == 0
    assert capsys.readouterr().out == "0 differences\n"
    assert main(["compare", str(one), str(other)]) == FAULTY
    out = capsys.readouterr().out
    assert "→ 777" in out
    assert "1 difference\n" in out
    assert main(["compare", str(one), str(other), "--json"]) == FAULTY
    assert [row["entry"] for row in json.loads(capsys.readouterr().out)] == ["height"]
