import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("projects", "0006_published"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        # The table of members is there; it becomes a model of its own.
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Membership",
                    fields=[
                        (
                            "id",
                            models.BigAutoField(
                                auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                            ),
                        ),
                        (
                            "project",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="memberships",
                                to="projects.project",
                            ),
                        ),
                        (
                            "user",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE,
                                related_name="memberships",
                                to=settings.AUTH_USER_MODEL,
                            ),
                        ),
                    ],
                    options={
                        "db_table": "projects_project_members",
                        "ordering": ["pk"],
                        "unique_together": {("project", "user")},
                    },
                ),
                migrations.AlterField(
                    "Project",
                    "members",
                    models.ManyToManyField(
                        related_name="projects", through="projects.Membership", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ]
        ),
        # Who was a member could do everything.
        migrations.AddField(
            "Membership",
            "role",
            models.CharField(
                choices=[("owner", "Owner"), ("editor", "Editor"), ("viewer", "Viewer")],
                default="owner",
                max_length=8,
            ),
        ),
        migrations.AddField("Project", "binned", models.DateTimeField(editable=False, null=True)),
        migrations.AddField("Record", "binned", models.DateTimeField(editable=False, null=True)),
    ]
