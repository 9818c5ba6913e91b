"""Why an answer was not fetched is a number besides the words, so that nothing is decided by words."""

from django.db import migrations, models

_KNOWN = (
    "UPDATE records_answer SET why = 12 WHERE status IS NULL AND reason = 'shut out by robots rules'",
    "UPDATE records_answer SET why = 13 WHERE status IS NULL AND reason LIKE 'robots.txt %'",
)


class Migration(migrations.Migration):
    """Add it, and tell those from which something follows by the words that they were given."""

    dependencies = (("records", "0027_page_sets"),)

    operations = (
        migrations.AddField("answer", "why", models.SmallIntegerField(default=0, db_default=0)),
        *(migrations.RunSQL(sql, migrations.RunSQL.noop) for sql in _KNOWN),
    )
