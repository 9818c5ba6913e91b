"""The address rule tried out, and who answers on both sides."""

from rest_framework import serializers

from palinode.api.serializers.move import SideSerializer
from palinode.core.rule import LIMIT


class FacingHostsSerializer(serializers.Serializer[object]):
    """A further host of the source, and the one of the destination that takes its place."""

    source = serializers.CharField(max_length=9_000, allow_blank=True)
    destination = serializers.CharField(max_length=9_000, allow_blank=True)


class TryRuleSerializer(serializers.Serializer[object]):
    """Two sides, a rule if there is one already, and addresses to try."""

    source = serializers.CharField(max_length=9_000, allow_blank=True)
    destination = serializers.CharField(max_length=9_000, allow_blank=True)
    rule = serializers.CharField(max_length=LIMIT, allow_blank=True, default="", trim_whitespace=False)
    connects = serializers.BooleanField(default=False)
    further = FacingHostsSerializer(many=True, default=list)
    addresses = serializers.ListField(
        child=serializers.CharField(max_length=9_000, allow_blank=True), max_length=50, default=list
    )


class WorkedSerializer(serializers.Serializer[object]):
    """One address worked through."""

    typed = serializers.CharField()
    address = serializers.CharField(allow_null=True)
    expected = serializers.CharField(allow_null=True)
    line = serializers.IntegerField(allow_null=True)
    notes = serializers.ListField(child=serializers.CharField())
    moves = serializers.BooleanField()
    fault = serializers.CharField(allow_blank=True)


class LineSerializer(serializers.Serializer[object]):
    """One line of a rule, in the order in which lines are asked."""

    number = serializers.IntegerField()
    left = serializers.CharField()
    right = serializers.CharField()
    only = serializers.BooleanField()


class TriedRuleSerializer(serializers.Serializer[object]):
    """What was read from two addresses and a rule."""

    kind = serializers.CharField(allow_null=True)
    sentence = serializers.CharField(allow_blank=True)
    derived = serializers.CharField(allow_blank=True)
    added = serializers.ListField(
        child=serializers.CharField(), help_text="Lines for further hosts that none of the rule's names."
    )
    lines = LineSerializer(many=True)
    worked = WorkedSerializer(many=True)
    faults = serializers.DictField(child=serializers.CharField())


class SchemeSerializer(serializers.Serializer[object]):
    """An address typed without a scheme."""

    address = serializers.CharField(max_length=8_000, help_text="A host name, with a port or a path if it has one.")
    connect_to = serializers.CharField(max_length=300, allow_blank=True, default="")


class AnsweredSchemeSerializer(serializers.Serializer[object]):
    """Which scheme answers."""

    address = serializers.CharField(allow_blank=True, help_text="With the scheme; empty where nothing answers.")
    said = serializers.CharField()


class WhoSerializer(serializers.Serializer[object]):
    """Two sides to be asked; passwords that are not typed are taken from the move, if it has them."""

    source = SideSerializer()
    destination = SideSerializer()
    move = serializers.IntegerField(required=False, allow_null=True)


class WhoOfMoveSerializer(serializers.Serializer[object]):
    """An address of the source to be asked on both sides."""

    address = serializers.CharField(max_length=8_000, help_text="A path, as /shop/, or a whole address.")


class HopSerializer(serializers.Serializer[object]):
    """A redirect on the way."""

    address = serializers.CharField()
    status = serializers.IntegerField()
    to = serializers.CharField()


class CertificateSerializer(serializers.Serializer[object]):
    """A host's certificate."""

    names = serializers.ListField(child=serializers.CharField())
    days_left = serializers.IntegerField()
    fits = serializers.BooleanField()


class AnswersSerializer(serializers.Serializer[object]):
    """Who answers for a side."""

    address = serializers.CharField()
    reached = serializers.CharField(allow_blank=True)
    took_ms = serializers.IntegerField()
    status = serializers.IntegerField(allow_null=True)
    hops = HopSerializer(many=True)
    title = serializers.CharField(allow_blank=True)
    server = serializers.CharField(allow_blank=True)
    certificate = CertificateSerializer(allow_null=True)
    fault = serializers.CharField(allow_blank=True)
    examples = serializers.ListField(child=serializers.CharField())


class HostAnswersSerializer(serializers.Serializer[object]):
    """Who answers for the further hosts of a place; null for a side that has none there."""

    place = serializers.IntegerField()
    source = AnswersSerializer(allow_null=True)
    destination = AnswersSerializer(allow_null=True)


class WhoAnswersSerializer(serializers.Serializer[object]):
    """Both panels, and a remark when they look alike."""

    source = AnswersSerializer()
    destination = AnswersSerializer()
    further = HostAnswersSerializer(many=True)
    remark = serializers.CharField(allow_blank=True)
    same_site = serializers.BooleanField()
