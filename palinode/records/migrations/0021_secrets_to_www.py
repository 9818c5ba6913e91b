"""Secrets go to a twin name only where a person says so."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0020_forgotten")]

    operations = [
        migrations.AddField("side", "secrets_to_www", models.BooleanField(default=False)),
    ]
