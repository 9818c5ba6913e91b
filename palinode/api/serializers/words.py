"""Words that checks declare: read as text, so that a new check changes nothing of the schema."""

from typing import Any

from rest_framework import serializers

from palinode.core.checks import registry


class CheckField(serializers.CharField):
    """Name of a check."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse a word that no check declares."""
        return _among(super().to_internal_value(data), registry.BY_NAME, "check")


class KindField(serializers.CharField):
    """Word of a kind of finding."""

    def to_internal_value(self, data: Any) -> str:
        """Refuse a word that no check declares."""
        return _among(super().to_internal_value(data), registry.KINDS, "kind of finding")


def _among(word: str, known: dict[str, Any], what: str) -> str:
    if word and word not in known:
        raise serializers.ValidationError(f"There is no {what} of this name: {word[:60]}")
    return word
