"""Unit documents of the first format become documents of the second: a chamfer is a worked edge, a bar has entries."""

from django.db import migrations


def edge(size):
    return {"kind": "square" if size in ("0", 0) else "chamfer", "size": str(size)}


def upgraded(data):
    """A document of the second format; any other is returned as it is."""
    if data.get("format") != "ashfell/unit/1":
        return data
    made = data | {"format": "ashfell/unit/2"}
    for name in ("frame", "bars"):
        made[name] = {key: value for key, value in data[name].items() if key != "chamfer"} | {"edge": edge(data[name]["chamfer"])}
    made["glazing"] = data["glazing"] | {"bead": {"edge": edge(data["glazing"]["bead"]["chamfer"])}}
    for axis in ("columns", "rows"):
        made[axis] = data[axis] | {"bars": [{"face": face} for face in data[axis]["bars"]]}
    return made


def upgrade(apps, schema_editor):
    revisions = apps.get_model("projects", "Revision").objects.filter(record__kind="unit")
    for revision in revisions.iterator():
        data = upgraded(revision.data)
        if data is not revision.data:
            revisions.filter(pk=revision.pk).update(data=data)


class Migration(migrations.Migration):
    dependencies = [("projects", "0002_templates_and_named_versions")]
    operations = [migrations.RunPython(upgrade, migrations.RunPython.noop)]
