"""Entries of JSON listings that a person mapped: what a site lists in its own way, under the noun that it was given."""

from palinode.core.platforms.platform import Field, ItemTable, Platform

ENTRIES = ItemTable(
    noun="entry",
    name="listed",
    columns={
        Field.IDENTITY: "identity",
        Field.TYPE: "noun",
        Field.TITLE: "title",
        Field.SLUG: "slug",
        Field.DATE: "date",
        Field.STATUS: "status",
        Field.LINK: "link",
    },
    shown=frozenset({""}),
)
PLATFORM = Platform(name="JSON listings", tables=("\0",), items=(ENTRIES,))
"""No table of a database is called like that: they come from an API alone."""
