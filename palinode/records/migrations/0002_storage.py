"""How large values lie: packed ones are not packed again, and slices of arrays are read without the rest."""

from django.db import migrations

_EXTERNAL = {
    "records_facts": ("prints", "targets", "places", "rest"),
    "records_ledgerparts": ("by_address", "left", "right"),
}


class Migration(migrations.Migration):
    dependencies = [("records", "0001_initial")]

    operations = [
        migrations.RunSQL(
            [f'ALTER TABLE {table} ALTER COLUMN "{column}" SET STORAGE EXTERNAL' for column in columns],
            migrations.RunSQL.noop,
        )
        for table, columns in _EXTERNAL.items()
    ]
