
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('gallery', '0005_pictures_in_the_bin'),
    ]

    operations = [
        migrations.AddField(
            model_name='picture',
            name='asked_as',
            field=models.CharField(blank=True, editable=False, max_length=80),
        ),
    ]
