import zlib
from base64 import b64encode

import django.db.models.deletion
import numpy as np
from django.db import migrations, models

from palinode.core.edges import mixed

_OLD = np.dtype(
    [
        ("outcome", "<u2"), ("place", "<i4"), ("kind", "<u2"), ("state", "u1"), ("weight", "u1"), ("key", "<i8"),
        ("subject", "<i8"), ("row", "<i4"), ("since", "<i2"), ("fresh", "u1"), ("returned", "u1"), ("unseen", "u1"),
        ("cause", "<i2"), ("decision", "<i8"),
    ]
)  # fmt: skip
_NEW = np.dtype(
    [
        ("outcome", "<u2"), ("place", "<i4"), ("kind", "<u2"), ("key", "<i8"), ("seen", "<i8"), ("subject", "<i8"),
        ("row", "<i4"), ("since", "<i2"), ("fresh", "u1"), ("returned", "u1"), ("unseen", "u1"), ("cleared", "u1"),
        ("cause", "<i2"),
    ]
)  # fmt: skip
_STATE = np.dtype([("state", "u1"), ("decision", "<u2")])
_WEIGHTS = ("blocks", "mend", "note")
_FATES = ("retired", "unknown", "moved", "altered", "kept", "lost", "new")
_ALWAYS = ("content counts", "database dumps", "leftover addresses", "links", "DNS and mail records")
_CLEARED = 2


def _forward(apps, schema_editor):
    """Keep findings, causes and judgement apart; what findings look like comes from the outcomes."""
    model = lambda name: apps.get_model("records", name)  # noqa: E731
    for one in model("Decision").objects.filter(kind="accept"):
        pairs = np.array(one.scope.get("findings", []), np.int64).reshape(-1, 2)
        marks = np.unique(mixed(pairs[:, 0], pairs[:, 1])) if len(pairs) else np.zeros(0, np.int64)
        one.scope = {"marks": b64encode(marks.astype("<i8").tobytes()).decode()}
        one.save(update_fields=["scope"])
    for old in model("OldJudgement").objects.select_related("comparison").iterator(10):
        comparison = old.comparison
        records = np.frombuffer(bytes(old.findings), _OLD)
        held = list(model("ComparisonCheck").objects.filter(comparison=comparison).order_by("place"))
        found = model("CheckFinding").objects.filter(outcome_id__in=[one.outcome_id for one in held])
        looks = {row[:2]: row[2] for row in found.values_list("outcome_id", "place", "seen")}
        new = np.zeros(len(records), _NEW)
        for name in set(_NEW.names) - {"seen", "cleared"}:
            new[name] = records[name]
        new["seen"] = [
            looks.get((held[outcome].outcome_id, place), 0)
            for outcome, place in zip(records["outcome"].tolist(), records["place"].tolist(), strict=True)
        ]
        new["cleared"] = np.where(records["state"] == _CLEARED, 2, 0)
        standing = comparison.standing or {}
        causes = [{**one, "raised": False, "number": at} for at, one in enumerate(standing.get("causes", []))]
        pages = model("CheckOutcome").objects.filter(pk__in=[one.outcome_id for one in held], check_name="pages").first()
        counts = dict.fromkeys(_FATES, 0)
        for fate, _, number in pages.counts if pages else []:
            counts[fate] += number
        unseen = [one for one in standing.get("not_looked_at", []) if one not in _ALWAYS]
        model("ComparisonFindings").objects.create(
            comparison=comparison,
            kinds=old.kinds,
            findings=new.tobytes(),
            causes=causes,
            basis={"counts": counts, "limits": [], "unseen": unseen},
            has_before=bool(standing.get("since")),
        )
        decisions = np.unique(records["decision"][records["decision"] != 0])
        states = np.zeros(len(records), _STATE)
        states["state"] = records["state"]
        states["decision"] = np.where(
            records["decision"] != 0, np.searchsorted(decisions, records["decision"]) + 1, 0
        )
        weights = ["note"] * len(old.kinds)
        for kind, weight in zip(records["kind"].tolist(), records["weight"].tolist(), strict=True):
            weights[kind] = _WEIGHTS[weight]
        comparison.judgement = model("Judgement").objects.create(
            comparison=comparison,
            counts=comparison.findings,
            standing={**standing, "causes": causes} if standing else {},
            weights=weights,
            decisions=decisions.tolist(),
            states=zlib.compress(states.tobytes(), 1),
        )
        comparison.save(update_fields=["judgement"])


def _back(apps, schema_editor):
    """What an earlier version cannot read is compared again."""
    apps.get_model("records", "Comparison").objects.update(
        state="failed", why="It was made by a later version. Compare again."
    )
    apps.get_model("records", "Decision").objects.filter(kind="accept").update(scope={"findings": []})


class Migration(migrations.Migration):
    dependencies = [("records", "0031_row_blocks")]

    operations = [
        migrations.AlterField(
            "judgement",
            "comparison",
            models.OneToOneField(
                on_delete=django.db.models.deletion.CASCADE,
                primary_key=True,
                related_name="+",
                serialize=False,
                to="records.comparison",
            ),
        ),
        migrations.RenameModel("Judgement", "OldJudgement"),
        migrations.CreateModel(
            name="ComparisonFindings",
            fields=[
                (
                    "comparison",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE,
                        primary_key=True,
                        related_name="found",
                        serialize=False,
                        to="records.comparison",
                    ),
                ),
                ("kinds", models.JSONField(default=list)),
                ("findings", models.BinaryField()),
                ("causes", models.JSONField(default=list)),
                ("basis", models.JSONField(default=dict)),
                ("has_before", models.BooleanField(default=False)),
            ],
        ),
        migrations.CreateModel(
            name="Judgement",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                (
                    "comparison",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="judgements",
                        to="records.comparison",
                    ),
                ),
                (
                    "decision",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="records.decision",
                    ),
                ),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("due_at", models.DateTimeField(null=True)),
                ("counts", models.JSONField(default=list)),
                ("standing", models.JSONField(default=dict)),
                ("weights", models.JSONField(default=list)),
                ("expected", models.JSONField(default=list)),
                ("decisions", models.JSONField(default=list)),
                ("states", models.BinaryField(null=True)),
            ],
            options={"ordering": ["id"]},
        ),
        migrations.AddField(
            "comparison",
            "judgement",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="records.judgement"
            ),
        ),
        migrations.RunPython(_forward, _back),
        migrations.RunSQL("SET CONSTRAINTS ALL IMMEDIATE", migrations.RunSQL.noop),
        migrations.DeleteModel("OldJudgement"),
        migrations.RemoveField("comparison", "findings"),
        migrations.RemoveField("comparison", "standing"),
    ]
