"""What a page can be recognised as besides being itself."""

from enum import IntEnum


class Kind(IntEnum):
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

    @property
    def label(self) -> str:
        """What it is called for a person."""
        return _LABELS[self]


_LABELS = {
    Kind.NONE: "a page",
    Kind.NEW_SERVER: "the default page of a server",
    Kind.PARKED: "a parked domain",
    Kind.CONSTRUCTION: "a page under construction",
    Kind.MAINTENANCE: "a notice of maintenance",
    Kind.DATABASE: "a database that cannot be reached",
    Kind.INSTALLER: "an installer",
    Kind.SCRIPT_ERROR: "an error of a script",
    Kind.BLANK: "a blank page",
    Kind.LOGIN: "a form to sign in",
    Kind.CHALLENGE: "the challenge of a protective proxy",
    Kind.LISTING: "a listing of a folder",
    Kind.CONSENT: "a wall that asks for consent",
    Kind.NOT_FOUND: "a not-found page that answers 200",
    Kind.HOME: "the home page in place of the page",
    Kind.SCRIPTED: "a page without text unless scripts run",
    Kind.TRUNCATED: "a page that breaks off",
}
