import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models


def sign_out(apps, schema_editor):
    """Sessions of before are in no list of places: everybody signs in anew."""
    apps.get_model("sessions", "Session").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [
        ("people", "0003_links"),
        ("sessions", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RunPython(sign_out, migrations.RunPython.noop),
        migrations.CreateModel(
            name="Place",
            fields=[
                (
                    "session",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        serialize=False,
                        to="sessions.session",
                    ),
                ),
                ("address", models.CharField(max_length=45)),
                ("since", models.DateTimeField(default=django.utils.timezone.now)),
                ("seen", models.DateTimeField(default=django.utils.timezone.now)),
                (
                    "person",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="places",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"ordering": ["-seen"]},
        ),
    ]
