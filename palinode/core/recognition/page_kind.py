"""What a page can be recognised as besides being itself."""

from enum import IntEnum


class PageKind(IntEnum):
    """A kind of page that is not what was asked for; 0 is an ordinary page."""

    NONE = 0
    NEW_SERVER = 1
    PARKED = 2
    CONSTRUCTION = 3
    MAINTENANCE = 4
    DATABASE = 5
    INSTALLER = 6
    SCRIPT_ERROR = 7
    BLANK = 8
    LOGIN = 9
    CHALLENGE = 10
    LISTING = 11
    CONSENT = 12
    NOT_FOUND = 13
    """Seen only beside the capture's other pages (site.py)."""
    HOME = 14
    """Seen only beside the capture's other pages (site.py)."""
    SCRIPTED = 15
    TRUNCATED = 16
    OTHER = 17
    """Seen only where pages of both sides are held against each other (core/pairing/by_address.py)."""

    @property
    def label(self) -> str:
        """What it is called for a person."""
        return _LABELS[self]


_LABELS = {
    PageKind.NONE: "a page",
    PageKind.NEW_SERVER: "the default page of a server",
    PageKind.PARKED: "a parked domain",
    PageKind.CONSTRUCTION: "a page under construction",
    PageKind.MAINTENANCE: "a notice of maintenance",
    PageKind.DATABASE: "a database that cannot be reached",
    PageKind.INSTALLER: "an installer",
    PageKind.SCRIPT_ERROR: "an error of a script",
    PageKind.BLANK: "a blank page",
    PageKind.LOGIN: "a form to sign in",
    PageKind.CHALLENGE: "the challenge of a protective proxy",
    PageKind.LISTING: "a listing of a folder",
    PageKind.CONSENT: "a wall that asks for consent",
    PageKind.NOT_FOUND: "a not-found page that answers 200",
    PageKind.HOME: "the home page in place of the page",
    PageKind.SCRIPTED: "a page without text unless scripts run",
    PageKind.TRUNCATED: "a page that breaks off",
    PageKind.OTHER: "one page in place of many",
}
