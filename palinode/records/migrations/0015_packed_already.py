"""What is packed already, or does not pack, is stored as it is: PostgreSQL need not try."""

from django.db import migrations

_COLUMNS = ("rest", "targets", "places", "prints")


class Migration(migrations.Migration):
    dependencies = [("records", "0014_idle")]
    operations = [
        migrations.RunSQL(
            [f"ALTER TABLE records_facts ALTER COLUMN {name} SET STORAGE EXTERNAL" for name in _COLUMNS],
            [f"ALTER TABLE records_facts ALTER COLUMN {name} SET STORAGE EXTENDED" for name in _COLUMNS],
        )
    ]
