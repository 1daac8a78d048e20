
import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('projects', '0006_published'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Intake',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('reason', models.TextField(blank=True)),
                ('asked', models.DateTimeField(auto_now_add=True)),
                ('finished', models.DateTimeField(null=True)),
                ('name', models.CharField(max_length=120)),
                ('kind', models.CharField(max_length=20)),
                ('options', models.JSONField(default=dict)),
                ('told', models.JSONField(null=True)),
                ('drawing', models.TextField(blank=True)),
                ('entry', models.CharField(blank=True, max_length=80)),
                ('state', models.CharField(choices=[('waiting', 'Waiting'), ('reading', 'Reading'), ('read', 'Read'), ('kept', 'Kept'), ('left', 'Left'), ('failed', 'Failed')], default='waiting', max_length=10)),
                ('author', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='intakes', to=settings.AUTH_USER_MODEL)),
                ('project', models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, related_name='+', to='projects.project')),
            ],
            options={
                'ordering': ['-pk'],
                'abstract': False,
            },
        ),
    ]
