"""The check of leftovers: each old address that is still served, by what must be mended, facing what is expected."""

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.kind import Kind
from palinode.core.checks.leftovers import verdicts
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.columns import find
from palinode.core.findings import Finding, columns
from palinode.core.leftovers import search
from palinode.core.leftovers.places import Use
from palinode.core.leftovers.search import Kind as What
from palinode.core.leftovers.search import Occurrence
from palinode.core.leftovers.served import Form, ServedLeftovers
from palinode.core.options import option
from palinode.core.wording import number

_MOST_ROWS = 5_000
_MOST_ITEMS = 10_000
_FEWEST = 5
_SHARE = 0.5
"""Of all pages that are served: what so many have stands in the template."""
TEXT, TEMPLATE, FILES, TOLD, HEADERS, STAY = (
    "In the text of pages",
    "In the template of pages",
    "In style sheets, scripts and other files",
    "In feeds, sitemaps and robots rules",
    "In header fields",
    "Must stay as they are",
)
_GROUPS = (HEADERS, TEMPLATE, TEXT, FILES, TOLD, STAY)


@dataclass(frozen=True)
class LeftoversOptions:
    """What people may set."""

    names: tuple[str, ...] = option(
        (),
        "Also look for",
        "One a line: another old host name, an address below which all is old, an IP address, a folder of the old "
        "server's disk (/var/www/mill). The hosts of the source are looked for anyway.",
    )
    base64: bool = option(False, "In base64 too", "Texts in base64 are looked into, which takes longer.")


@dataclass
class _Line:
    """Leftovers that are mended in one place: the old form and the one expected there."""

    group: str
    place: str
    use: Use
    one: Occurrence
    left: str
    right: str
    whole: dict[str, str] = field(default_factory=dict)
    """What is written there, with what is expected, uncut."""
    at: list[np.ndarray] = field(default_factory=list)
    """Places among the answers' leftovers."""


def judge(looked: Looked) -> Outcome:
    """Group the leftovers of the destination by what must be mended."""
    served = looked.right.leftovers
    if served is None:
        return outcome([], columns(CHECK.kinds, [], []), unseen=("leftover addresses, since no name is old",))
    lines = _lines(looked, served)
    shown_on = _Answers(looked)
    rows: list[Row] = []
    found: list[Finding] = []
    for line in sorted(lines, key=lambda one: -sum(map(len, one.at)))[:_MOST_ROWS]:
        _tell(line, looked, served, shown_on, rows, found)
    unseen = []
    if served.unread:
        unseen.append(f"leftovers of {number(served.unread, 'answer')} whose record cannot be read")
    if len(lines) > _MOST_ROWS:
        unseen.append(f"{len(lines) - _MOST_ROWS:,} further forms of leftovers, each on fewer pages")
    return outcome(rows, columns(CHECK.kinds, [], found), _GROUPS, tuple(unseen))


def _lines(looked: Looked, served: ServedLeftovers) -> list[_Line]:
    order = np.argsort(served.form, kind="stable")
    starts = np.searchsorted(served.form[order], np.arange(len(served.forms) + 1))
    pages = _pages(looked)
    held: dict[tuple[object, ...], _Line] = {}
    for at, form in enumerate(served.forms):
        one = next(search.find(form.written, served.wanted), None)
        if one is None:
            continue
        one = one._replace(in_base64=form.in_base64)
        expected = search.expected(one, looked.rule)
        answers = order[starts[at] : starts[at + 1]]
        left, right = _headed(one, one.written), _headed(one, expected)
        group = _group(form, len(np.unique(served.ident[answers])), pages, served, answers)
        key = (group, form.place.name, left, right, form.in_base64)
        line = held.setdefault(key, _Line(group, form.place.name, form.place.use, one, left, right))
        line.whole[one.written] = expected
        line.at.append(answers)
    for line in held.values():
        if len(line.whole) == 1:
            line.left, line.right = next(iter(line.whole.items()))
    return list(held.values())


def _pages(looked: Looked) -> np.ndarray:
    """Return the identities of the destination's pages as they were asked, ascending."""
    files = looked.right.files
    return np.sort(files.pages) if files is not None else np.zeros(0, np.int64)


def _group(form: Form, count: int, pages: np.ndarray, served: ServedLeftovers, answers: np.ndarray) -> str:
    if form.place.use is Use.KEPT:
        return STAY
    if form.place.name.startswith("header "):
        return HEADERS
    if not len(pages) or find(pages, served.ident[answers[:1]])[0] < 0:
        return FILES if form.place.use is Use.LOADED else TOLD
    return TEMPLATE if count >= max(_FEWEST, _SHARE * len(pages)) else TEXT


def _headed(one: Occurrence, written: str) -> str:
    """Return an address as far as its first folder, and an ellipsis for what follows: posts name one folder often."""
    if one.kind not in (What.ADDRESS, What.RELATIVE) or not written:
        return written
    pieces = list(_slashes(one, written))
    if len(pieces) < 4 or pieces[3] + len(one.slash) >= len(written):
        return written
    return f"{written[: pieces[3] + len(one.slash)]}…"


def _slashes(one: Occurrence, written: str) -> Iterator[int]:
    at = written.find(one.slash)
    while at >= 0:
        yield at
        at = written.find(one.slash, at + len(one.slash))


class _Answers:
    """Where the answers of the destination stand."""

    def __init__(self, looked: Looked) -> None:
        self.place: dict[int, str] = {}
        home = looked.right.bases[0]
        if (files := looked.right.files) is not None:
            self.place = dict(zip(files.ident.tolist(), addresses.places(files.text, home), strict=True))
        if (pages := looked.pages) is not None:
            texts = pages.right_address
            asked = list(map(looked.rule.reached, texts)) if looked.rule.forms else texts
            at = np.flatnonzero(pages.right != 0).tolist()
            idents = addresses.idents([asked[row] for row in at]).tolist()
            places = addresses.places([texts[row] for row in at], pages.homes[1])
            self.place |= dict(zip(idents, places, strict=True))


def _tell(
    line: _Line, looked: Looked, served: ServedLeftovers, shown_on: _Answers, rows: list[Row], found: list[Finding]
) -> None:
    """Add the row of a line, and what is wrong to what was found."""
    at = np.concatenate(line.at)
    times = int(served.times[at].sum())
    idents, first = np.unique(served.ident[at], return_index=True)
    verdict, note, kind = _judged(line, looked)
    order = np.argsort(-served.times[at][first], kind="stable")[:_MOST_ITEMS]
    places = [shown_on.place.get(ident, "") for ident in idents[order].tolist()]
    samples = [served.forms[form].sample for form in served.form[at][first][order].tolist()]
    counts = [f"{count:,} times" if count > 1 else "" for count in served.times[at][first][order].tolist()]
    items = Items((places, samples, counts))
    numbers = {"times": times, "answers": len(idents)}
    if kind is not None:
        detail = f"{line.place}: {line.left}{f', expected {line.right}' if line.right else ''}"
        where = next(filter(None, places), "")
        found.append(
            Finding(kind, f"{line.place} {line.left}", len(idents), where, "", detail, row=len(rows), looks=detail)
        )
    rows.append(Row(verdict, line.left, line.right, line.place, note, line.group, -times, numbers, items))


def _judged(line: _Line, looked: Looked) -> tuple[int, str, Kind | None]:
    """Return the verdict of a line, what is said beside it, and the kind of its finding."""
    one = line.one
    if line.use is Use.KEPT:
        return verdicts.STAYS, "readers would show old items as new", None
    how = "" if one.spelling.word == "plain" else one.spelling.word
    if one.in_base64:
        how = "in base64"
    if one.kind is What.MAIL:
        return verdicts.NAMED, "is there such a mailbox?", verdicts.MAIL
    if one.kind in (What.PATH, What.NUMBER):
        return verdicts.NAMED, _joined(how, "of the old server"), verdicts.SERVER
    if one.kind is What.NAME or line.use is Use.NAMED:
        return verdicts.NAMED, how, verdicts.NAMED_ONLY
    if line.use is Use.LOADED and one.plain.startswith("http:") and looked.right.bases[0].startswith("https:"):
        return verdicts.BROKEN, _joined(how, "http on an https page"), verdicts.INSECURE
    if _is_broken(one, looked):
        return verdicts.BROKEN, _joined(how, "the old host has no such page"), _kind(line)
    if line.place in ("header location", "header refresh", "redirect in the page"):
        return verdicts.WORKS, _joined(how, "sends visitors to the old host"), verdicts.LEADS_BACK
    if line.use is Use.LOADED:
        return verdicts.LOADS, how, verdicts.LOADED
    return verdicts.WORKS, _joined(how, "while the old host answers"), _kind(line)


def _kind(line: _Line) -> Kind:
    return {Use.LOADED: verdicts.LOADED, Use.SENT: verdicts.SENT, Use.SAID: verdicts.SAID}.get(
        line.use, verdicts.LINKED
    )


def _is_broken(one: Occurrence, looked: Looked) -> bool:
    """Whether the source itself had nothing there."""
    files = looked.left.files
    if files is None or not one.address:
        return False
    row = int(files.find(np.array([addresses.ident(one.address)], np.int64))[0])
    return row >= 0 and int(files.status[row]) in (404, 410)


def _joined(*said: str) -> str:
    return "; ".join(filter(None, said))


CHECK = Check(
    name="leftovers",
    version=1,
    title="Leftovers",
    view="leftovers",
    reads=(Reads.PAIRS, Reads.FILES, Reads.LEFTOVERS),
    needs=(Reads.FILES,),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("place", "Stands in", Cell.LEFT_NOTE),
        Column("old", "Old form", Cell.LEFT),
        Column("expected", "Expected form", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What of it", Cell.RIGHT_NOTE),
        Column("times", "Times", Cell.NUMBER),
        Column("answers", "Pages and files", Cell.NUMBER),
    ),
    shown=("times", "answers"),
    items=("page", "what", "times"),
    judge=judge,
    options=LeftoversOptions,
)
