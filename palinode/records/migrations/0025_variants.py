"""An answer's key is capture, address and variant of the request; variant 0 is the plain GET.

Keys of several columns cannot be altered by Django itself, so that the database is told here, and the state beside it.
"""

from django.db import migrations, models

_KEYS = (("answer", "records_answer"), ("frontier", "records_frontier"))
_SWAP = "ALTER TABLE {0} DROP CONSTRAINT {0}_pkey, ADD PRIMARY KEY ({1})"
_BEFORE, _NOW = "capture_id, ident", "capture_id, ident, variant"


_KEY = models.CompositePrimaryKey(
    "capture_id", "ident", "variant", blank=True, editable=False, primary_key=True, serialize=False
)


class Migration(migrations.Migration):
    """Add the variant, then the key that holds it."""

    dependencies = (("records", "0024_capture_sets"),)

    operations = (
        *(
            migrations.AddField(name, "variant", models.SmallIntegerField(default=0, db_default=0)) for name, _ in _KEYS
        ),
        *(
            migrations.SeparateDatabaseAndState(
                [migrations.RunSQL(_SWAP.format(table, _NOW), _SWAP.format(table, _BEFORE))],
                [migrations.AlterField(name, "pk", _KEY)],
            )
            for name, table in _KEYS
        ),
        migrations.AddField("capture", "asking", models.JSONField(default=dict)),
    )
