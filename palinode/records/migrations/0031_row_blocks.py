import django.db.models.deletion
from django.db import migrations, models

_TEXTS = ("left", "right", "left_note", "right_note")
_BLOCKS = ", ".join(
    f"string_agg(replace(coalesce(\"{name}\", ''), chr(31), ' '), chr(31) ORDER BY rank)" for name in _TEXTS
)
_FORWARD = f"""INSERT INTO records_checkrowblock (outcome_id, first, "left", "right", left_note, right_note)
    SELECT outcome_id, rank / 8 * 8, {_BLOCKS} FROM records_checkrow GROUP BY 1, 2"""
_BACK = """INSERT INTO records_checkrow (outcome_id, rank, "left", "right", left_note, right_note)
    SELECT b.outcome_id, b.first + r.place - 1, nullif(r.l, ''), nullif(r.r, ''), nullif(r.n, ''), coalesce(r.m, '')
    FROM records_checkrowblock b CROSS JOIN LATERAL
    (SELECT one.text AS l, split_part(b."right", chr(31), one.place::int) AS r,
            split_part(b.left_note, chr(31), one.place::int) AS n,
            split_part(b.right_note, chr(31), one.place::int) AS m, one.place
     FROM regexp_split_to_table(b."left", chr(31)) WITH ORDINALITY one (text, place)) r"""


class Migration(migrations.Migration):
    dependencies = [("records", "0030_header_sets")]

    operations = [
        migrations.CreateModel(
            name="CheckRowBlock",
            fields=[
                (
                    "pk",
                    models.CompositePrimaryKey(
                        "outcome_id", "first", blank=True, editable=False, primary_key=True, serialize=False
                    ),
                ),
                (
                    "outcome",
                    models.ForeignKey(
                        db_constraint=False,
                        db_index=False,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to="records.checkoutcome",
                    ),
                ),
                ("first", models.IntegerField()),
                ("left", models.TextField()),
                ("right", models.TextField()),
                ("left_note", models.TextField()),
                ("right_note", models.TextField()),
            ],
        ),
        migrations.RunSQL(_FORWARD, _BACK),
        migrations.DeleteModel(name="CheckRow"),
    ]
