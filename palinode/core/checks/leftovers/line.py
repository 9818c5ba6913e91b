"""A line of leftovers: those that are mended in one place, the old form and the one that is expected there."""

from collections.abc import Iterator
from dataclasses import dataclass, field

from palinode.core.leftovers.places import Use
from palinode.core.leftovers.search import Kind, Occurrence

TEXT, TEMPLATE, FILES, TOLD, HEADERS, SETTINGS, DATABASE, SERIALIZED, BELOW, STAY, DEPENDS = (
    "In the text of pages",
    "In the template of pages",
    "In style sheets, scripts and other files",
    "In feeds, sitemaps and robots rules",
    "In header fields",
    "In options and settings",
    "In the database",
    "In serialized values",
    "Names below the old one",
    "Must stay as they are",
    "What else depends on the old name",
)
GROUPS = (SERIALIZED, SETTINGS, HEADERS, TEMPLATE, TEXT, DATABASE, FILES, TOLD, BELOW, DEPENDS, STAY)


@dataclass
class Line:
    """Leftovers of one form in one place."""

    group: str
    place: str
    """In words."""
    use: Use
    one: Occurrence
    """One of them."""
    left: str
    """The old form, cut behind its first folder where the line holds several."""
    right: str
    whole: dict[str, str] = field(default_factory=dict)
    """What is written there, with what is expected, uncut."""
    times: int = 0
    answers: int = 0
    """Pages and files that have it."""
    cells: int = 0
    """Cells of the database that have it."""
    items: list[tuple[str, str, str]] = field(default_factory=list)
    """Where, with what stands around it, and how often."""
    in_serialized: bool = False

    def uncut(self) -> None:
        """Show the whole form, where there is but one."""
        if len(self.whole) == 1:
            self.left, self.right = next(iter(self.whole.items()))


def headed(one: Occurrence, written: str) -> str:
    """Return an address as far as its first folder, and an ellipsis for what follows: posts name one folder often.

    Of one without a folder it is the name of its first parameter: ``/?p=…``.
    """
    if one.kind not in (Kind.ADDRESS, Kind.RELATIVE) or not written:
        return written
    slashes = list(_slashes(one, written))
    query = written.find("?")
    if query >= 0 and not (len(slashes) > 3 and slashes[3] < query):
        value = written.find("=", query)
        return f"{written[: value + 1]}…" if value >= 0 else written
    if len(slashes) < 4 or slashes[3] + len(one.slash) >= len(written):
        return written
    return f"{written[: slashes[3] + len(one.slash)]}…"


def _slashes(one: Occurrence, written: str) -> Iterator[int]:
    at = written.find(one.slash)
    while at >= 0:
        yield at
        at = written.find(one.slash, at + len(one.slash))


def times(count: int) -> str:
    """Return how often, where it is more than once."""
    return f"{count:,} times" if count > 1 else ""
