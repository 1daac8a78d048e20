
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('gallery', '0004_sheets'),
    ]

    operations = [
        migrations.AddField(
            model_name='picture',
            name='binned',
            field=models.DateTimeField(editable=False, null=True),
        ),
    ]
