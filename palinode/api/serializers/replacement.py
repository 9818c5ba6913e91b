"""What a replacement would change."""

from rest_framework import serializers


class ColumnChangeSerializer(serializers.Serializer[object]):
    """What changes in one column of a table."""

    table = serializers.CharField()
    column = serializers.CharField()
    cells = serializers.IntegerField(help_text="That change.")
    occurrences = serializers.IntegerField(help_text="Addresses that are replaced.")
    kept = serializers.IntegerField(help_text="Cells with old addresses that stay.")
    damaged = serializers.IntegerField(help_text="Serialized values that are damaged already, and are left alone.")
    unwritten = serializers.IntegerField(help_text="Cells written in a way of their own, which are left alone.")
    samples = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(allow_blank=True)), help_text="Before and after."
    )
