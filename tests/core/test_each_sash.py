"""One of several sashes may hold something of its own, have its own glass, and be opened as far as it likes."""

from __future__ import annotations

import pytest

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.base.refusal import Refusal
from ashfell.core.unit import make, read_unit
from ashfell.core.unit.edit.change import change
from ashfell.core.unit.solve.unit import laid_out
from tests.core.test_sliders import GLAZING, slider

MUNTINS = {"kind": "glass", "muntins": {"columns": {"lights": [{}, {}], "bars": ["18"]}, "proud": "3"}}


def vertical(**each):
    unit = slider([1, 2])
    return unit | {"width": "900", "fill": unit["fill"] | {"slide": "up", "tracks": [], "each": each}}


def test_muntins_in_the_upper_sash_only():
    unit = make(read_unit(vertical(upper={"content": {"fill": MUNTINS}})))
    assert audit_unit(unit) == []
    muntins = {part.light for part in unit.parts if part.role == "muntin"}
    assert muntins == {"c1r1.upper.c1r1"}
    upper, lower = (sash.body.lights[0] for sash in unit.layout.lights[0].sashes)
    assert upper.path == "fill.each.upper.content"
    assert lower.path == "fill.content"


def test_thirty_seven_percent_on_the_third_panel():
    each = {"panel-3": {"opened": 37}}
    shut, part, whole = (
        make(read_unit(slider([1, 2, 2, 1], **more))) for more in ({}, {"each": each}, {"opened": 100})
    )
    third = [sash.motion for sash in part.layout.lights[0].sashes]
    assert [motion is None for motion in third] == [True, True, False, True]
    gone, all_the_way = third[2][0, 3], whole.layout.lights[0].sashes[2].motion[0, 3]
    assert gone == pytest.approx(0.37 * all_the_way)
    assert all(sash.motion is None for sash in shut.layout.lights[0].sashes)
    assert audit_unit(part) == []


def test_one_of_a_pair_is_opened():
    pair = {"kind": "sash", "opening": "side-hung-pair", "depth": "40", "glazing": GLAZING, "clearance": "8"}
    pair["each"] = {"right": {"opened": 60}}
    left, right = make(read_unit({"width": "1400", "frame": {"depth": "120"}, "fill": pair})).layout.lights[0].sashes
    assert left.motion is None
    assert right.motion is not None


def test_its_own_is_made_on_the_page_and_begins_as_what_it_was():
    data = dump(read_unit(vertical()))
    data = change(data, "fill.each.lower.content.fill.kind", "open")
    sashes = make(read_unit(data)).layout.lights[0].sashes
    assert [sash.body.lights[0].fill.kind for sash in sashes] == ["glass", "open"]
    data = change(data, "fill.each.lower.opened", "25")
    assert make(read_unit(data)).layout.lights[0].sashes[1].motion is not None


@pytest.mark.parametrize("fill", [{"kind": "sash", "each": {"left": {}}}, {"kind": "sliders", "each": {"panel-9": {}}}])
def test_a_sash_that_is_not_there_is_refused(fill):
    with pytest.raises(Refusal) as refused:
        make(read_unit({"frame": {"depth": "120"}, "fill": fill}))
    assert refused.value.rule in ("a sash that is there", "a bead behind the glass")


@pytest.mark.parametrize(("panes", "entry", "nearest"), [(1, "each.upper.glazing.thickness", 5), (2, "depth", 55)])
def test_glass_of_its_own_that_is_too_thick_is_told_where_it_stands(panes, entry, nearest):
    """Set back 24, 24 of glass, a gasket of 4 and 3 of a bead want 55 of a sash 36 deep, 19 too much. Two panes of 4
    with anything between them are more than the 5 that are left."""
    own = {"thickness": "24", "setback": "24", "gasket": {"thickness": "4"}, "panes": panes}
    thin = {"thickness": "4", "setback": "14", "gasket": {"thickness": "4"}}
    fill = {"kind": "sliders", "depth": "36", "glazing": thin, "each": {"upper": {"glazing": own}}}
    data = {"width": "1600", "frame": {"depth": "92"}, "fill": fill}
    with pytest.raises(Refusal) as refused:
        laid_out(read_unit(data))
    assert (refused.value.entry, refused.value.nearest) == (f"fill.{entry}", nearest)
    if panes == 1:
        make(read_unit(change(data, refused.value.entry, str(refused.value.nearest))))
