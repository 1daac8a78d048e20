from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("gallery", "0007_sizes"),
    ]

    operations = [
        migrations.AddField(
            model_name="picture",
            name="first",
            field=models.BooleanField(default=False),
        ),
    ]
