"""Addresses of imported lists bear the name that the interface gives them."""

from django.db import migrations


class Migration(migrations.Migration):
    """Rename the model and its table."""

    dependencies = (("records", "0022_checks"),)

    operations = (migrations.RenameModel("Brought", "ImportedAddress"),)
