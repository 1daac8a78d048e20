"""Units kept in the first format are read in the second."""

from importlib import import_module

from ashfell.core.audit.unit import audit_unit
from ashfell.core.base.document import dump
from ashfell.core.site.document.site import read_site
from ashfell.core.unit import make, read_unit
from ashfell.core.upgrade import upgraded
from ashfell.services.kept.models import Project, Record

FIRST = {
    "format": "ashfell/unit/1",
    "name": "Old",
    "width": "1800",
    "height": "1200",
    "frame": {"face": "60", "depth": "90", "chamfer": "2"},
    "columns": {"rule": "clear", "lights": [{"size": None, "share": 1}] * 2, "bars": ["50"]},
    "rows": {"rule": "clear", "lights": [{"size": None, "share": 1}], "bars": []},
    "bars": {"depth": None, "setback": "4", "chamfer": "0", "through": "columns"},
    "glazing": {
        "thickness": "24",
        "setback": "30",
        "cover": "12",
        "bar_cover": None,
        "clearance": "3",
        "gasket": {"thickness": "4", "shows": "2"},
        "bead": {"chamfer": "2"},
    },
    "finishes": {
        "frame": "slate-paint",
        "bar": "slate-paint",
        "glass": "clear-glass",
        "gasket": "black-rubber",
        "bead": "ash-timber",
    },
}


def test_a_unit_of_the_first_format_is_carried_over():
    document = read_unit(FIRST)
    assert (document.frame.edge.kind, document.bars.edge.kind) == ("chamfer", "square")
    assert [bar.face.text for bar in document.columns.bars] == ["50"]
    assert len(make(document).parts) == 4 + 1 + 2 + 4 + 8
    assert upgraded(upgraded(FIRST)) == upgraded(FIRST)


def test_a_casing_that_a_sill_ran_into_goes_where_it_has_room():
    second = {"format": "ashfell/unit/2", "trim": {"outside": {"sides": "all", "width": "80"}, "sill": {}}}
    document = read_unit(second)
    assert (document.trim.outside.sides, document.trim.outside.width.text) == ("fitting", "80")
    assert audit_unit(make(document)) == []
    assert (
        read_unit({"format": "ashfell/unit/2", "trim": {"outside": {"sides": "no sill"}}}).trim.outside.sides
        == "no sill"
    )


def test_what_was_said_of_lights_that_are_not_there_is_left_out():
    """It meant nothing; now it would be refused, or mean the one light that is there."""
    two = {"columns": {"lights": [{}, {}], "bars": ["60"]}}
    unsaid = {"fill": {"kind": "open"}}
    kept = read_unit(
        {"format": "ashfell/unit/2", **two, "cells": {"c1r1": {"cells": {"c1r1": unsaid}}, "c3r1": unsaid}}
    )
    assert list(kept.cells) == ["c1r1"]
    assert kept.cells["c1r1"].cells == {}
    assert read_unit({"format": "ashfell/unit/2", "cells": {"c1r1": unsaid}}).cells == {}
    assert read_unit({"cells": {"c1r1": unsaid}}).cells["c1r1"].fill.kind == "open"


def test_units_of_a_site_are_upgraded_with_it():
    """As they come in a file, and as they were kept with a picture."""
    site = read_site({"units": {"old": FIRST}})
    assert site.units["old"] == read_unit(FIRST)
    assert upgraded({"units": {"old": upgraded(FIRST)}})["units"]["old"] == upgraded(FIRST)


def test_what_a_record_kept_in_an_earlier_format_is_read_in_the_one_in_force(db, person):
    project = Project.objects.create(name="Old house")
    record = Record.start(project, "unit", "old", FIRST, person)
    assert record.data == dump(read_unit(FIRST))
    assert record.data["frame"]["glazed"] is None
    assert record.current.data == FIRST


def test_the_migration_changes_what_is_kept(db, person):
    from django.apps import apps

    project = Project.objects.create(name="Old house")
    record = Record.start(project, "unit", "old", FIRST, person)
    import_module("ashfell.services.kept.migrations.0003_units_of_the_second_format").upgrade(apps, None)
    record.current.refresh_from_db()
    assert record.current.data["format"] == "ashfell/unit/2"


def test_a_casing_that_stood_on_the_frame_follows_the_wall():
    third = {"format": "ashfell/unit/3", "trim": {"outside": {"forward": "0"}, "inside": {"forward": "12"}}}
    trim = read_unit(third).trim
    assert (trim.outside.forward, trim.inside.forward.text) == (None, "12")


def test_a_site_kept_in_the_first_format_can_be_changed(db, person):
    """Its placements have every entry there is now."""
    project = Project.objects.create(name="Old house")
    placed = {"id": "p", "wall": "w", "unit": "u", "offset": "100"}
    first = {"format": "ashfell/site/1", "walls": [{"id": "w"}], "placements": [placed]}
    record = Record.start(project, "site", "site", first, person)
    assert record.data["placements"][0]["head"] is None
    assert record.data["format"] == "ashfell/site/5"
    assert (record.data["lamps"], record.data["cameras"]) == ([], [])
