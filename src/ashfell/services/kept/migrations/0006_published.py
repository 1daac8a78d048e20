from django.conf import settings
from django.db import migrations, models


def publish(apps, schema_editor):
    """What was a template is published by each member of its project."""
    published = apps.get_model("projects", "Published")
    for record in apps.get_model("projects", "Record").objects.filter(template=True).select_related("current"):
        for person in record.project.members.all():
            published.objects.create(
                owner=person, record=record, key=f"own-{record.pk}", version=1, data=record.current.data
            )


class Migration(migrations.Migration):
    dependencies = [
        ("projects", "0005_underlays_are_revisioned"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name="Published",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.SlugField(max_length=60)),
                ("version", models.PositiveIntegerField()),
                ("data", models.JSONField()),
                ("news", models.CharField(blank=True, max_length=200)),
                ("made", models.DateTimeField(auto_now_add=True)),
                (
                    "owner",
                    models.ForeignKey(
                        on_delete=models.CASCADE, related_name="published", to=settings.AUTH_USER_MODEL
                    ),
                ),
                (
                    "record",
                    models.ForeignKey(
                        null=True, on_delete=models.SET_NULL, related_name="published", to="projects.record"
                    ),
                ),
            ],
            options={"ordering": ["key", "version"]},
        ),
        migrations.AddConstraint(
            "Published", models.UniqueConstraint(fields=("owner", "key", "version"), name="one_of_each_version")
        ),
        migrations.RunPython(publish, migrations.RunPython.noop),
        migrations.RemoveField("Record", "template"),
    ]
