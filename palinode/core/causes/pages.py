"""What no other cause explains, grouped by fate and section."""

import re
from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered_rows
from palinode.core.checks.pages import kinds
from palinode.core.fields import Field
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import number

_FIELDS = tuple(kinds.FIELD_OF)
_YEAR = re.compile(r"/(?:19|20)\d\d")
_SECTION = 3
"""Pages of a section that is spoken of by itself."""
_MOST_SECTIONS = 4
_FEWEST_ALIKE = 3
_CAPTURE_AGAIN = "Then capture the destination again."


def _by_section(ledger: Ledger, rows: np.ndarray) -> Iterator[tuple[str, np.ndarray, dict[str, str]]]:
    """Yield the sections of rows in words, with their rows and what leads to them.

    Years are one, and so are sections of which too few pages are there, or meant, to speak of each.
    """
    codes, count = np.unique(ledger.section[rows], return_counts=True)
    sizes = np.bincount(ledger.section[ledger.left != 0], minlength=len(ledger.section_names))
    years = [code for code in codes.tolist() if _YEAR.fullmatch(ledger.section_names[code])]
    if len(years) > 1:
        names = sorted(ledger.section_names[code] for code in years)
        yield f"{names[0]} to {names[-1]}", rows & np.isin(ledger.section, years), {}
    others = [code for code in codes[np.argsort(-count, kind="stable")].tolist() if len(years) < 2 or code not in years]
    alone = [code for code in others if sizes[code] >= _SECTION][:_MOST_SECTIONS]
    together = [code for code in others if code not in alone]
    if len(together) == 1:
        alone, together = [*alone, *together], []
    for code in alone:
        section = ledger.section_names[code]
        yield section, rows & (ledger.section == code), {"group": section}
    if together:
        yield f"{len(together):,} sections", rows & np.isin(ledger.section, together), {}


def pages_lost(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section with lost pages."""
    ledger = ground.ledger
    for section, rows, group in _by_section(ledger, ground.rows(free, kinds.LOST)):
        count = int(rows.sum())
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_lost",
            Weight.BLOCKS,
            f"{ledger.left_place(first)} is not at the destination"
            if count == 1
            else f"{count:,} pages of {section} are not at the destination",
            f"“{ledger.left_title[first]}”: {ledger.detail[first]}."
            if count == 1
            else f"First of them: {ledger.left_place(first)}, {ledger.detail[first]}.",
            f"Copy what is missing, or retire it with a reason if it is meant to go. {_CAPTURE_AGAIN}",
            ground.takes(free, rows, kinds.LOST),
            count,
            {"verdict": "lost", **group},
        )


def pages_altered(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each set of fields in which several pages differ alike, and one for the pages left over."""
    rows = ground.rows(free, *_FIELDS)
    if not rows.any():
        return
    open_fields = np.zeros(len(rows), np.int64)
    for kind in _FIELDS:
        open_fields |= ground.rows(free, kind).astype(np.int64) << int(kinds.FIELD_OF[kind])
    alike, count = np.unique(open_fields[rows], return_counts=True)
    several = alike[count >= _FEWEST_ALIKE]
    for bits in several[np.argsort(-count[count >= _FEWEST_ALIKE])].tolist() if len(alike) > 1 else []:
        here = rows & (open_fields == bits)
        rows &= ~here
        yield _altered(ground, free, here, f" in {_fields(bits)} alone")
    if rows.any():
        yield _altered(ground, free, rows, "")


def _altered(ground: Ground, free: np.ndarray, rows: np.ndarray, where: str) -> Cause:
    ledger, count = ground.ledger, int(rows.sum())
    first = int(np.flatnonzero(rows)[0])
    takes = ground.takes(free, rows, *_FIELDS)
    said = ledger.detail[first] or ground.findings.detail[int(np.flatnonzero(takes)[0])]
    return Cause(
        "pages_altered",
        Weight.MEND,
        f"{number(count, 'page')} {'reads' if count == 1 else 'read'} differently{where}",
        f"{ledger.left_place(first)}: {said}{'.' if count == 1 else ', and others.'}",
        f"No common reason is known. Open each pair and see whether the change is meant. {_CAPTURE_AGAIN}",
        takes,
        count,
        altered_rows(ledger, rows),
    )


def _fields(bits: int) -> str:
    labels = [field.label for field in Field if bits >> field & 1]
    return " and ".join([", ".join(labels[:-1]), labels[-1]] if len(labels) > 1 else labels)


def pages_not_judged(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages that could not be judged."""
    ledger, rows = ground.ledger, ground.rows(free, kinds.NOT_JUDGED)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_not_judged",
            Weight.MEND,
            f"{number(count, 'page')} could not be judged",
            f"{ledger.left_place(first)}: {ledger.detail[first].removeprefix('not judged: ')}.",
            "Capture the destination again; raise the limits, or open the door, if that is the reason.",
            ground.takes(free, rows, kinds.NOT_JUDGED),
            count,
            {"verdict": "unknown"},
        )


def pages_new(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages that exist only at the destination."""
    ledger, rows = ground.ledger, ground.rows(free, kinds.NEW)
    count = int(rows.sum())
    if count:
        first = int(np.flatnonzero(rows)[0])
        yield Cause(
            "pages_new",
            Weight.NOTE,
            f"{number(count, 'page')} {'exists' if count == 1 else 'exist'} only at the destination",
            f"{ledger.right_place(first)}{'.' if count == 1 else ' and others.'}",
            "See whether they are meant: an installer leaves samples behind.",
            ground.takes(free, rows, kinds.NEW),
            count,
            {"verdict": "new"},
        )
