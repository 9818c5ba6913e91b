"""Files that people import."""

from rest_framework import serializers

from palinode.gather.databases.account import Server
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
    """Whose public API is to be asked, and with which account."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    user_name = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    password = serializers.CharField(
        max_length=1_000,
        required=False,
        allow_blank=True,
        default="",
        help_text="An application password of that account; it is kept until the API was asked.",
    )

    def validate(self, attrs: dict[str, str]) -> dict[str, str]:
        """Refuse a user name without a password, and a password without a user name."""
        for one, other in (("user_name", "password"), ("password", "user_name")):
            if attrs[one] and not attrs[other]:
                raise serializers.ValidationError({other: "Type both, or neither."})
        return attrs


class NewDatabaseCaptureSerializer(serializers.Serializer[object]):
    """Which live database is to be read, and with which account."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    server = serializers.ChoiceField(choices=[(str(one), str(one)) for one in Server])
    host = serializers.CharField(max_length=253)
    port = serializers.IntegerField(
        min_value=1, max_value=65_535, required=False, allow_null=True, help_text="3306 or 5432, where none is given."
    )
    database = serializers.RegexField(
        r"^[^\x00-\x1f/\\\"]+$", max_length=64, error_messages={"invalid": "A database has no such name."}
    )
    user_name = serializers.CharField(max_length=128)
    password = serializers.CharField(
        max_length=1_000,
        required=False,
        allow_blank=True,
        default="",
        trim_whitespace=False,
        help_text="It is kept until the database was read.",
    )
    certified = serializers.BooleanField(
        default=False, help_text="Only over TLS, with a certificate that is valid for the host."
    )


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
