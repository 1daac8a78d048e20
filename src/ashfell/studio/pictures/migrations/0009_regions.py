from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("gallery", "0008_going_first"),
    ]

    operations = [
        migrations.AddField(
            model_name="picture",
            name="base",
            field=models.ForeignKey(
                null=True, on_delete=models.deletion.SET_NULL, related_name="regions", to="gallery.picture"
            ),
        ),
    ]
