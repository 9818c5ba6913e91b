"""Decisions of people."""

from rest_framework import serializers


class DecisionSerializer(serializers.Serializer[object]):
    """A decision of a person."""

    id = serializers.IntegerField(read_only=True)
    kind = serializers.ChoiceField(choices=["retire", "override"])
    address = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    section = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    side = serializers.CharField(read_only=True)
    """Of an override, with ``what``: ``certificate`` or ``robots``."""
    what = serializers.CharField(read_only=True)
    reason = serializers.CharField(max_length=2_000)
    author = serializers.CharField(read_only=True)
    made_at = serializers.DateTimeField(read_only=True)
    holds = serializers.BooleanField(read_only=True)
