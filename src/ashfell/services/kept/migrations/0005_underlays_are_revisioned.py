"""What lies under a unit is part of its revisions; images are kept once, by their content."""

import hashlib

from django.db import migrations, models


def take_over(apps, schema_editor):
    """The underlay of each record goes with the revision that is in force."""
    assets, revisions = apps.get_model("projects", "Asset"), apps.get_model("projects", "Revision")
    for under in apps.get_model("projects", "Underlay").objects.select_related("record").iterator():
        key = ""
        if under.image is not None:
            key = hashlib.sha256(bytes(under.image)).hexdigest()
            assets.objects.get_or_create(key=key, defaults={"content": under.image})
        names = ("name", "lines", "across", "up", "x", "y", "width")
        data = {name: getattr(under, name) for name in names} | {"image": key}
        revisions.objects.filter(pk=under.record.current_id).update(underlay=data)


class Migration(migrations.Migration):
    dependencies = [("projects", "0004_underlay")]

    operations = [
        migrations.CreateModel(
            name="Asset",
            fields=[
                ("key", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("content", models.BinaryField()),
            ],
        ),
        migrations.AddField("Revision", "underlay", models.JSONField(null=True)),
        migrations.RunPython(take_over, migrations.RunPython.noop),
        migrations.DeleteModel("Underlay"),
    ]
