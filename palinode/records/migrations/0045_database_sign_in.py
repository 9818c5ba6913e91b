"""With what the live database of a side is reached, until it was read."""

import django.db.models.deletion
import palinode.records.secrets
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0044_api_sign_in'),
    ]

    operations = [
        migrations.CreateModel(
            name='DatabaseSignIn',
            fields=[
                ('imported', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name='database_sign_in', serialize=False, to='records.import')),
                ('server', models.CharField(max_length=10)),
                ('host', models.CharField(max_length=253)),
                ('port', models.IntegerField()),
                ('database', models.CharField(max_length=64)),
                ('user_name', models.CharField(max_length=128)),
                ('password', palinode.records.secrets.EncryptedField()),
                ('certified', models.BooleanField(default=False)),
            ],
        ),
    ]
