"""The evidence of a move."""

from rest_framework import serializers

from palinode.api.serializers.imported import ImportSerializer
from palinode.records.models import CaptureFile, Segment
from palinode.work.retention import MOST_DAYS


class KeptSegmentSerializer(serializers.ModelSerializer[Segment]):
    """A WARC file, and whether it was verified."""

    class Meta:
        model = Segment
        fields = ["number", "bytes", "records", "sha256", "sealed_at", "verified_at", "fault", "let_go_at"]


class KeptFileSerializer(serializers.ModelSerializer[CaptureFile]):
    """A site file, and whether it was verified."""

    class Meta:
        model = CaptureFile
        fields = ["name", "bytes", "sha256", "verified_at", "fault"]


class KeptCaptureSerializer(serializers.Serializer[object]):
    """The files of a capture."""

    id = serializers.IntegerField()
    side = serializers.ChoiceField(choices=["source", "destination"])
    round = serializers.IntegerField(allow_null=True)
    baseline = serializers.BooleanField()
    kind = serializers.CharField()
    started_at = serializers.DateTimeField()
    bytes = serializers.IntegerField()
    rests_on = serializers.ListField(child=serializers.IntegerField(), help_text="Captures in whose files bodies lie.")
    segments = KeptSegmentSerializer(many=True)
    file = KeptFileSerializer(allow_null=True)


class EvidenceSerializer(serializers.Serializer[object]):
    """All that is kept of a move."""

    captures = KeptCaptureSerializer(many=True)
    imports = ImportSerializer(many=True)
    bytes = serializers.IntegerField()
    verifying = serializers.BooleanField()
    keep_days = serializers.IntegerField(allow_null=True)


class RetentionSerializer(serializers.Serializer[object]):
    """For how long the files of old captures are kept."""

    keep_days = serializers.IntegerField(min_value=1, max_value=MOST_DAYS, allow_null=True)


class NewArchiveSerializer(serializers.Serializer[object]):
    """An archive of a move, exported here or elsewhere."""

    file = serializers.FileField()
