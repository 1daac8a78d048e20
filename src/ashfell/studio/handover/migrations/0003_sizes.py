from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0002_asked_once"),
    ]

    operations = [
        migrations.AlterField(
            model_name="handover",
            name="size",
            field=models.PositiveBigIntegerField(default=0, editable=False),
        ),
    ]
