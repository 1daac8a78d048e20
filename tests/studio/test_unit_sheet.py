"""The unit page: what a change did, where a section is taken, and when its sheet is drawn again."""

import gc

import pytest
from django.urls import reverse

from ashfell.core.base.lengths import STYLES
from ashfell.core.unit import make, read_unit
from ashfell.studio.units import sheet


@pytest.mark.django_db
def test_the_page_tells_what_a_change_did_and_a_wrong_place_of_a_section(signed_in, project):
    address = reverse("unit-edit", args=[project.pk, "clubroom-window"])
    shown = signed_in.post(address, {"entry": "frame.face", "value": "70", "keep": "0"}).content.decode()
    assert "Lights across: 4 of 732.5 became 4 of 727.5 mm clear. Lights up: 1780 became 1760 mm clear." in shown
    look = {"entry": "", "value": "", "keep": "0", "side": "across"}
    assert 'value="640"' in signed_in.post(address, look | {"cut": "@640"}).content.decode()
    assert 'data-cut="0.99"' in signed_in.post(address, look | {"cut": "@90 m"}).content.decode()
    wrong = signed_in.post(address, look | {"cut": "@near the top"})
    assert wrong.status_code == 422
    assert 'data-cut="0.5"' in signed_in.post(address, look | {"cut": "nan"}).content.decode()
    assert b'id="points"' not in signed_in.post(address, look | {"points": "frame.section"}).content


def test_a_sheet_is_drawn_again_when_something_else_is_asked_for(monkeypatch):
    made, draw = [], sheet.drawn
    monkeypatch.setattr(sheet, "drawn", lambda of: made.append(1) or draw(of))
    unit, other = (make(read_unit({"width": width})) for width in ("900", "1200"))
    asked = [
        (unit, "mm", "", "outside", 0.5),
        (unit, "in", "", "outside", 0.5),
        (unit, "in", "frame", "outside", 0.5),
        (unit, "in", "frame", "inside", 0.5),
        (unit, "in", "frame", "across", 0.5),
        (unit, "in", "frame", "across", 0.25),
        (other, "in", "frame", "across", 0.25),
    ]
    for number, (of, style, at, side, cut) in enumerate(asked, 1):
        one, again = (sheet.sheet_of(of, STYLES[style], at, side, cut) for _ in range(2))
        assert one is again
        assert len(made) == number
    before = len(sheet._LAST)
    del unit, of, asked, one, again
    gc.collect()
    assert len(sheet._LAST) < before
