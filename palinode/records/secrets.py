"""Credentials, encrypted at rest with a key derived from the installation's secret key."""

import base64
import hashlib
from typing import Any

from cryptography.fernet import Fernet, InvalidToken
from django.conf import settings
from django.db import models


def _fernet() -> Fernet:
    digest = hashlib.blake2b(settings.SECRET_KEY.encode(), digest_size=32, person=b"credentials").digest()
    return Fernet(base64.urlsafe_b64encode(digest))


class EncryptedField(models.TextField):
    """Text that is encrypted in the database and clear in Python."""

    def get_prep_value(self, value: Any) -> Any:
        """Encrypt; an empty text stays empty."""
        return _fernet().encrypt(value.encode()).decode() if value else value

    def from_db_value(self, value: Any, *_: Any) -> Any:
        """Decrypt; what was encrypted under another secret key reads as empty."""
        if not value:
            return value
        try:
            return _fernet().decrypt(value.encode()).decode()
        except InvalidToken:
            return ""
