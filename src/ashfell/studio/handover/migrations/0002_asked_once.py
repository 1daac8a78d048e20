
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('handover', '0001_handovers'),
    ]

    operations = [
        migrations.AddField(
            model_name='handover',
            name='asked_as',
            field=models.CharField(blank=True, editable=False, max_length=80),
        ),
    ]
