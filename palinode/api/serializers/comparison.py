"""Comparisons, their standing, a pair."""

from rest_framework import serializers

from palinode.api.serializers.check import CheckSerializer, RowSerializer
from palinode.api.serializers.finding import STATES, WEIGHTS
from palinode.api.serializers.words import KindField
from palinode.core.causes.cause_kind import Certainty, Who
from palinode.core.fates import Fate

FATES = [fate.word for fate in Fate]


class FindingCountSerializer(serializers.Serializer[object]):
    """Findings of one state, weight and kind."""

    state = serializers.ChoiceField(choices=STATES)
    weight = serializers.ChoiceField(choices=WEIGHTS)
    kind = KindField()
    label = serializers.CharField()
    number = serializers.IntegerField()


class CauseSerializer(serializers.Serializer[object]):
    """A cause, with the filter that leads to its rows."""

    number = serializers.IntegerField(help_text="By which its findings and rows are chosen; no judgement changes it.")
    kind = serializers.CharField()
    weight = serializers.ChoiceField(choices=["blocks", "mend", "note"])
    title = serializers.CharField()
    detail = serializers.CharField()
    remedy = serializers.CharField()
    findings = serializers.IntegerField(default=0, help_text="Open ones.")
    rows = serializers.IntegerField()
    visits = serializers.IntegerField(default=0, help_text="Of its pages at the source, by imported logs.")
    show = serializers.DictField(child=serializers.CharField())
    line = serializers.CharField(default="", help_text="A line for the address rule that would say it; empty for none.")
    everywhere = serializers.BooleanField(
        default=False, help_text="Only a capture of all pages shows whether it is mended."
    )
    certainty = serializers.ChoiceField(choices=[one.word for one in Certainty])
    who = serializers.ChoiceField(choices=[one.value for one in Who], help_text="Who can mend it.")
    instead = serializers.CharField(default="", help_text="What else it could be, and what would tell the two apart.")


class SinceSerializer(serializers.Serializer[object]):
    """What changed since the comparison before; without numbers for a first one."""

    fresh = serializers.IntegerField(required=False)
    returned = serializers.IntegerField(required=False)
    cleared = serializers.IntegerField(required=False)


class StandingSerializer(serializers.Serializer[object]):
    """The verdict and its grounds."""

    sentence = serializers.CharField()
    summary = serializers.CharField()
    blocks = serializers.BooleanField()
    not_looked_at = serializers.ListField(child=serializers.CharField())
    causes = CauseSerializer(many=True)
    since = SinceSerializer(required=False)


class BandSerializer(serializers.Serializer[object]):
    """Rows that go from a section to a section."""

    left = serializers.CharField(allow_blank=True)
    right = serializers.CharField(allow_blank=True)
    fate = serializers.ChoiceField(choices=FATES)
    rows = serializers.IntegerField()


class CaptureHeadSerializer(serializers.Serializer[object]):
    """Which capture a page of the comparison shows."""

    id = serializers.IntegerField()
    side = serializers.ChoiceField(choices=["source", "destination"])
    base = serializers.CharField()
    further = serializers.ListField(child=serializers.CharField(), help_text="Further hosts, captured with it.")
    round = serializers.IntegerField(allow_null=True)
    pages = serializers.IntegerField()
    complete = serializers.BooleanField()
    reached = serializers.CharField(allow_blank=True)
    started_at = serializers.DateTimeField()


class ComparisonSerializer(serializers.Serializer[object]):
    """A comparison without its rows."""

    id = serializers.IntegerField()
    state = serializers.ChoiceField(choices=["waiting", "made", "failed"])
    why = serializers.CharField(allow_blank=True)
    left = CaptureHeadSerializer()
    right = CaptureHeadSerializer()
    checks = CheckSerializer(many=True)
    crossing = BandSerializer(many=True)
    findings = FindingCountSerializer(many=True)
    standing = StandingSerializer(allow_null=True)
    judgement = serializers.IntegerField(allow_null=True, help_text="Number of its last judgement.")
    asked_at = serializers.DateTimeField(allow_null=True, help_text="When checks asked the right side anew.")
    created_at = serializers.DateTimeField()


class NewComparisonSerializer(serializers.Serializer[object]):
    """Which captures to compare; without them the baseline and the latest closed round."""

    left = serializers.IntegerField(required=False)
    right = serializers.IntegerField(required=False)


class HopRowSerializer(serializers.Serializer[object]):
    """One hop that a capture recorded."""

    address = serializers.CharField()
    status = serializers.IntegerField(allow_null=True)


class FieldRowSerializer(serializers.Serializer[object]):
    """A head field of both pages."""

    name = serializers.CharField()
    kind = KindField(help_text="The kind of finding that a difference here is.")
    left = serializers.CharField(allow_blank=True)
    right = serializers.CharField(allow_blank=True)
    verdict = serializers.ChoiceField(choices=["same", "as mapped", "differs", "not there", "not compared"])


class WordsSerializer(serializers.Serializer[object]):
    """A run of words: the same on both sides, gone, or come."""

    change = serializers.ChoiceField(choices=["same", "gone", "came"])
    text = serializers.CharField()


class ParagraphSerializer(serializers.Serializer[object]):
    """A block of text facing its partner."""

    kind = serializers.CharField()
    left = WordsSerializer(many=True, allow_null=True)
    right = WordsSerializer(many=True, allow_null=True)
    words = serializers.IntegerField(help_text="Number of words that came, less the number that went.")
    said = serializers.CharField(allow_blank=True)
    folded = serializers.IntegerField(help_text="It stands for so many paragraphs that are the same …")
    first = serializers.IntegerField(help_text="… from this place of the left text.")


class AnswerSerializer(serializers.Serializer[object]):
    """One side of a pair: what its address answered."""

    address = serializers.CharField(allow_null=True)
    status = serializers.IntegerField(allow_null=True)
    reason = serializers.CharField(allow_blank=True)
    known = serializers.ListField(child=serializers.CharField())
    recognised = serializers.CharField(allow_blank=True)
    certificate = serializers.CharField(
        allow_blank=True, help_text="What the certificate of the side's host said as the capture ended."
    )
    media_type = serializers.CharField(allow_blank=True)
    length = serializers.IntegerField()
    took_ms = serializers.IntegerField()
    asked_at = serializers.DateTimeField(allow_null=True)
    hops = HopRowSerializer(many=True)
    headers = serializers.DictField(child=serializers.CharField())
    words = serializers.IntegerField()
    images = serializers.IntegerField()
    links = serializers.IntegerField()
    forms = serializers.IntegerField()


class PairSerializer(serializers.Serializer[object]):
    """A row of the ledger opened."""

    row = RowSerializer()
    found_by = serializers.CharField(allow_blank=True, help_text="What the pair was found by; empty where it is none.")
    certainty = serializers.FloatField(help_text="From 0 to 1.")
    left = AnswerSerializer()
    right = AnswerSerializer()
    fields = FieldRowSerializer(many=True)
    paragraphs = ParagraphSerializer(many=True)
    cut = serializers.BooleanField(help_text="The text is longer than what is shown.")


class ShownSerializer(serializers.Serializer[object]):
    """A link, an image or a form of one page."""

    address = serializers.CharField(allow_blank=True)
    label = serializers.CharField(allow_blank=True)


class FileFateSerializer(serializers.Serializer[object]):
    """What the check of files says of a file that a page shows."""

    verdict = serializers.CharField()
    label = serializers.CharField()
    said = serializers.CharField(allow_blank=True)


class BesideSerializer(serializers.Serializer[object]):
    """A reference beside its partner."""

    group = serializers.CharField()
    left = ShownSerializer(allow_null=True)
    right = ShownSerializer(allow_null=True)
    verdict = serializers.ChoiceField(
        choices=["same", "as mapped", "other target", "other address", "missing", "added"]
    )
    file = FileFateSerializer(allow_null=True, help_text="Null for one that is the same, and for what is no file.")
    differs = serializers.BooleanField()


class ReferencesSerializer(serializers.Serializer[object]):
    """What the two pages of a row refer to, and their forms."""

    references = BesideSerializer(many=True)
    forms = BesideSerializer(many=True)


class SourceSerializer(serializers.Serializer[object]):
    """The stored markup of one page."""

    text = serializers.CharField(allow_blank=True)
    length = serializers.IntegerField(help_text="Bytes of the whole body.")
    cut = serializers.BooleanField()
