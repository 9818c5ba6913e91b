"""Decisions of people."""

from rest_framework import serializers

from palinode.records.models import Decision


class DecisionSerializer(serializers.Serializer[object]):
    """A decision of a person."""

    id = serializers.IntegerField(read_only=True)
    kind = serializers.ChoiceField(choices=Decision.Kind.choices)
    address = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    section = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    left = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    """Of a pair made or parted: the source page, and with it ``right``, the destination page."""
    right = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    findings = serializers.IntegerField(read_only=True)
    """How many findings are accepted; of an expectation, how many it sets aside in the last comparison."""
    aside = serializers.IntegerField(read_only=True)
    """How many findings of the last comparison it sets aside."""
    side = serializers.CharField(read_only=True)
    """Of an override, with ``what``: ``certificate``, ``robots``, ``baseline``, or ``weight`` of a kind of finding."""
    what = serializers.CharField(read_only=True)
    says = serializers.CharField(read_only=True)
    """What is expected, in words; of the weight of a kind of finding: ``title: note``."""
    ends_at = serializers.DateTimeField(read_only=True, allow_null=True)
    reason = serializers.CharField(max_length=2_000)
    author = serializers.CharField(read_only=True)
    made_at = serializers.DateTimeField(read_only=True)
    holds = serializers.BooleanField(read_only=True)
