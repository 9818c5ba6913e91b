"""Parameters that do nothing are called what they are everywhere else: ignored."""

from django.db import migrations


class Migration(migrations.Migration):
    """Rename the field."""

    dependencies = (("records", "0028_why"),)

    operations = (migrations.RenameField("capture", "idle", "ignored"),)
