from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("handover", "0003_sizes"),
    ]

    operations = [
        migrations.AddField(
            model_name="handover",
            name="doing",
            field=models.CharField(blank=True, editable=False, max_length=40),
        ),
        migrations.AddField(
            model_name="handover",
            name="done",
            field=models.PositiveIntegerField(default=0, editable=False),
        ),
        migrations.AddField(
            model_name="handover",
            name="of",
            field=models.PositiveIntegerField(default=0, editable=False),
        ),
    ]
