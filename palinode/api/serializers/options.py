"""Options of checks."""

from rest_framework import serializers

from palinode.api.serializers.check import RowSerializer, VerdictSerializer
from palinode.core import options


class DescribedOptionSerializer(serializers.Serializer[object]):
    """One option that may be given."""

    name = serializers.CharField()
    label = serializers.CharField()
    help = serializers.CharField(allow_blank=True)
    kind = serializers.ChoiceField(choices=options.KINDS)
    default = serializers.JSONField()


class OptionSerializer(DescribedOptionSerializer):
    """One option of a check."""

    value = serializers.JSONField()


class OptionsSerializer(serializers.Serializer[object]):
    """The options of a check in a move."""

    check = serializers.CharField()
    title = serializers.CharField()
    view = serializers.CharField()
    options = OptionSerializer(many=True)
    author = serializers.CharField(allow_blank=True, help_text="Who set them; empty for the defaults.")
    made_at = serializers.DateTimeField(allow_null=True)


class NewOptionsSerializer(serializers.Serializer[object]):
    """What is given for the options of a check."""

    values = serializers.DictField(child=serializers.JSONField())


class DraftSerializer(serializers.Serializer[object]):
    """What a check would make of a comparison with other options."""

    verdicts = VerdictSerializer(many=True)
    findings = serializers.IntegerField()
    rows = RowSerializer(many=True, help_text="The first rows.")
