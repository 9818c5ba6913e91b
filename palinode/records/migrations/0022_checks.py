"""Outcomes of checks take the place of ledgers: comparisons are made anew from the captures that they compare.

Findings that a person accepted are known by other numbers from now on, and are given them.
"""

import django.db.models.deletion
import numpy as np
from django.db import migrations, models

from palinode.core import edges
from palinode.core.checks.files import FILE_MISSING
from palinode.core.checks.pages import kinds

_BY_NUMBER = {
    0: kinds.LOST, 1: kinds.STOOD_IN, 2: kinds.NOT_JUDGED, 3: kinds.NEW, 4: kinds.REDIRECT_MISSING,
    5: kinds.REDIRECT_TEMPORARY, 6: kinds.UNPLANNED, 7: kinds.NOINDEX, 8: kinds.OTHER_NAME, 9: kinds.MERGED,
    10: kinds.TEMPLATE_TEXT, 11: kinds.TEMPLATE_LINK, 12: kinds.TEMPLATE_STYLES, 13: FILE_MISSING,
} | {32 + field: kind for field, kind in kinds.OF_FIELD.items()}
_LOOK_ALIKE = {0, 1, 2, 3, 7}
"""Kinds that looked like their number, and look like nothing now."""


def number_anew(apps, schema_editor):
    """Give what was accepted the numbers by which findings are known from now on."""
    decision, finding = apps.get_model("records", "Decision"), apps.get_model("records", "Finding")
    for one in decision.objects.filter(kind="accept").iterator():
        keys = [key for key, _ in one.scope.get("findings", [])]
        known = dict(
            (key, (kind, page))
            for key, kind, page in finding.objects.filter(
                comparison__move_id=one.move_id, key__in=keys
            ).values_list("key", "kind", "page")
        )
        findings = []
        for key, seen in one.scope.get("findings", []):
            if key not in known or known[key][0] not in _BY_NUMBER:
                continue
            number, page = known[key]
            new = edges.mixed(np.array([page]), np.array([_BY_NUMBER[number].number]))
            findings.append([int(new[0]), 0 if number in _LOOK_ALIKE else seen])
        one.scope = {"findings": findings}
        one.save(update_fields=["scope"])


def make_anew(apps, schema_editor):
    """Let the latest comparison of each move be made again; earlier ones have no rows any more and go."""
    comparison = apps.get_model("records", "Comparison")
    for move in comparison.objects.values_list("move_id", flat=True).distinct().order_by():
        of_move = comparison.objects.filter(move_id=move)
        sides = of_move.filter(left__which="source", right__which="destination").exclude(state="failed")
        last = {}
        # The latest of each round, so that what cleared and what is new is told as before.
        for one in sides.order_by("pk"):
            last[one.right_id] = one.pk
        of_move.exclude(pk__in=last.values()).delete()
        of_move.update(state="waiting", standing={}, findings=[], crossing=[])


def name_kinds(apps, schema_editor):
    """Call captures that were made of files copies."""
    apps.get_model("records", "Capture").objects.filter(kind__in=["warc", "pages"]).update(kind="copy")


class Migration(migrations.Migration):
    dependencies = [("records", "0021_secrets_to_www")]

    operations = [
        migrations.RunPython(number_anew, migrations.RunPython.noop),
        migrations.RunPython(name_kinds, migrations.RunPython.noop),
        migrations.AlterField(
            "capture",
            "kind",
            models.CharField(choices=[("crawl", "crawl"), ("copy", "copy")], default="crawl", max_length=10),
        ),
        migrations.AddField("capture", "readings", models.IntegerField(default=0)),
        migrations.AddField("comparison", "begun_at", models.DateTimeField(null=True)),
        migrations.AddField("comparison", "decided", models.BigIntegerField(default=0)),
        migrations.DeleteModel("Finding"),
        migrations.DeleteModel("LedgerParts"),
        migrations.DeleteModel("LedgerRow"),
        migrations.RemoveField("comparison", "counts"),
        migrations.RemoveField("comparison", "sections"),
        migrations.CreateModel(
            "CheckOutcome",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("check_name", models.CharField(max_length=40)),
                ("version", models.SmallIntegerField()),
                ("digest", models.CharField(max_length=64)),
                ("rows", models.IntegerField(default=0)),
                ("counts", models.JSONField(default=list)),
                ("groups", models.JSONField(default=list)),
                ("unseen", models.JSONField(default=list)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                (
                    "move",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="outcomes", to="records.move"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("move", "check_name", "digest"), name="one_outcome")
                ]
            },
        ),
        *(
            migrations.CreateModel(
                name,
                [
                    (
                        "pk",
                        models.CompositePrimaryKey(
                            *key, blank=True, editable=False, primary_key=True, serialize=False
                        ),
                    ),
                    *fields,
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
                ],
            )
            for name, key, fields in (
                (
                    "CheckRow",
                    ("outcome_id", "rank"),
                    [
                        ("rank", models.IntegerField()),
                        ("left", models.TextField(null=True)),
                        ("right", models.TextField(null=True)),
                        ("left_note", models.TextField(null=True)),
                        ("right_note", models.TextField()),
                    ],
                ),
                (
                    "CheckColumn",
                    ("outcome_id", "name"),
                    [
                        ("name", models.CharField(max_length=40)),
                        ("kind", models.CharField(max_length=2)),
                        ("data", models.BinaryField()),
                    ],
                ),
                (
                    "CheckItems",
                    ("outcome_id", "number", "part"),
                    [
                        ("number", models.IntegerField()),
                        ("part", models.IntegerField()),
                        ("size", models.IntegerField()),
                        ("data", models.BinaryField()),
                    ],
                ),
                (
                    "CheckFinding",
                    ("outcome_id", "place"),
                    [
                        ("place", models.IntegerField()),
                        ("kind", models.CharField(max_length=40)),
                        ("key", models.BigIntegerField()),
                        ("seen", models.BigIntegerField()),
                        ("subject", models.BigIntegerField()),
                        ("row", models.IntegerField(null=True)),
                        ("pages", models.IntegerField(default=1)),
                        ("left_address", models.TextField(null=True)),
                        ("right_address", models.TextField(null=True)),
                        ("detail", models.TextField()),
                    ],
                ),
            )
        ),
        # Arrays are read in slices, without the rest of them.
        migrations.RunSQL(
            "ALTER TABLE records_checkcolumn ALTER COLUMN data SET STORAGE EXTERNAL", migrations.RunSQL.noop
        ),
        migrations.CreateModel(
            "ComparisonCheck",
            [
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("place", models.SmallIntegerField()),
                ("carried", models.BooleanField(default=False)),
                (
                    "comparison",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="checks", to="records.comparison"
                    ),
                ),
                (
                    "outcome",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="records.checkoutcome"
                    ),
                ),
            ],
            options={
                "ordering": ["place"],
                "constraints": [
                    models.UniqueConstraint(fields=("comparison", "place"), name="one_outcome_a_place")
                ],
            },
        ),
        migrations.CreateModel(
            "Judgement",
            [
                (
                    "comparison",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        related_name="judgement",
                        serialize=False,
                        to="records.comparison",
                    ),
                ),
                ("kinds", models.JSONField(default=list)),
                ("findings", models.BinaryField()),
            ],
        ),
        migrations.RunPython(make_anew, migrations.RunPython.noop),
    ]
