"""The compared fields: one fixed list, in the order in which differences are told."""

from enum import IntEnum


class Field(IntEnum):
    """A compared field; its number is its place in a page's fingerprints and its bit in a change."""

    TITLE = 0
    DESCRIPTION = 1
    CANONICAL = 2
    ROBOTS = 3
    LANGUAGE = 4
    HEADINGS = 5
    TEXT = 6
    IMAGES = 7
    LINKS = 8
    FORMS = 9
    STRUCTURED = 10
    HREFLANG = 11
    OPEN_GRAPH = 12
    DOCUMENT = 13
    """The bytes of a document that is not HTML."""

    @property
    def label(self) -> str:
        """The field's name on screen."""
        return LABELS[self]


LABELS = {
    Field.TITLE: "title",
    Field.DESCRIPTION: "description",
    Field.CANONICAL: "canonical",
    Field.ROBOTS: "robots",
    Field.LANGUAGE: "language",
    Field.HEADINGS: "headings",
    Field.TEXT: "text",
    Field.IMAGES: "images",
    Field.LINKS: "links",
    Field.FORMS: "forms",
    Field.STRUCTURED: "structured data",
    Field.HREFLANG: "hreflang",
    Field.OPEN_GRAPH: "Open Graph",
    Field.DOCUMENT: "file",
}


COMPARED_PLACES = len(Field)
"""A Place below this number belongs to the compared field of that number."""


class Place(IntEnum):
    """Where in a page an address stands; below COMPARED_PLACES in the compared field of that number."""

    CANONICAL = Field.CANONICAL
    TEXT = Field.TEXT
    IMAGE = Field.IMAGES
    LINK = Field.LINKS
    FORM = Field.FORMS
    HREFLANG = Field.HREFLANG
    OPEN_GRAPH = Field.OPEN_GRAPH
    TEMPLATE_LINK = 32
    TEMPLATE_IMAGE = 33
    SRCSET = 34
    STYLE = 35
    SCRIPT = 36
    FRAME = 37
    MEDIA = 38
    TEMPLATE_FORM = 39
    DATA = 40
    """Named by structured data."""
    MANIFEST = 41


PAGE_PLACES = frozenset({Place.CANONICAL, Place.LINK, Place.TEMPLATE_LINK, Place.HREFLANG, Place.FRAME, Place.DATA})
"""Places whose addresses may be pages of the site."""

FILE_PLACES = frozenset(
    {
        Place.IMAGE,
        Place.TEMPLATE_IMAGE,
        Place.SRCSET,
        Place.STYLE,
        Place.SCRIPT,
        Place.MEDIA,
        Place.MANIFEST,
    }
)
"""Places whose addresses are files that pages need."""
