"""Checks of a comparison: what each found, its rows, groups and items."""

from rest_framework import serializers

from palinode.core.checks.thread import Thread

THREADS = [thread.value for thread in Thread]


class VerdictSerializer(serializers.Serializer[object]):
    """A verdict of a check, with its number of rows."""

    word = serializers.CharField()
    label = serializers.CharField()
    thread = serializers.ChoiceField(choices=THREADS)
    wants = serializers.BooleanField(help_text="Such a row wants a person.")
    rows = serializers.IntegerField()


class GroupCountSerializer(serializers.Serializer[object]):
    """Rows of one group of a check."""

    group = serializers.CharField()
    rows = serializers.IntegerField()


class CheckSerializer(serializers.Serializer[object]):
    """A check that a comparison looked at."""

    name = serializers.CharField()
    title = serializers.CharField()
    view = serializers.CharField(help_text="The view that it stands in.")
    rows = serializers.IntegerField()
    verdicts = VerdictSerializer(many=True)
    groups_label = serializers.CharField(allow_blank=True, help_text="What its groups are called; empty for none.")
    group_headings = serializers.BooleanField(help_text="Rows stand under their groups as headings.")
    groups = GroupCountSerializer(many=True)
    filters = serializers.ListField(child=serializers.CharField(), help_text="Arrays by which rows can be chosen.")
    items = serializers.ListField(child=serializers.CharField(), help_text="Columns of what a row stands for.")
    unseen = serializers.ListField(child=serializers.CharField(), help_text="What could not be looked at.")
    options = serializers.BooleanField(help_text="It has options that people set.")
    asks = serializers.BooleanField(help_text="It can be asked anew without a capture of all pages.")


class RowSerializer(serializers.Serializer[object]):
    """One row of a check."""

    rank = serializers.IntegerField()
    verdict = serializers.CharField()
    group = serializers.CharField(allow_blank=True)
    left = serializers.CharField(allow_null=True)
    left_note = serializers.CharField(allow_null=True)
    right = serializers.CharField(allow_null=True)
    right_note = serializers.CharField(allow_blank=True)
    numbers = serializers.DictField(child=serializers.FloatField())


class RowsPageSerializer(serializers.Serializer[object]):
    """Some rows of a check, and how many each verdict has in the chosen group."""

    total = serializers.IntegerField()
    at_least = serializers.BooleanField(help_text="More rows were found than are counted.")
    first = serializers.IntegerField()
    counts = serializers.DictField(child=serializers.IntegerField())
    rows = RowSerializer(many=True)


class AnswersPageSerializer(RowsPageSerializer):
    """Some answers of a capture, with what an answer can be."""

    verdicts = VerdictSerializer(many=True)


class CaptureSectionSerializer(serializers.Serializer[object]):
    """A section of a capture's pages."""

    section = serializers.CharField()
    pages = serializers.IntegerField()
    recognised = serializers.IntegerField(help_text="Those that are something else: a notice, a wall, an error.")


class GroupSerializer(serializers.Serializer[object]):
    """Rows that belong together."""

    key = serializers.CharField(help_text="By which the ledger shows them alone.")
    name = serializers.CharField()
    rows = serializers.IntegerField()
    verdicts = serializers.DictField(child=serializers.IntegerField())


class ItemsSerializer(serializers.Serializer[object]):
    """Some of the items of a row or a finding."""

    total = serializers.IntegerField()
    first = serializers.IntegerField()
    rows = serializers.ListField(child=serializers.DictField(child=serializers.CharField()))
    pages = RowSerializer(
        many=True, help_text="In place of rows where they are pages; the rank is -1 for those of a comparison before."
    )
