"""How many addresses of a pattern are asked follows from what they bring, not from one bound for all."""

from django.db import migrations, models

_NUMBER = {"default": 0, "db_default": 0}
_LEFT_OUT = (
    "UPDATE records_pattern SET left_out = greatest(0, number - most), let = least(number, most), "
    "asked = least(number, most)"
)


class Migration(migrations.Migration):
    """Add the budget of a pattern, the turn of an address, and what holds it back."""

    dependencies = (("records", "0034_revoker"),)

    operations = (
        migrations.AddField("frontier", "turn", models.SmallIntegerField(**_NUMBER)),
        migrations.AddField("frontier", "held_by", models.BigIntegerField(**_NUMBER)),
        migrations.RemoveIndex("frontier", "frontier_waiting"),
        migrations.AddIndex(
            "frontier",
            models.Index(
                fields=["capture", "turn", "depth", "ident"], condition=models.Q(state=0), name="frontier_waiting"
            ),
        ),
        migrations.AddIndex(
            "frontier",
            models.Index(
                fields=["capture", "held_by", "depth", "ident"], condition=models.Q(state=3), name="frontier_held"
            ),
        ),
        migrations.AddField("pattern", "ident", models.BigIntegerField(**_NUMBER)),
        *(
            migrations.AddField("pattern", name, models.IntegerField(**_NUMBER))
            for name in ("before", "let", "asked", "told", "fresh", "left_out")
        ),
        migrations.AddField("pattern", "step", models.SmallIntegerField(**_NUMBER)),
        migrations.RunSQL(_LEFT_OUT, migrations.RunSQL.noop),
        migrations.RemoveField("pattern", "number"),
    )
