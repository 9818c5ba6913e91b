"""Lists of addresses that people import."""

from rest_framework import serializers


class NewAddressListSerializer(serializers.Serializer[object]):
    """A list for one side: addresses one a line, any CSV, or an access log; gzip is unpacked."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    file = serializers.FileField(allow_empty_file=True)
    column = serializers.CharField(
        required=False,
        allow_blank=True,
        default="",
        max_length=200,
        help_text="Of a CSV: the heading or number of the column that holds the addresses; found without it.",
    )
    host = serializers.CharField(
        required=False,
        allow_blank=True,
        default="",
        max_length=300,
        help_text="Of a log: the host of the side that wrote it; the main one without it.",
    )


class OutcomeSerializer(serializers.Serializer[object]):
    """What came of a list."""

    new = serializers.IntegerField()
    lines = serializers.IntegerField()
    listed = serializers.IntegerField()
    logged = serializers.IntegerField()
    visits = serializers.IntegerField(help_text="Requests of a log that no program made which says so.")
    elsewhere = serializers.IntegerField()
    failed = serializers.IntegerField()
    unread = serializers.IntegerField()
    examples = serializers.ListField(child=serializers.CharField())


class AddressListsSerializer(serializers.Serializer[object]):
    """How many addresses were imported for each side."""

    source = serializers.IntegerField()
    destination = serializers.IntegerField()
