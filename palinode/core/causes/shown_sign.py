"""Causes that pages themselves show, each by a sign of why its two pages differ."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import FIELDS, altered_rows, first_of
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number

EXTENSION = (
    "Install and switch on the extension that made it at the source, in the same version, with its settings "
    "and its tables."
)


@dataclass(frozen=True)
class ShownSign:
    """A cause of which pages show a sign; its words hold ``{pages}``, their number, and ``{first}``, the first."""

    kind: str
    sign: Sign
    title: str
    detail: str
    remedy: str
    instead: str = ""
    fields: tuple[Kind, ...] = FIELDS
    """Kinds of findings that it takes."""
    fewest: int = 1
    """Pages that must show it."""

    def __call__(self, ground: Ground, free: np.ndarray) -> Iterator[Cause]:
        """Yield one cause for all pages that show the sign."""
        takes = ground.takes(free, ground.rows(free, *self.fields) & ground.show(self.sign), *self.fields)
        rows = ground.under(takes)
        count = int(rows.sum())
        if count >= self.fewest:
            yield Cause(
                self.kind,
                Weight.MEND,
                self.title.format(pages=number(count, "page")),
                self.detail.format(first=first_of(ground, rows)),
                f"{self.remedy} Then capture again.",
                takes,
                count,
                altered_rows(ground.ledger, rows),
                instead=self.instead,
            )


characters_damaged = ShownSign(
    "characters_damaged",
    Sign.DAMAGED,
    "Characters are damaged on {pages}",
    "{first}: letters with accents, quotes or other scripts came through as others.",
    "The import read the database in another encoding than it was written in. Import it again with the encoding that "
    "the dump names (often utf8mb4), and set the same in the site's configuration.",
    "If the stored bytes are right and only the answers are wrong, it is the server's Content-Type: compare its "
    "charset on the tab Answer of a pair.",
)
script_messages = ShownSign(
    "script_messages",
    Sign.MESSAGES,
    "Script errors stand in the middle of {pages}",
    "{first}: a message names a file of the server and a line.",
    "Read what it says on one pair: often the language's version, or an extension, differs from the old host. Mend "
    "that, and switch the showing of errors off.",
)
markers_shown = ShownSign(
    "markers_shown",
    Sign.MARKERS,
    "Markers of an extension stand as text on {pages}",
    "{first}: what should take their place is not made.",
    EXTENSION,
)
dates_otherwise = ShownSign(
    "dates_otherwise",
    Sign.DATES,
    "Dates are written otherwise on {pages}",
    "{first}: but for dates and times the text is the same.",
    "Compare the site's language, date format and time zone in its settings, and the server's own.",
    "If the days themselves differ by one, it is the time zone; if only their form, the date format.",
    fields=(kinds.TEXT, kinds.HEADINGS, kinds.TITLE),
    fewest=2,
)
pages_cut = ShownSign(
    "pages_cut",
    Sign.CUT,
    "The text of {pages} ends too early",
    "{first}: what is there is the beginning of the source's text.",
    "Look for a limit of size or time: the longest text a column or an import takes, a script's time, a proxy's "
    "buffer. Import the texts again, whole.",
    "If the markup breaks off as well (no end of the document in the stored source), the answer was cut on its way; "
    "if the document ends properly, the stored text is short.",
    fewest=2,
)
forms_gone = ShownSign(
    "forms_gone",
    Sign.FORM_GONE,
    "The form is gone from {pages}",
    "{first}: a form at the source, and none at the destination.",
    EXTENSION,
    fields=(kinds.FORMS,),
    fewest=2,
)
