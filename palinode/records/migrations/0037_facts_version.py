"""By which version the pages of a capture were read, so that none is held against pages read otherwise."""

from django.db import migrations, models

_BEFORE = "UPDATE records_capture SET facts_version = 6 WHERE state = 'closed'"
"""Version 6 is the one before it was noted."""


class Migration(migrations.Migration):
    """Add it."""

    dependencies = (("records", "0036_rests"),)

    operations = (
        migrations.AddField("capture", "facts_version", models.SmallIntegerField(default=0, db_default=0)),
        migrations.RunSQL(_BEFORE, migrations.RunSQL.noop),
    )
