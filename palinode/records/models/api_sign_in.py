"""With what the public API of a side is asked, until it was."""

from django.db import models

from palinode.records.models.imported import Import
from palinode.records.secrets import EncryptedField


class ApiSignIn(models.Model):
    """A user name and an application password that a person typed for one import; gone when that ends."""

    imported = models.OneToOneField(Import, models.CASCADE, primary_key=True, related_name="sign_in")
    user_name = models.CharField(max_length=200)
    password = EncryptedField()
    reached = models.JSONField()
    """How the side was reached when they were typed (work/side_access.py): they are sent nowhere else."""
