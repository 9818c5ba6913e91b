"""The check of policies: what becomes of an address written otherwise, on both sides: slash, www, http, letter case."""

import re
from collections.abc import Callable, Mapping, Sequence
from enum import Enum

import numpy as np

from palinode.core import address as addresses
from palinode.core import asked_answers
from palinode.core.asked_answers import Hops
from palinode.core.checks.ask import Ask
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome, Row, outcome
from palinode.core.checks.thread import Thread
from palinode.core.findings import Finding, columns
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
_LETTER = re.compile(r"[A-Za-z](?=[^/]*/?\Z)")


class _Becomes(Enum):
    """What becomes of an address that is written otherwise."""

    REDIRECTED = "redirected to the page"
    ANSWERS = "answers by itself"
    ELSEWHERE = "leads elsewhere"
    NOT_FOUND = "not found"
    SILENT = "not fetched"
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
"""Names to what writes the address of an inner page otherwise."""
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
        before, after = (
            _followed(side.asked or {}, *told[name]) for side, told in ((looked.left, left), (looked.right, right))
        )
        rows.append(_row(name, before, after, (left[name][1], right[name][1]), order))
        if rows[-1].verdict == _LOST:
            row = rows[-1]
            detail = f"{name}: {row.left} became {row.right}"
            found.append(Finding(REDIRECT_LOST, name, 1, row.left, row.right, detail, "", len(rows) - 1))
    return outcome(rows, columns(CHECK.kinds, [], found))


def _followed(
    answers: Mapping[str, asked_answers.AskedAnswer], address: str, page: str
) -> tuple[Hops | None, _Becomes | None]:
    """Return where a form leads, and what becomes of it; None for what nobody asked."""
    hops = asked_answers.follow(answers, address)
    if hops is None:
        return None, None
    if hops.status == 200:
        if not hops.count:
            return hops, _Becomes.ANSWERS
        return hops, _Becomes.REDIRECTED if hops.end in _ends(answers, page) else _Becomes.ELSEWHERE
    if hops.status in (404, 410):
        return hops, _Becomes.NOT_FOUND
    return hops, _Becomes.SILENT if hops.status == -1 else _Becomes.OTHER


def _ends(answers: Mapping[str, asked_answers.AskedAnswer], page: str) -> set[str]:
    """Return the page's own address, and where that leads now."""
    own = asked_answers.follow(answers, page)
    return {page, own.end} if own else {page}


def _row(
    name: str,
    before: tuple[Hops | None, _Becomes | None],
    after: tuple[Hops | None, _Becomes | None],
    pages: tuple[str, str],
    order: int,
) -> Row:
    (was, became), (now, becomes) = before, after
    left, right = (_said(one, page) if one else "not asked" for one, page in zip((was, now), pages, strict=True))
    if was is None or now is None or became is None or becomes is None:
        return Row(_UNKNOWN, left, right, name, "not asked on both sides", order=order)
    if became is _Becomes.SILENT is not becomes:
        return Row(_UNKNOWN, left, right, name, "the source did not answer", order=order)
    verdict, note = _SAME, ""
    if became is _Becomes.REDIRECTED and becomes is not _Becomes.REDIRECTED:
        verdict = _LOST
        note = "one page under two addresses" if becomes is _Becomes.ANSWERS else becomes.value
    elif became is not becomes:
        verdict, note = _ALTERED, f"{became.value} before"
    elif now.count > was.count:
        verdict, note = _MORE, f"{now.count} hops, {was.count} before"
    return Row(verdict, left, right, name, note, order=order)


def _said(hops: Hops, page: str) -> str:
    """Return where a form leads, and with which status; scheme and host are left out where they are the page's."""
    own = addresses.split(page)
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
