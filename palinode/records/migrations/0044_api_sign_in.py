"""The account with which the API of a side is asked, until it was."""

import django.db.models.deletion
import palinode.records.secrets
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0043_json_listings'),
    ]

    operations = [
        migrations.CreateModel(
            name='ApiSignIn',
            fields=[
                ('imported', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name='sign_in', serialize=False, to='records.import')),
                ('user_name', models.CharField(max_length=200)),
                ('password', palinode.records.secrets.EncryptedField()),
                ('reached', models.JSONField()),
            ],
        ),
    ]
