"""Findings of a comparison, and accepting them."""

from rest_framework import serializers

from palinode.api.serializers.check import THREADS
from palinode.api.serializers.words import CheckField, KindField
from palinode.core.expected import What
from palinode.core.findings import State
from palinode.core.weight import Weight

STATES = [state.word for state in State]
WEIGHTS = [weight.word for weight in Weight]


class FindingSerializer(serializers.Serializer[object]):
    """One difference or fault."""

    number = serializers.IntegerField(help_text="Its place among all findings of the comparison.")
    check = serializers.CharField(help_text="Name of the check that found it.")
    kind = KindField()
    label = serializers.CharField()
    thread = serializers.ChoiceField(choices=THREADS)
    weight = serializers.ChoiceField(choices=WEIGHTS)
    state = serializers.ChoiceField(choices=STATES)
    since = serializers.IntegerField(help_text="The round in which it was found first.")
    fresh = serializers.BooleanField(help_text="The comparison before did not have it.")
    first_look = serializers.BooleanField(help_text="Nobody looked there in the comparison before.")
    dropped = serializers.BooleanField(help_text="Not judged any longer: a decision took its pages out.")
    returned = serializers.BooleanField(help_text="It was cleared, and is back.")
    row = serializers.IntegerField(allow_null=True, help_text="Rank of its row in the ledger of its check.")
    cause = serializers.IntegerField(allow_null=True, help_text="Number of its cause.")
    follows = serializers.IntegerField(
        allow_null=True, help_text="The finding that it only follows from: it does not count by itself."
    )
    followers = serializers.IntegerField(help_text="How many findings only follow from it.")
    decision = serializers.IntegerField(allow_null=True, help_text="The decision that sets it aside.")
    decided_by = serializers.CharField(allow_blank=True)
    reason = serializers.CharField(allow_blank=True)
    decided_at = serializers.DateTimeField(allow_null=True)
    ends_at = serializers.DateTimeField(allow_null=True)
    left_address = serializers.CharField(allow_null=True)
    right_address = serializers.CharField(allow_null=True)
    detail = serializers.CharField(allow_blank=True)
    pages = serializers.IntegerField(help_text="On how many pages it is seen.")
    aside = serializers.IntegerField(help_text="Of an open one, on how many of them it is accepted.")
    seen_on = serializers.CharField(allow_blank=True, help_text="That in words; empty for one page.")
    listed = serializers.BooleanField(help_text="These pages can be listed.")


class PagesOfSectionSerializer(serializers.Serializer[object]):
    """How many pages of a section show a finding."""

    section = serializers.CharField()
    pages = serializers.IntegerField()


class FindingOnSectionsSerializer(FindingSerializer):
    """A finding with the sections of its pages."""

    sections = PagesOfSectionSerializer(many=True)


class FindingsPageSerializer(serializers.Serializer[object]):
    """Some findings of a choice, and how many others there would be."""

    total = serializers.IntegerField()
    first = serializers.IntegerField()
    states = serializers.DictField(child=serializers.IntegerField())
    weights = serializers.DictField(child=serializers.IntegerField())
    kinds = serializers.DictField(child=serializers.IntegerField())
    rows = FindingSerializer(many=True)


class AcceptSerializer(serializers.Serializer[object]):
    """Which findings to accept: some, those on some pages, or all open ones of a choice; why, and until when."""

    numbers = serializers.ListField(child=serializers.IntegerField(min_value=0), required=False, max_length=10_000)
    check = CheckField(required=False)
    rows = serializers.ListField(
        child=serializers.IntegerField(min_value=0),
        required=False,
        max_length=10_000,
        help_text="Ranks of rows of a check (of pages without it) on which all open findings are accepted.",
    )
    weight = serializers.ChoiceField(choices=WEIGHTS, required=False)
    kind = KindField(required=False)
    cause = serializers.IntegerField(required=False, min_value=0)
    find = serializers.CharField(required=False, allow_blank=True, max_length=2_000)
    section = serializers.CharField(
        required=False, allow_blank=True, max_length=8_000, help_text="On the pages of this section alone."
    )
    reason = serializers.CharField(max_length=2_000)
    ends_at = serializers.DateTimeField(required=False, allow_null=True)


class AcceptedSerializer(serializers.Serializer[object]):
    """What was accepted."""

    findings = serializers.IntegerField()
    decision = serializers.IntegerField()


class RevokeSerializer(serializers.Serializer[object]):
    """Which accepted findings are to be open again: some, or all that a decision accepted."""

    numbers = serializers.ListField(child=serializers.IntegerField(min_value=0), required=False, max_length=10_000)
    decision = serializers.IntegerField(required=False, min_value=1)


class RevokedSerializer(serializers.Serializer[object]):
    """What is open again."""

    findings = serializers.IntegerField()


class ExpectSerializer(serializers.Serializer[object]):
    """A difference that is meant: where, what, and why. Without a reason it is only tried."""

    what = serializers.ChoiceField(choices=[what.value for what in What])
    kind = KindField(required=False, allow_blank=True)
    address = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    section = serializers.CharField(required=False, allow_blank=True, max_length=8_000)
    words = serializers.CharField(required=False, allow_blank=True, max_length=400, trim_whitespace=False)
    becomes = serializers.CharField(required=False, allow_blank=True, max_length=400, trim_whitespace=False)
    tolerance = serializers.FloatField(required=False, min_value=0, max_value=100)
    selector = serializers.CharField(required=False, allow_blank=True, max_length=400)
    reason = serializers.CharField(required=False, allow_blank=True, max_length=2_000)


class ExpectedSerializer(serializers.Serializer[object]):
    """What an expectation sets aside, and what was decided."""

    findings = serializers.IntegerField()
    pages = serializers.IntegerField()
    samples = FindingSerializer(many=True)
    decision = serializers.IntegerField(allow_null=True)


class MendedSerializer(serializers.Serializer[object]):
    """Which cause is said to be mended."""

    cause = serializers.IntegerField(min_value=0)
    capture = serializers.IntegerField(read_only=True)


class RuleLineSerializer(serializers.Serializer[object]):
    """A line for the address rule."""

    line = serializers.CharField(max_length=20_000)


class RuleTrialSerializer(serializers.Serializer[object]):
    """What a line would do to the pages whose expected address it changes."""

    planned = serializers.IntegerField(help_text="Found where it expects them, which the rule does not now.")
    wrong = serializers.IntegerField(help_text="Found where the rule expects them now.")
    open = serializers.IntegerField(help_text="Found elsewhere, or nowhere.")
    examples = serializers.ListField(child=serializers.CharField(), help_text="The first that it leads wrong.")


class WeighSerializer(serializers.Serializer[object]):
    """How much a kind of finding weighs in a move."""

    kind = KindField()
    weight = serializers.ChoiceField(choices=WEIGHTS)
    reason = serializers.CharField(max_length=2_000)
