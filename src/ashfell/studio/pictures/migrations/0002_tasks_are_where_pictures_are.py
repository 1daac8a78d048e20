"""Passes that were waiting when the pages of pictures moved go on where they are now."""

from django.db import migrations

BEFORE, NOW = "ashfell.studio.gallery.tasks.trace_pass", "ashfell.studio.pictures.tasks.trace_pass"


def carried_over(apps, schema_editor):
    apps.get_model("django_tasks_database", "DBTaskResult").objects.filter(task_path=BEFORE).update(task_path=NOW)


class Migration(migrations.Migration):
    dependencies = [("gallery", "0001_initial"), ("django_tasks_database", "0021_conditional_partial_index_ordering")]
    operations = [migrations.RunPython(carried_over, migrations.RunPython.noop)]
