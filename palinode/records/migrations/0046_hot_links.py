"""Files that pages of other hosts show, by the logs that tell so."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0045_database_sign_in'),
    ]

    operations = [
        migrations.AddField(
            model_name='import',
            name='shown_elsewhere',
            field=models.JSONField(db_default=[], default=list),
        ),
    ]
