"""Access tokens for scripts; only their digest is kept."""

import hashlib
import secrets

from django.conf import settings
from django.db import models


class Token(models.Model):
    """A token acts as its user, until it is deleted."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=100)
    digest = models.BinaryField(unique=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    @staticmethod
    def digest_of(text: str) -> bytes:
        """Return the SHA-256 that is kept of a token; it has 256 random bits, so no salt is needed."""
        return hashlib.sha256(text.encode()).digest()

    @classmethod
    def issue(cls, user: object, name: str) -> tuple["Token", str]:
        """Make a token for ``user``; return it with its text, which is not kept."""
        text = "palinode_" + secrets.token_urlsafe(32)
        return cls.objects.create(user=user, name=name, digest=cls.digest_of(text)), text
