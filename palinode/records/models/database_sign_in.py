"""With what the live database of a side is reached, until it was read."""

from django.db import models

from palinode.records.models.imported import Import
from palinode.records.secrets import EncryptedField


class DatabaseSignIn(models.Model):
    """An account of a database that a person typed for one import; gone when that ends."""

    imported = models.OneToOneField(Import, models.CASCADE, primary_key=True, related_name="database_sign_in")
    server = models.CharField(max_length=10)
    host = models.CharField(max_length=253)
    port = models.IntegerField()
    database = models.CharField(max_length=64)
    user_name = models.CharField(max_length=128)
    password = EncryptedField()
    certified = models.BooleanField(default=False)
    """Only over TLS, with a certificate that is valid for the host."""
