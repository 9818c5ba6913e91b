"""JSON listings, and the mappings by which they are read."""

from rest_framework import serializers

from palinode.api.serializers.options import DescribedOptionSerializer
from palinode.core.exports.json_listing import MOST_MAPPINGS

_MAPPING = "Name to value, as options of listings describe it."


class ListingsSerializer(serializers.Serializer[object]):
    """The mappings of a move, and what one says."""

    listings = serializers.ListField(child=serializers.DictField(child=serializers.CharField(allow_blank=True)))
    options = DescribedOptionSerializer(many=True)


class NewListingsSerializer(serializers.Serializer[object]):
    """Mappings to be saved."""

    listings = serializers.ListField(
        child=serializers.DictField(child=serializers.CharField(allow_blank=True)),
        max_length=MOST_MAPPINGS,
        help_text=_MAPPING,
    )


class TrySerializer(serializers.Serializer[object]):
    """A mapping to be tried on a side."""

    side = serializers.ChoiceField(choices=["source", "destination"])
    mapping = serializers.DictField(child=serializers.CharField(allow_blank=True), help_text=_MAPPING)


class TriedSerializer(serializers.Serializer[object]):
    """What a mapping gives of the first page of a listing."""

    entries = serializers.ListField(child=serializers.DictField(child=serializers.CharField(allow_blank=True)))
    number = serializers.IntegerField(help_text="Entries of the page.")
    more = serializers.BooleanField(help_text="There is another page.")
