
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('intake', '0001_intakes'),
    ]

    operations = [
        migrations.AddField(
            model_name='intake',
            name='asked_as',
            field=models.CharField(blank=True, editable=False, max_length=80),
        ),
    ]
