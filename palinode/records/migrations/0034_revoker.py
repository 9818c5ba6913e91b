"""A decision that is left of one revoked in part says who revoked it."""

from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("records", "0033_followers"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.AddField(
            "decision",
            "revoker",
            models.ForeignKey(
                settings.AUTH_USER_MODEL, models.PROTECT, null=True, blank=True, related_name="+"
            ),
        )
    ]
