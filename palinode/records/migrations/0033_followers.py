"""Findings say what they follow from, and judgements on how many pages an open one is set aside."""

from typing import Any

import numpy as np
from django.db import migrations, models

_BEFORE = [
    ("outcome", "<u2"), ("place", "<i4"), ("kind", "<u2"), ("key", "<i8"), ("seen", "<i8"), ("subject", "<i8"),
    ("row", "<i4"), ("since", "<i2"), ("fresh", "u1"), ("returned", "u1"), ("unseen", "u1"), ("cleared", "u1"),
    ("cause", "<i2"),
]  # fmt: skip
_AFTER = [*_BEFORE, ("follows", "<i4")]


def _converted(apps: Any, before: list[tuple[str, str]], after: list[tuple[str, str]]) -> None:
    for one in apps.get_model("records", "ComparisonFindings").objects.iterator(20):
        kept = np.frombuffer(bytes(one.findings), np.dtype(before))
        made = np.zeros(len(kept), np.dtype(after))
        for name in made.dtype.names or ():
            made[name] = kept[name] if name in (kept.dtype.names or ()) else -1
        one.findings = made.tobytes()
        one.save(update_fields=["findings"])


def _forward(apps: Any, schema_editor: Any) -> None:
    _converted(apps, _BEFORE, _AFTER)


def _back(apps: Any, schema_editor: Any) -> None:
    _converted(apps, _AFTER, _BEFORE)


class Migration(migrations.Migration):
    dependencies = [("records", "0032_judgements")]

    operations = [
        migrations.AddField("judgement", "aside", models.JSONField(default=dict)),
        migrations.RunPython(_forward, _back),
    ]
