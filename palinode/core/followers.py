"""What only follows: findings that are there because another one is. They do not count by themselves.

A list page that no longer names a lost page, a link that skips it, the page number that fell away at the end of a list,
a count that is one lower; and what another check found first of the same subject.
"""

import re
from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core import list_page
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.differences import CAME, Difference
from palinode.core.fields import Field
from palinode.core.findings import Findings, subject
from palinode.core.ledger import Ledger
from palinode.core.list_page import ListPage

_LOST = (kinds.LOST, kinds.STOOD_IN)
_NUMBER = re.compile(r"\d{1,15}")
_SEPARATOR = re.compile(r"\s+[-|–—·»:]\s+")
_SHORTEST = 3
_LISTED = (Field.TEXT, Field.HEADINGS, Field.LINKS, Field.IMAGES)
"""Fields of a list that change where an entry goes."""
_MOST_ROWS = 50
"""Pages of a difference that are looked at for what they follow from."""


def find(ledger: Ledger, findings: Findings) -> np.ndarray:
    """Return int64 (n,): for each of n findings of all checks the place of the one that it follows from, -1 for none.

    What follows from a follower follows from that one's owner.
    """
    follows = np.full(len(findings), -1, np.int64)
    lost = _lost(findings)
    if lost:
        _page_numbers(ledger, findings, lost, follows)
        links = _links(ledger, findings, lost, follows)
        _template_links(ledger, findings, lost, follows)
        if links:
            _words(ledger, findings, lost, links, follows)
            _lists(ledger, findings, links, follows)
    _same_faults(findings, follows)
    for _ in range(3):
        owner = follows[follows]
        further = (follows >= 0) & (owner >= 0)
        follows[further] = owner[further]
    return follows


def _lost(findings: Findings) -> dict[int, int]:
    """Return the identity of each lost page, and the place of the finding that says so."""
    at = np.flatnonzero(findings.of(*_LOST) & (findings.row >= 0))
    return dict(zip(findings.subject[at].tolist(), at.tolist(), strict=True))


def _same_faults(findings: Findings, follows: np.ndarray) -> None:
    """Let findings of one fault of one subject follow from the first of them, in the order of the checks."""
    faulty = np.array([bool(kind.fault) for kind in findings.kinds], bool)
    at = np.flatnonzero(faulty[findings.kind]) if len(findings) else np.zeros(0, np.int64)
    owners: dict[tuple[str, int], int] = {}
    for place, told in zip(at.tolist(), findings.subject[at].tolist(), strict=True):
        owner = owners.setdefault((findings.kind_of(place).fault, told), place)
        if owner != place and findings.check[owner] != findings.check[place] and follows[place] < 0:
            follows[place] = owner


def _links(ledger: Ledger, findings: Findings, lost: dict[int, int], follows: np.ndarray) -> dict[int, list[int]]:
    """Let links to lost pages that are gone, or lead elsewhere, follow from these.

    Return the rows of such links, each with the places of those that say that the pages are lost.
    """
    places, found = dict(_places(findings, kinds.LINKS)), defaultdict[int, list[int]](list)
    for one in ledger.differences.told:
        if one.field != Field.LINKS or not one.fewer or (owner := lost.get(addresses.ident(one.about))) is None:
            continue
        for row in one.at.tolist():
            found[row].append(owner)
        place = places.get(subject(one.about, one.locus))
        if place is not None and not _leads_back(one, ledger.right_address[int(one.at[0])]):
            follows[place] = owner
    return found


def _leads_back(one: Difference, page: str) -> bool:
    """Whether a link leads to the same path of another host than that of its ``page`` (address).

    It was not replaced, whatever became of the page to which it leads.
    """
    before, _, after = one.looks.partition(" ")
    alike = addresses.path(before) == addresses.path(after)
    return bool(after) and alike and addresses.origin(after) != addresses.origin(page)


def _template_links(ledger: Ledger, findings: Findings, lost: dict[int, int], follows: np.ndarray) -> None:
    """Let menus that no longer name a lost page follow from it."""
    paths = {addresses.path(ledger.right_address[int(findings.row[place])]): place for place in lost.values()}
    for place, one in findings.single.items():
        if one.kind == kinds.TEMPLATE_LINK and one.detail.endswith("is gone"):
            follows[place] = paths.get(one.locus.removeprefix("link "), -1)


def _page_numbers(ledger: Ledger, findings: Findings, lost: dict[int, int], follows: np.ndarray) -> None:
    """Let the last numbers of a list that fell away follow from a lost page of its section."""
    last: dict[str, int] = defaultdict(int)
    there = np.flatnonzero((ledger.left != 0) & ~np.isin(ledger.left, np.array(list(lost), np.int64)))
    for row in there.tolist():
        if page := list_page.of(ledger.left_address[row]):
            last[page.list] = max(last[page.list], page.number)
    owners: dict[int, int] = {}
    numbered = []
    for place in lost.values():
        row = int(findings.row[place])
        if page := list_page.of(ledger.left_address[row]):
            numbered.append((place, row, page))
        else:
            owners.setdefault(int(ledger.section[row]), place)
    for place, row, page in numbered:
        # What is left of the list ends before it.
        if 0 < last[page.list] < page.number:
            follows[place] = owners.get(int(ledger.section[row]), -1)


def _words(
    ledger: Ledger, findings: Findings, lost: dict[int, int], links: dict[int, list[int]], follows: np.ndarray
) -> None:
    """Let what pages say of lost pages that they no longer lead to (``links``) follow from these."""
    texts = {kind: dict(_places(findings, kind)) for kind in (kinds.TEXT, kinds.HEADINGS)}
    for one in ledger.differences.told:
        if one.field not in (Field.TEXT, Field.HEADINGS):
            continue
        place = texts[kinds.OF_FIELD[one.field]].get(subject(one.about, one.locus), -1)
        rows = one.at[:_MOST_ROWS].tolist()
        if place < 0 or not all(row in links for row in rows):
            continue
        of_all = set.intersection(*(set(links[row]) for row in rows))
        lost_rows = {owner: int(findings.row[owner]) for owner in sorted(of_all)}
        called = {owner: _names(ledger.left_title[row], ledger.left_address[row]) for owner, row in lost_rows.items()}
        named = [lost.get(ident, -1) for ident in addresses.idents(sorted(one.named)).tolist()]
        owners = [owner for owner in named if owner in of_all]
        # Its words are those of the link that is gone; or it is named otherwise.
        follows[place] = owners[0] if owners and len(owners) == len(named) else _owner(one, called)


def _lists(ledger: Ledger, findings: Findings, links: dict[int, list[int]], follows: np.ndarray) -> None:
    """Let follow what lists say less, of lost pages that they no longer lead to (``links``), and what moved up in them.

    A list names lost pages of its own folder, or several, or has pages by numbers; after the first of these that
    misses one, all that the others show is another part of the list.
    """
    shorter, moved_up = _shorter(ledger, findings, links)
    places = {field: dict(_places(findings, kinds.OF_FIELD[field])) for field in _LISTED}
    for one in ledger.differences.told:
        place = places.get(one.field, {}).get(subject(one.about, one.locus), -1)
        rows = one.at.tolist()
        if place < 0 or follows[place] >= 0 or not rows:
            continue
        mark = " " if one.field is Field.LINKS else "\n"
        less = bool(one.fewer or one.field in (Field.TEXT, Field.HEADINGS)) and not one.looks.partition(mark)[2]
        if all(row in moved_up or (less and row in shorter) for row in rows):
            follows[place] = moved_up.get(rows[0], shorter.get(rows[0], -1))
        elif one.field is Field.LINKS and one.locus == CAME and all(row in links for row in rows):
            # It leads to what stands there in the place of the lost page.
            follows[place] = links[rows[0]][0]
    for place in np.flatnonzero(findings.of(*_LOST) & (findings.row >= 0) & (follows < 0)).tolist():
        # The last page of a list that is shorter now.
        owner = moved_up.get(int(findings.row[place]), place)
        follows[place] = -1 if owner == place else owner
    for field in _LISTED:
        at = np.flatnonzero(findings.of(kinds.OF_FIELD[field]) & (findings.row >= 0) & (follows < 0))
        for place in at.tolist():
            follows[place] = moved_up.get(int(findings.row[place]), -1)


def _shorter(ledger: Ledger, findings: Findings, links: dict[int, list[int]]) -> tuple[dict[int, int], dict[int, int]]:
    """Return the rows of lists that miss a lost page, and of those whose entries moved up, each with its owner."""
    shorter: dict[int, int] = {}
    first: dict[str, tuple[int, int]] = {}
    paths = {row: addresses.path(ledger.left_address[row]) for row in np.flatnonzero(ledger.left != 0).tolist()}
    pages = {row: page for row, path in paths.items() if (page := list_page.of(path))}
    lists = {page.first: page.list for page in pages.values()}
    for row, path in paths.items():
        if row not in pages and path in lists:
            pages[row] = ListPage(lists[path], path, 1)
    named = {owner: paths[int(findings.row[owner])] for owners in links.values() for owner in owners}
    for row, owners in links.items():
        below = any(named[owner].startswith(paths[row]) for owner in owners)
        if row in pages or len(set(owners)) > 1 or below:
            shorter[row] = owners[0]
        if row in pages:
            misses = pages[row].number, owners[0]
            first[pages[row].list] = min(first.get(pages[row].list, misses), misses)
    moved_up = {
        row: first[page.list][1]
        for row, page in pages.items()
        if page.list in first and page.number >= first[page.list][0]
    }
    return shorter, moved_up


def _places(findings: Findings, kind: Kind) -> Iterator[tuple[int, int]]:
    at = np.flatnonzero(findings.of(kind))
    yield from zip(findings.subject[at].tolist(), at.tolist(), strict=True)


def _names(title: str, address: str) -> list[str]:
    """Return what a page is called where others name it: its title, without that of the site, or its path."""
    names = (title, _SEPARATOR.split(title)[0], addresses.path(address))
    return [name for name in dict.fromkeys(names) if len(name) >= _SHORTEST]


def _owner(one: Difference, called: dict[int, list[str]]) -> int:
    """Return the lost page from which it follows that a block changed, -1 for none; ``called`` are their names."""
    before, _, after = one.looks.partition("\n")
    for owner, names in called.items():
        for name in names:
            if not after and (name in before or (len(before) >= _SHORTEST and before in name)):
                return owner
            if after and before == name:
                # Another stands in its place: the next one, the one before.
                return owner
            if after and name in before and before.replace(name, " ").split() == after.split():
                return owner
    return next(iter(called), -1) if _counts_fewer(before, after, len(called)) else -1


def _counts_fewer(before: str, after: str, number: int) -> bool:
    """Whether one number in a text is lower by as many, and nothing else changed."""
    if not after or _NUMBER.sub("0", before) != _NUMBER.sub("0", after):
        return False
    pairs = zip(_NUMBER.findall(before), _NUMBER.findall(after), strict=True)
    return [int(a) - int(b) for a, b in pairs if a != b] == [number]
