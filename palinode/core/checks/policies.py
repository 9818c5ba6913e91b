"""The check of policies: what becomes of an address written otherwise, on both sides: slash, www, http, letter case."""

import re
from collections.abc import Callable, Mapping, Sequence
from enum import Enum
from typing import NamedTuple

import numpy as np

from palinode.core import address as addresses
from palinode.core import asked_answers
from palinode.core.asked_answers import AskedAnswer, Hops
from palinode.core.checks.ask import Ask
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome, Row, outcome
from palinode.core.checks.thread import Thread
from palinode.core.findings import Finding, columns
from palinode.core.page import CLOSED, PASSING
from palinode.core.weight import Weight

REDIRECT_LOST = Kind(
    "policy_lost",
    "other forms of an address not redirected any more",
    Weight.MEND,
    remedy="Let the server redirect this form permanently, as the source did: visitors and search engines know it, and "
    "one page under two addresses is two pages to them.",
)
VERDICTS = (
    Verdict("lost", "Not redirected any more", Thread.CUT, wants=True),
    Verdict("altered", "Otherwise", Thread.WAVY),
    Verdict("hops", "More hops", Thread.BENT),
    Verdict("unknown", "Not judged", Thread.DOTS),
    Verdict("same", "Same", Thread.STRAIGHT),
)
_LOST, _ALTERED, _MORE, _UNKNOWN, _SAME = range(len(VERDICTS))
_PLAIN = re.compile(r"https?://[^/]+(?:/[A-Za-z0-9_~-]*[A-Za-z][A-Za-z0-9_~-]*)+/?")
"""An inner page whose address holds nothing but words."""
_SAYS_NOTHING = frozenset({-1, *CLOSED, *PASSING})
"""Statuses that say nothing of the page, and nothing fetched."""
_LETTER = re.compile(r"[A-Za-z](?=[^/]*/?\Z)")


class _Becomes(Enum):
    """What becomes of an address that is written otherwise."""

    REDIRECTED = "redirected to the page"
    ANSWERS = "answers by itself"
    ELSEWHERE = "leads elsewhere"
    NOT_FOUND = "not found"
    SILENT = "no answer that says anything"
    """Nothing was fetched, or the host asks to come again, or shuts us out."""
    OTHER = "answers otherwise"


def _slash(page: str) -> str:
    return page[:-1] if page.endswith("/") else f"{page}/"


def _www(page: str) -> str:
    parts = addresses.split(page)
    return parts._replace(host=addresses.twin_host(parts.host)).text


def _scheme(page: str) -> str:
    return f"http{page[5:]}" if page.startswith("https:") else f"https{page[4:]}"


def _upper(page: str) -> str:
    parts = addresses.split(page)
    return parts._replace(path=parts.path.upper()).text


def _double(page: str) -> str:
    parts = addresses.split(page)
    return parts._replace(path=f"/{parts.path}").text


def _encoded(page: str) -> str:
    return _LETTER.sub(lambda found: f"%{ord(found[0]):02X}", page, count=1)


POLICIES: dict[str, Callable[[str], str]] = {
    "Slash at the end": _slash,
    "www": _www,
    "http and https": _scheme,
    "Letter case": _upper,
    "Double slash": _double,
    "Letter encoded": _encoded,
}
"""By name: how the address of an inner page is written otherwise."""
INDEX_FILES = ("index.html", "index.php")
"""Asked at the home page."""


def forms(side: Side) -> dict[str, tuple[str, str]]:
    """Return by policy the address that is to be asked, and the page that it stands for."""
    home, found = side.bases[0], {}
    page = _inner_page(side)
    if page:
        found = {name: (write(page), page) for name, write in POLICIES.items()}
    return found | {f"Index file {name}": (f"{home}{name}", home) for name in INDEX_FILES}


def _inner_page(side: Side) -> str:
    """Return an inner page whose address holds words alone, the shortest of them; empty for none."""
    links, home = side.links, side.bases[0]
    if links is None:
        return ""
    pages = links.texts(np.flatnonzero(links.is_page & (links.status == 200)))
    plain = [one for one in pages if one.startswith(home) and len(one) > len(home) and _PLAIN.fullmatch(one)]
    return min(plain, key=lambda one: (len(one), one), default="")


def asks(side: Side, which: str) -> Sequence[Ask]:
    """Ask each other form of an address once, and the page itself; the source only if it was not asked before."""
    told = forms(side) if which == "right" or not side.asked else {}
    return [Ask(address) for address in dict.fromkeys(one for pair in told.values() for one in pair)]


def judge(looked: Looked) -> Outcome:
    """Hold what becomes of each form against each other."""
    rows: list[Row] = []
    found: list[Finding] = []
    sides = {"source": looked.left, "destination": looked.right}
    if lacks := " and ".join(name for name, side in sides.items() if not side.asked):
        unseen = f"policies of addresses (Check now asks the {lacks})"
        return outcome([], columns(CHECK.kinds, [], []), unseen=(unseen,))
    left, right = forms(looked.left), forms(looked.right)
    for order, name in enumerate([*POLICIES, *(f"Index file {one}" for one in INDEX_FILES)]):
        if name not in left or name not in right:
            continue
        was, now = (
            _asked(side.asked or {}, *told[name]) for side, told in ((looked.left, left), (looked.right, right))
        )
        rows.append(_row(name, was, now, order))
        if rows[-1].verdict == _LOST:
            row = rows[-1]
            detail = f"{name}: {row.left} became {row.right}"
            found.append(Finding(REDIRECT_LOST, name, 1, row.left, row.right, detail, "", len(rows) - 1))
    return outcome(rows, columns(CHECK.kinds, [], found))


class _Form(NamedTuple):
    """Another form of a page's address, as it was asked."""

    page: str
    hops: Hops
    becomes: _Becomes


def _asked(answers: Mapping[str, AskedAnswer], address: str, page: str) -> _Form | None:
    """Return what becomes of a form of a page's address; None if nobody asked it."""
    hops = asked_answers.follow(answers, address)
    return _Form(page, hops, _becomes(answers, hops, page)) if hops else None


def _becomes(answers: Mapping[str, AskedAnswer], hops: Hops, page: str) -> _Becomes:
    if hops.status == 200:
        if not hops.count:
            return _Becomes.ANSWERS
        own = asked_answers.follow(answers, page)
        return _Becomes.REDIRECTED if hops.end in (page, own.end if own else page) else _Becomes.ELSEWHERE
    if hops.status in (404, 410):
        return _Becomes.NOT_FOUND
    return _Becomes.SILENT if hops.status in _SAYS_NOTHING else _Becomes.OTHER


def _row(name: str, was: _Form | None, now: _Form | None, order: int) -> Row:
    left, right = (_said(one) if one else "not asked" for one in (was, now))
    verdict, note = _judged(was, now)
    return Row(verdict, left, right, name, note, order=order)


def _judged(was: _Form | None, now: _Form | None) -> tuple[int, str]:
    """Return the verdict of a form, and what is said beside it."""
    if was is None or now is None:
        return _UNKNOWN, "not asked on both sides"
    if was.becomes is not now.becomes:
        for one, side in ((was, "source"), (now, "destination")):
            if one.becomes is _Becomes.SILENT:
                return _UNKNOWN, f"the {side} did not answer"
        if was.becomes is _Becomes.REDIRECTED:
            two = now.becomes is _Becomes.ANSWERS
            return _LOST, "one page under two addresses" if two else now.becomes.value
        return _ALTERED, f"{was.becomes.value} before"
    if now.hops.count > was.hops.count:
        return _MORE, f"{now.hops.count} hops, {was.hops.count} before"
    return _SAME, ""


def _said(form: _Form) -> str:
    """Return where a form leads, and with which status; scheme and host are left out where they are the page's."""
    own, hops = addresses.split(form.page), form.hops
    is_plain = all(addresses.split(one).scheme == own.scheme for one in hops.addresses)
    shown = [_shown(one, own.host) if is_plain else one for one in hops.addresses]
    first = hops.statuses[0]
    if hops.count:
        tail = f", then {hops.status}" if hops.status not in (0, 200) else ""
        return f"{' → '.join(shown)}, {first}{tail}"
    return f"{shown[0]} {first if first > 0 else 'not fetched'}"


def _shown(address: str, host: str) -> str:
    at = address.find("/", 8)
    other = addresses.split(address).host
    return address[at:] if other == host else f"{other}{address[at:]}"


CHECK = Check(
    name="policies",
    version=1,
    title="Policies",
    view="permalinks",
    reads=(Reads.LINKS, Reads.ASKED),
    verdicts=VERDICTS,
    kinds=(REDIRECT_LOST,),
    columns=(
        Column("policy", "Policy", Cell.LEFT_NOTE),
        Column("source", "At the source", Cell.LEFT),
        Column("destination", "At the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What changed", Cell.RIGHT_NOTE),
    ),
    judge=judge,
    asks=asks,
)
