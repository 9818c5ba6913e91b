"""The sum over a page's edges, kept with its facts."""

import numpy as np
from django.db import migrations, models

from palinode.core import edges

_TOGETHER = 5_000


def fill(apps, schema_editor):
    """Work the sums out for facts that are there already."""
    facts = apps.get_model("records", "Facts")
    rows = facts.objects.values_list("move_id", "key", "compared", "targets", "places")
    with schema_editor.connection.cursor() as cursor:
        pending = []
        for move, key, size, targets, places in rows.iterator(_TOGETHER):
            ends = np.array([0, size])
            found = edges.sums(
                np.frombuffer(targets, "<i8", size), np.frombuffer(places, np.uint8, size), ends
            )
            pending.append((int(found[0]), move, key))
        cursor.executemany("UPDATE records_facts SET edge_sum = %s WHERE move_id = %s AND key = %s", pending)


class Migration(migrations.Migration):
    dependencies = [("records", "0002_storage")]

    operations = [
        migrations.AddField("facts", "edge_sum", models.BigIntegerField(default=0), preserve_default=False),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
