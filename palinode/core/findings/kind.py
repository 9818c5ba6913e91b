"""Kinds of findings: one table of what each is called and how much it weighs, unless a person weighs it otherwise."""

from enum import IntEnum

from palinode.core.fields import Field
from palinode.core.weight import Weight

FIELDS = 32
"""A kind of this number and more is a difference in the compared field of that number less this."""


class FindingKind(IntEnum):
    """What is wrong, or differs. Numbers are kept with findings, and never given to another kind."""

    LOST = 0
    STOOD_IN = 1
    NOT_JUDGED = 2
    NEW = 3
    REDIRECT_MISSING = 4
    REDIRECT_TEMPORARY = 5
    UNPLANNED = 6
    NOINDEX = 7
    OTHER_NAME = 8
    """It answers under another host name, or another scheme, than the rule says."""
    MERGED = 9
    """Its old address leads to a page that is another source page's, or several pages'."""
    TEMPLATE_TEXT = 10
    TEMPLATE_LINK = 11
    TEMPLATE_STYLES = 12
    FILE_MISSING = 13
    TITLE = FIELDS + Field.TITLE
    DESCRIPTION = FIELDS + Field.DESCRIPTION
    CANONICAL = FIELDS + Field.CANONICAL
    ROBOTS = FIELDS + Field.ROBOTS
    LANGUAGE = FIELDS + Field.LANGUAGE
    HEADINGS = FIELDS + Field.HEADINGS
    TEXT = FIELDS + Field.TEXT
    IMAGES = FIELDS + Field.IMAGES
    LINKS = FIELDS + Field.LINKS
    FORMS = FIELDS + Field.FORMS
    STRUCTURED = FIELDS + Field.STRUCTURED
    HREFLANG = FIELDS + Field.HREFLANG
    OPEN_GRAPH = FIELDS + Field.OPEN_GRAPH
    DOCUMENT = FIELDS + Field.DOCUMENT

    @property
    def word(self) -> str:
        """The word in code, API and the interface's addresses."""
        return self.name.lower()

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return TABLE[self][0]

    @property
    def weight(self) -> Weight:
        """How much it weighs by default."""
        return TABLE[self][1]

    @property
    def field(self) -> Field | None:
        """The compared field that differs, if it is a difference in one."""
        return Field(self - FIELDS) if self >= FIELDS else None


SHARED = (
    FindingKind.TEMPLATE_TEXT,
    FindingKind.TEMPLATE_LINK,
    FindingKind.TEMPLATE_STYLES,
    FindingKind.FILE_MISSING,
)
"""Kinds of what many pages share."""
TABLE: dict[FindingKind, tuple[str, Weight]] = {
    FindingKind.LOST: ("page lost", Weight.BLOCKS),
    FindingKind.STOOD_IN: ("something else answers", Weight.BLOCKS),
    FindingKind.NOT_JUDGED: ("not judged", Weight.MEND),
    FindingKind.NEW: ("new page", Weight.NOTE),
    FindingKind.REDIRECT_MISSING: ("no redirect", Weight.MEND),
    FindingKind.REDIRECT_TEMPORARY: ("redirect not permanent", Weight.MEND),
    FindingKind.UNPLANNED: ("moved, not in the rule", Weight.NOTE),
    FindingKind.NOINDEX: ("search engines shut out", Weight.MEND),
    FindingKind.OTHER_NAME: ("under another name", Weight.NOTE),
    FindingKind.MERGED: ("shares its page", Weight.MEND),
    FindingKind.TEMPLATE_TEXT: ("text of the template", Weight.NOTE),
    FindingKind.TEMPLATE_LINK: ("link of the template", Weight.MEND),
    FindingKind.TEMPLATE_STYLES: ("style sheets", Weight.NOTE),
    FindingKind.FILE_MISSING: ("file missing", Weight.MEND),
    FindingKind.TITLE: ("title", Weight.MEND),
    FindingKind.DESCRIPTION: ("description", Weight.NOTE),
    FindingKind.CANONICAL: ("canonical", Weight.MEND),
    FindingKind.ROBOTS: ("robots", Weight.MEND),
    FindingKind.LANGUAGE: ("language", Weight.NOTE),
    FindingKind.HEADINGS: ("headings", Weight.MEND),
    FindingKind.TEXT: ("text", Weight.MEND),
    FindingKind.IMAGES: ("images", Weight.MEND),
    FindingKind.LINKS: ("links", Weight.MEND),
    FindingKind.FORMS: ("forms", Weight.MEND),
    FindingKind.STRUCTURED: ("structured data", Weight.NOTE),
    FindingKind.HREFLANG: ("hreflang", Weight.MEND),
    FindingKind.OPEN_GRAPH: ("Open Graph", Weight.NOTE),
    FindingKind.DOCUMENT: ("file", Weight.MEND),
}
"""Kind to label and default weight."""
