from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("gallery", "0006_asked_once"),
    ]

    operations = [
        migrations.AddField(
            model_name="picture",
            name="size",
            field=models.PositiveBigIntegerField(default=0, editable=False),
        ),
    ]
