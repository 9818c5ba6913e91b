"""Files that people import."""

from rest_framework import serializers

from palinode.records.models import Import


class NewImportSerializer(serializers.Serializer[object]):
    """A WARC file, a ZIP archive of static pages or a site file, to become a capture of a side."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    file = serializers.FileField()


class NewApiCaptureSerializer(serializers.Serializer[object]):
    """Whose public API is to be asked."""

    side = serializers.ChoiceField(choices=["source", "destination"])


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
