"""Hosts that ask to wait, told to all shares of a capture."""

from django.db import migrations, models
from django.db.models import Value


class Migration(migrations.Migration):
    """Add them."""

    dependencies = (("records", "0035_pattern_budgets"),)

    operations = (
        migrations.AddField(
            "capture", "rests", models.JSONField(default=dict, db_default=Value({}, models.JSONField()))
        ),
    )
