from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("intake", "0002_asked_once"),
    ]

    operations = [
        migrations.AddField(
            model_name="intake",
            name="size",
            field=models.PositiveBigIntegerField(default=0, editable=False),
        ),
    ]
