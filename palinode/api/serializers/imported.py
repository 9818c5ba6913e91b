"""Files that people import."""

from rest_framework import serializers

from palinode.records.models import Import


class NewImportSerializer(serializers.Serializer[object]):
    """A WARC file, a ZIP archive of static pages or a site file, to become a capture of a side."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    file = serializers.FileField()
    listing = serializers.BooleanField(
        default=False,
        help_text="Of an archive only the list of its files is wanted: a ZIP or tar of the site's folder.",
    )


class NewApiCaptureSerializer(serializers.Serializer[object]):
    """Whose public API is to be asked."""

    side = serializers.ChoiceField(choices=["source", "destination"])


class NewNumbersSerializer(serializers.Serializer[object]):
    """What a person counted on a side."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    text = serializers.CharField(max_length=100_000, help_text="One a line: Orders 1,284.")


class GoneSerializer(serializers.Serializer[object]):
    """Why there is no source to capture."""

    reason = serializers.CharField(max_length=1_000)


class ImportSerializer(serializers.ModelSerializer[Import]):
    """An imported file, and what came of it."""

    side = serializers.CharField(source="which")
    author = serializers.CharField(source="author.username")

    class Meta:
        model = Import
        fields = [
            "id",
            "side",
            "kind",
            "name",
            "bytes",
            "sha256",
            "state",
            "said",
            "read",
            "capture",
            "author",
            "created_at",
        ]
