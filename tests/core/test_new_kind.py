"""A filling that is nobody's but this test's: one record, and it is read, solved, built, moved, said, drawn, measured,
named in IFC, offered, written and told in the schema."""

import json
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import Gap, Size, dump, mm
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.base.registry import schema_of
from ashfell.core.drawing.unit_sheet import unit_sheet
from ashfell.core.kinds.filling import FILLINGS, FillEntry, Filling
from ashfell.core.kinds.roles import ROLES, Role
from ashfell.core.parts import ALONG_U, Member
from ashfell.core.solid.form import Box
from ashfell.core.unit.document.unit import UnitDocument, read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.layout import Content
from ashfell.core.unit.make import made
from ashfell.core.unit.say.build_up import build_up
from ashfell.core.unit.starts import ordinary_window
from ashfell.formats.glb import write_unit
from ashfell.formats.svg import elevation_svg
from tests.formats.reading import Glb


class Boards(FillEntry):
    """Boards across a light, as many as are asked for, a gap apart."""

    kind: Literal["boards"]
    count: int = 3
    thickness: Size = mm("20")
    gap: Gap = mm("10")


@dataclass(frozen=True, eq=False)
class BoardsContent(Content):
    """How high each board is, mm."""

    high: Fraction = Fraction(0)


def solved(light, fill, solving):
    high = (light.clear.height - (fill.count - 1) * fill.gap.mm) / fill.count
    if high <= 0:
        raise Refusal(f"{light.entry}.count", "boards with a height", "Too many boards.", "Take one.", Fraction(1))
    return BoardsContent(high=high)


def boards(light, finishes, bed):
    front = -float(light.ring.front)
    for number in range(light.fill.count):
        foot = light.clear.y + number * (light.content.high + light.fill.gap.mm)
        low = [float(light.clear.x), float(foot), front - float(light.fill.thickness.mm)]
        high = [float(light.clear.right), float(foot + light.content.high), front]
        finish = finishes.of("boarding")
        yield Member(
            f"boarding.{light.key}.{number + 1}",
            light.entry,
            "boarding",
            finish,
            ALONG_U,
            Box(tuple(low), tuple(high)),
            light.key,
        )


def said(w, path, light):
    count = w.number(f"{path}.count", light.fill.count, "Boards")
    w.say(path, count, "boards", w.length(f"{path}.gap", light.fill.gap, "Gap of the boards"), "apart.", nested=True)


RECORD = Filling(
    "boards",
    Boards,
    "boards",
    lambda fill: "boards",
    solved,
    boards,
    order=500,
    say=said,
    operation=lambda fill, name: "FIXEDCASEMENT",
)


@pytest.fixture
def kind():
    with FILLINGS.registered(RECORD), ROLES.registered(Role("boarding", "Boards", "white-paint", (200, 190, 170), 500)):
        yield


@pytest.fixture
def boarded(kind):
    two = change(dump(ordinary_window("Boarded")), "columns.count", "2")
    return change(two, "cells.c1r1.fill.kind", "boards")


def test_it_is_read_with_its_usual_sizes_and_typed_like_any_other(boarded):
    assert boarded["cells"]["c1r1"]["fill"] == {"kind": "boards", "count": 3, "thickness": "20", "gap": "10"}
    typed = change(boarded, "cells.c1r1.fill.gap", "1/2 in")
    assert typed["cells"]["c1r1"]["fill"]["gap"] == "1/2 in"
    with pytest.raises(Refusal, match="is not a whole number"):
        change(boarded, "cells.c1r1.fill.count", "many")


def test_it_is_built_exactly_and_found_sound(boarded):
    unit = made(read_unit(boarded))
    own = [part for part in unit.parts if part.role == "boarding"]
    light = next(light for light in unit.layout.lights if light.key == "c1r1")
    assert [part.id for part in own] == ["boarding.c1r1.1", "boarding.c1r1.2", "boarding.c1r1.3"]
    area = float(light.clear.width * (light.clear.height - 20))
    assert sum(part.solid.volume for part in own) == pytest.approx(area * 20, rel=1e-12)
    assert audit_unit(unit) == []


def test_its_refusal_names_the_entry_and_the_remedy_works(boarded):
    crowded = change(boarded, "cells.c1r1.fill.count", "2000")
    with pytest.raises(Refusal) as caught:
        made(read_unit(crowded))
    assert caught.value.entry == "cells.c1r1.fill.count"
    assert made(read_unit(change(crowded, caught.value.entry, str(caught.value.nearest)))).parts


def test_it_is_said_drawn_written_and_told(boarded):
    unit = made(read_unit(boarded))
    said_of_it = [
        one.text for one in build_up(unit, Style(), {}, "cells.c1r1") if one.entry.startswith("cells.c1r1.fill")
    ]
    assert any("boards" in text and "10" in text for text in said_of_it), said_of_it
    assert unit_sheet(unit, Style()).picks
    assert "boarding.c1r1.2" in elevation_svg(unit)
    roles = {part["role"] for part, _ in Glb(write_unit(unit)).placed()}
    assert roles >= {"frame", "boarding"}
    schema = json.dumps(schema_of(UnitDocument, FILLINGS))
    assert '"Boards"' in schema


def test_without_its_record_it_is_no_filling(boarded):
    data = boarded
    del FILLINGS._records["boards"]
    try:
        with pytest.raises(Refusal, match="boards"):
            read_unit(data)
    finally:
        FILLINGS.register(RECORD)
