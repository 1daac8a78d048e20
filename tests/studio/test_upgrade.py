"""Units kept in the first format are read in the second."""

from importlib import import_module

from ashfell.core.unit import make, read_unit

FIRST = {
    "format": "ashfell/unit/1", "name": "Old", "width": "1800", "height": "1200", "frame": {"face": "60", "depth": "90", "chamfer": "2"},
    "columns": {"rule": "clear", "lights": [{"size": None, "share": 1}] * 2, "bars": ["50"]},
    "rows": {"rule": "clear", "lights": [{"size": None, "share": 1}], "bars": []},
    "bars": {"depth": None, "setback": "4", "chamfer": "0", "through": "columns"},
    "glazing": {"thickness": "24", "setback": "30", "cover": "12", "bar_cover": None, "clearance": "3",
                "gasket": {"thickness": "4", "shows": "2"}, "bead": {"chamfer": "2"}},
    "finishes": {"frame": "slate-paint", "bar": "slate-paint", "glass": "clear-glass", "gasket": "black-rubber", "bead": "ash-timber"},
}  # fmt: skip


def test_a_unit_of_the_first_format_is_carried_over():
    upgraded = import_module("ashfell.studio.projects.migrations.0003_units_of_the_second_format").upgraded
    document = read_unit(upgraded(FIRST))
    assert (document.frame.edge.kind, document.bars.edge.kind) == ("chamfer", "square")
    assert [bar.face.text for bar in document.columns.bars] == ["50"]
    assert len(make(document).parts) == 4 + 1 + 2 + 4 + 8
    assert upgraded(upgraded(FIRST)) == upgraded(FIRST)


def test_the_migration_changes_what_is_kept(db, person):
    from django.apps import apps

    from ashfell.services.kept.models import Project, Record

    project = Project.objects.create(name="Old house")
    record = Record.start(project, "unit", "old", FIRST, person)
    import_module("ashfell.studio.projects.migrations.0003_units_of_the_second_format").upgrade(apps, None)
    record.refresh_from_db()
    assert record.data["format"] == "ashfell/unit/2"
