"""Hosts that a side has besides its main one."""

import django.db.models.deletion
import palinode.records.secrets
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0037_facts_version'),
    ]

    operations = [
        migrations.CreateModel(
            name='FurtherHost',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('base', models.TextField()),
                ('connect_to', models.JSONField(default=list)),
                ('user_name', models.CharField(blank=True, max_length=200)),
                ('sign_in', models.CharField(choices=[('basic', 'Basic'), ('digest', 'Digest')], default='basic', max_length=6)),
                ('password', palinode.records.secrets.EncryptedField(blank=True)),
                ('cookie', palinode.records.secrets.EncryptedField(blank=True)),
                ('header_name', models.CharField(blank=True, max_length=100)),
                ('header_value', palinode.records.secrets.EncryptedField(blank=True)),
                ('secrets_to_www', models.BooleanField(default=False)),
                ('place', models.PositiveSmallIntegerField()),
                ('side', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='further', to='records.side')),
            ],
            options={
                'ordering': ['place'],
                'constraints': [models.UniqueConstraint(fields=('side', 'place'), name='one_host_a_place')],
            },
        ),
    ]
