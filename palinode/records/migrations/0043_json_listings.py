"""Mappings of JSON listings, by move."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0042_api_and_numbers'),
    ]

    operations = [
        migrations.AddField(
            model_name='move',
            name='listings',
            field=models.JSONField(blank=True, db_default=models.Value([], models.JSONField()), default=list),
        ),
    ]
