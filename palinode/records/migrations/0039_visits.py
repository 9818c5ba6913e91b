"""How often imported addresses are visited, and when last, by logs."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0038_further_hosts'),
    ]

    operations = [
        migrations.AddField(
            model_name='importedaddress',
            name='last_visit',
            field=models.IntegerField(db_default=0, default=0),
        ),
        migrations.AddField(
            model_name='importedaddress',
            name='visits',
            field=models.BigIntegerField(db_default=0, default=0),
        ),
    ]
