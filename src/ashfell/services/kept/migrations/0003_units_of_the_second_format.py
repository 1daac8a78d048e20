"""Unit documents of the first format become documents of the second: a chamfer is a worked edge, a bar has entries."""

from django.db import migrations

from ashfell.core.upgrade import unit_1


def upgrade(apps, schema_editor):
    revisions = apps.get_model("projects", "Revision").objects.filter(record__kind="unit")
    for revision in revisions.iterator():
        if revision.data.get("format") == unit_1.FORMAT:
            revisions.filter(pk=revision.pk).update(data=unit_1.upgrade(revision.data))


class Migration(migrations.Migration):
    dependencies = [("projects", "0002_templates_and_named_versions")]
    operations = [migrations.RunPython(upgrade, migrations.RunPython.noop)]
