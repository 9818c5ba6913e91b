"""Moves that are being deleted in the background."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0019_ledger_template")]

    operations = [
        migrations.AddField("move", "forgotten_at", models.DateTimeField(editable=False, null=True)),
    ]
