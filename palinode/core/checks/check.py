"""What a check is: the contract between one way of comparing and the frame that does the rest."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from palinode.core.checks.ask import Ask
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.thread import Thread


class Of(StrEnum):
    """What a check looks at."""

    BOTH_SIDES = "both_sides"
    ONE_CAPTURE = "one_capture"


class Reads(StrEnum):
    """What the frame loads for a check, of each side."""

    PAIRS = "pairs"
    """Which page is which, and what became of it."""
    ROBOTS = "robots"
    """robots.txt of each host, with its rules."""
    FILES = "files"
    """What is no page: files, redirects, what was not there."""
    LINKS = "links"
    """Which page refers to which address."""
    FRAGMENTS = "fragments"
    """Anchors of pages, and links that lead to them."""
    KNOWN = "known"
    """How each address became known."""
    ITEMS = "items"
    """Items of platforms, of each dump and export."""
    DATABASE = "database"
    """Tables and settings of the dump."""
    LISTING = "listing"
    """The files on the host, by a list of them."""
    LEFTOVERS = "leftovers"
    """Old addresses in what the destination serves."""
    ASKED = "asked"
    """What it answered when checks asked it."""
    IDENTIFIERS = "identifiers"
    """Identifiers of services that pages name."""
    HOT_LINKS = "hot_links"
    """Files that pages of other sites show."""
    STORED_LEFTOVERS = "stored_leftovers"
    """Old addresses in the dump of the destination, and damaged serialized values of both."""


@dataclass(frozen=True)
class Verdict:
    """What a check says of a row."""

    word: str
    label: str
    thread: Thread
    wants: bool = False
    """Such a row wants a person."""


class Cell(StrEnum):
    """Where a column of a row stands."""

    LEFT = "left"
    RIGHT = "right"
    LEFT_NOTE = "left_note"
    RIGHT_NOTE = "right_note"
    VERDICT = "verdict"
    GROUP = "group"
    NUMBER = "number"
    """In an array of the column's name; -1 for none."""


@dataclass(frozen=True)
class Column:
    """One column of a check's rows, as it is exported; the name is for machines."""

    name: str
    label: str
    cell: Cell


Asks = Callable[[Side, str], Sequence[Ask]]
"""What a check wants asked of a side, which is ``left`` or ``right``: pure."""


@dataclass(frozen=True)
class Check:
    """One way of comparing."""

    name: str
    """In addresses of the API, exports and the command line."""
    version: int
    """Raised when the same inputs give something else."""
    title: str
    """On screen: the heading of its part of a view."""
    view: str
    """The view that it stands in; several checks may share one."""
    verdicts: tuple[Verdict, ...]
    """In the order in which rows stand; a row's verdict is a place in it."""
    kinds: tuple[Kind, ...]
    columns: tuple[Column, ...]
    judge: Callable[[Looked], Outcome] | None = None
    """Pure: what it makes of what was loaded; None for a check of one capture, whose rows are a query."""
    asks: Asks | None = None
    """What must be asked anew for it, on a person's word; it reads the answers as it reads any other."""
    of: Of = Of.BOTH_SIDES
    reads: tuple[Reads, ...] = ()
    needs: tuple[Reads, ...] = ()
    """Without these it is not looked at, and Standing says so."""
    after: tuple[str, ...] = ()
    """Checks of which it reads what they give."""
    groups_label: str = ""
    """What its groups are called on screen; empty where it has none."""
    group_headings: bool = False
    """Rows stand under their groups as headings."""
    shown: tuple[str, ...] = ()
    """Arrays of its rows that are shown with them."""
    filters: tuple[str, ...] = ()
    """Arrays of its rows by which they can be chosen."""
    items: tuple[str, ...] = ()
    """Columns of what a row stands for; none where it stands for itself, or for pages."""
    options: type | None = None
    """A dataclass of what people may set, with a default for each (core/options.py)."""

    def verdict(self, word: str) -> int:
        """Return the number of a verdict. Raises KeyError for a word that is none."""
        for number, one in enumerate(self.verdicts):
            if one.word == word:
                return number
        raise KeyError(word)
