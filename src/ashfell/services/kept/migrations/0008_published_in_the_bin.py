from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("projects", "0007_roles_and_bin"),
    ]

    operations = [
        migrations.AddField(
            model_name="published",
            name="binned",
            field=models.DateTimeField(editable=False, null=True),
        ),
    ]
