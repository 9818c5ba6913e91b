"""Holds two captures against each other: pairs, their parts, their fates, the ledger."""

from collections.abc import Collection, Set
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core import content, fates, hops, ledger, wording
from palinode.core.columns import LeftColumns, PageDetails, SideColumns
from palinode.core.fates import AddressChange, Asked, Fate, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.ledger import Ledger
from palinode.core.page import CLOSED, PASSING
from palinode.core.recognition.kind import Kind
from palinode.core.rule import Rule


@dataclass(frozen=True)
class Retired:
    """What a person retired: single addresses (identities) and whole sections."""

    idents: Set[int] = frozenset()
    sections: Set[str] = frozenset()


@dataclass(frozen=True)
class _Pairs:
    """The parts of n left pages, kept apart; arrays of shape (n,)."""

    partner: np.ndarray
    asked: np.ndarray
    found_by: np.ndarray
    planned: np.ndarray
    """bool: the rule changes the path or the query."""
    redirect: np.ndarray
    hops: np.ndarray
    at: np.ndarray
    """Row of the right side that says what was asked and how it ended; -1 for none."""


@dataclass(frozen=True)
class Paired:
    """The left pages of a comparison with their partners, before what differs is told.

    ``texts``, ``paths``, ``expected`` and the arrays have length n; ``new`` are rows of the right side.
    """

    left: LeftColumns
    right: SideColumns
    rows: np.ndarray
    texts: list[str]
    paths: list[str]
    expected: list[str]
    pairs: _Pairs
    mapped: np.ndarray
    """What the rule makes of each of ``left.targets``, as identities."""
    unlike: np.ndarray
    """bool: a compared field differs."""
    new: np.ndarray

    @property
    def elsewhere(self) -> np.ndarray:
        """bool of shape (n,): a partner was found, but not where the rule expects it."""
        rows: np.ndarray = (self.pairs.partner >= 0) & (self.pairs.found_by != FoundBy.RULE)
        return rows

    @property
    def told_left(self) -> np.ndarray:
        """Identities of the left pages whose details are wanted: those unlike their partners."""
        idents: np.ndarray = self.left.ident[self.rows[self.unlike]]
        return idents

    @property
    def told_right(self) -> np.ndarray:
        """Identities of the right pages whose details are wanted: unlike their partners, found elsewhere, or new."""
        rows = np.concatenate([self.pairs.partner[self.unlike | self.elsewhere], self.new])
        idents: np.ndarray = self.right.ident[np.unique(rows)]
        return idents


def pair(left: LeftColumns, right: SideColumns, rule: Rule) -> Paired:
    """Find the partner of each left page; the rule says which left address is expected where."""
    rows = np.flatnonzero(left.is_page)
    texts = [left.text[row] for row in rows.tolist()]
    expected = rule.expect_many(texts)
    expected_ident = addresses.idents(expected)
    paths = [text[text.find("/", 8) :] for text in texts]
    pairs = _pair(right, paths, expected, expected_ident, left.recognised[rows])
    mapped = _mapped(left, rule, rows, expected_ident)
    unlike = content.unlike(left, right, rows, pairs.partner, mapped)
    return Paired(left, right, rows, texts, paths, expected, pairs, mapped, unlike, _new(right, pairs))


def judge(
    paired: Paired, left: PageDetails, right: PageDetails, retired: Retired, apart: Collection[Field] = ()
) -> Ledger:
    """Tell what differs, derive the fates, and arrange the ledger.

    ``left`` and ``right`` hold the details of the pages that ``paired`` names: ``told_left``, ``told_right``;
    the fields ``apart`` are not compared.
    """
    pairs = paired.pairs
    at = np.flatnonzero(paired.unlike)
    left_told, right_told = left.of(paired.told_left), right.of(paired.right.ident[pairs.partner[at]])
    changed = np.zeros(len(paired.rows), np.int32)
    changed[at] = content.changes(paired.left, paired.rows[at], paired.mapped, left_told, right_told, apart)
    differences = {}
    for i, n in zip(at.tolist(), range(len(at)), strict=True):
        one = _figures(left_told, n, paired.left.noindex[paired.rows[i]])
        other = _figures(right_told, n, paired.right.noindex[pairs.partner[i]])
        differences[i] = wording.differences(int(changed[i]), one, other)
    change, right_texts = _addresses(paired, right)
    is_retired = _is_retired(paired.left.ident[paired.rows], paired.texts, retired)
    fate = fates.judge(is_retired, pairs.partner, pairs.asked, change, changed)
    details = _details(paired, change, fate, differences)
    return _rows(paired, change, changed, fate, details, right_texts, right)


def _is_retired(ident: np.ndarray, texts: list[str], retired: Retired) -> np.ndarray:
    found = np.isin(ident, np.array(sorted(retired.idents), np.int64))
    if retired.sections:
        found |= np.array([addresses.section(text) in retired.sections for text in texts], bool)
    return found


def _mapped(left: LeftColumns, rule: Rule, rows: np.ndarray, expected: np.ndarray) -> np.ndarray:
    """Return what the rule makes of each target of the left side, as identities.

    For pages, which stand in ``rows``, it is known already: ``expected``, in the same order.
    """
    others = np.flatnonzero(~left.is_page)
    texts = [left.text[other] for other in others.tolist()] + left.elsewhere
    to = np.empty(len(left.ident) + len(left.elsewhere), np.int64)
    to[rows] = expected
    to[np.concatenate([others, np.arange(len(left.ident), len(to))])] = addresses.idents(rule.expect_many(texts))
    mapped: np.ndarray = to[left.refers_to]
    return mapped


def _addresses(paired: Paired, right: PageDetails) -> tuple[np.ndarray, list[str]]:
    """Return an AddressChange for each left page, and the address of its partner or the one expected.

    ``right`` has the texts of the pages found elsewhere, which are few; any other partner stands at the
    address that the rule expects.
    """
    pairs, texts = paired.pairs, paired.expected.copy()
    change = np.where((pairs.found_by == FoundBy.RULE) & pairs.planned, AddressChange.PLANNED, AddressChange.NONE)
    at = np.flatnonzero(paired.elsewhere)
    for i, text in zip(at.tolist(), right.of(paired.right.ident[pairs.partner[at]]).text, strict=True):
        if text[text.find("/", 8) :] != paired.paths[i] or pairs.found_by[i] == FoundBy.OLD_PATH:
            change[i] = AddressChange.PLANNED if text == paired.expected[i] else AddressChange.UNPLANNED
        texts[i] = text
    return change, texts


def _asked(side: SideColumns, row: np.ndarray, ends: hops.Ends, home: np.ndarray, known_as: np.ndarray) -> np.ndarray:
    """Return an Asked for each row that was looked up and followed to its end.

    ``known_as`` is what the left page was recognised as: a page that is the same on both sides is no doubt.
    """
    end = ends.row
    kind = np.append(side.recognised, Kind.NONE)[end]
    never = np.append(side.status, -1)
    status = never[end]
    is_page = np.append(side.is_page, False)[end]
    return np.select(
        [
            row < 0,
            ends.loops,
            end < 0,
            home & (ends.hops > 0),
            is_page & (kind == Kind.NOT_FOUND) & (kind != known_as),
            is_page & (kind == Kind.HOME) & (kind != known_as),
            is_page & (kind != Kind.NONE) & (kind != known_as),
            is_page,
            status == -1,
            np.isin(status, list(PASSING)),
            np.isin(status, list(CLOSED)),
            status == 200,
            status >= 500,
        ],
        [
            Asked.NEVER,
            Asked.LOOP,
            Asked.AWAY,
            Asked.HOME,
            Asked.NOT_FOUND,
            Asked.HOME,
            Asked.NOT_TRUSTED,
            Asked.PAGE,
            Asked.NOT_FETCHED,
            Asked.PASSING,
            Asked.CLOSED,
            Asked.NO_PAGE,
            Asked.FAILED,
        ],
        Asked.NOT_FOUND,
    )


def _look(
    side: SideColumns, idents: np.ndarray, is_home: np.ndarray, known_as: np.ndarray
) -> tuple[np.ndarray, hops.Ends, np.ndarray]:
    """Look addresses up in a side and follow their redirects; the home page is no page's redirect."""
    row = side.find(idents)
    ends = hops.follow(side, row)
    home = side.find(np.array([addresses.ident(side.home)]))
    return row, ends, _asked(side, row, ends, (ends.row == home) & (home >= 0) & ~is_home, known_as)


def _pair(
    right: SideColumns, path: list[str], expected: list[str], expected_ident: np.ndarray, known_as: np.ndarray
) -> _Pairs:
    host = addresses.split(right.home)
    is_home = np.array([text == "/" for text in path], bool)
    row, ends, asked = _look(right, expected_ident, is_home, known_as)
    partner = np.where(asked == Asked.PAGE, ends.row, -1)
    found_by = np.where(partner < 0, FoundBy.NOTHING, np.where(ends.hops > 0, FoundBy.REDIRECT, FoundBy.RULE))
    redirect = np.where(
        found_by == FoundBy.REDIRECT, np.where(ends.permanent, Redirect.PERMANENT, Redirect.TEMPORARY), Redirect.NONE
    )
    hop_count, at = ends.hops.copy(), np.where(ends.row >= 0, ends.row, row)

    # Where the rule changes the path, the old path at the destination says whether it redirects.
    planned = np.array([a != b[b.find("/", 8) :] for a, b in zip(path, expected, strict=True)], bool)
    old = np.flatnonzero(planned)
    if len(old):
        old_texts = [f"{host.scheme}://{host.host}{path[i]}" for i in old]
        _old_row, old_ends, old_asked = _look(right, addresses.idents(old_texts), is_home[old], known_as[old])
        leads = (old_asked == Asked.PAGE) & (old_ends.hops > 0)
        same = leads & (old_ends.row == partner[old])
        kind = np.where(old_ends.permanent, Redirect.PERMANENT, Redirect.TEMPORARY)
        told = np.select(
            [same, leads, old_asked == Asked.HOME, np.isin(old_asked, [Asked.NEVER, Asked.NOT_FETCHED])],
            [kind, Redirect.ELSEWHERE, Redirect.ELSEWHERE, Redirect.NOT_ASKED],
            Redirect.MISSING,
        )
        has = partner[old] >= 0
        redirect[old] = np.where(has, told, redirect[old])
        hop_count[old] = np.where(has & same, old_ends.hops, hop_count[old])
        elsewhere = ~has & (old_asked == Asked.PAGE)
        found = old[elsewhere]
        partner[found] = old_ends.row[elsewhere]
        at[found] = old_ends.row[elsewhere]
        found_by[found] = np.where(leads[elsewhere], FoundBy.REDIRECT, FoundBy.OLD_PATH)
        redirect[found] = np.where(leads[elsewhere], kind[elsewhere], Redirect.NONE)
        hop_count[found] = old_ends.hops[elsewhere]
    return _Pairs(partner, asked, found_by, planned, redirect, hop_count, at)


def _new(right: SideColumns, pairs: _Pairs) -> np.ndarray:
    """Return the rows of right pages that are nobody's partner, and do not answer in a page's place."""
    taken = np.zeros(len(right.ident) + 1, bool)
    taken[pairs.partner] = True
    taken[pairs.at[pairs.asked == Asked.NOT_TRUSTED]] = True
    taken[:-1] |= np.isin(right.recognised, [Kind.NOT_FOUND, Kind.HOME])
    return np.flatnonzero(right.is_page & ~taken[:-1])


def _rows(
    paired: Paired,
    change: np.ndarray,
    changed: np.ndarray,
    fate: np.ndarray,
    details: list[str],
    right_texts: list[str],
    told: PageDetails,
) -> Ledger:
    left, right, rows, pairs, new = paired.left, paired.right, paired.rows, paired.pairs, paired.new
    n, m = len(rows), len(new)
    all_fates = np.concatenate([fate, np.full(m, Fate.NEW, np.int16)])
    new_told = told.of(right.ident[new])
    right_texts = right_texts + new_told.text
    titles = [left.title[row] for row in rows.tolist()] + new_told.title
    nothing = [""] * m
    order, place, section, section_names = ledger.arrange(
        all_fates, paired.paths + [text[text.find("/", 8) :] for text in right_texts[n:]]
    )

    def pick(array: np.ndarray, filler: int = 0) -> np.ndarray:
        picked: np.ndarray = np.concatenate([array, np.full(m, filler)])[order]
        return picked

    def words(column: list[str]) -> list[str]:
        return [column[row] for row in order.tolist()]

    status = np.append(right.status, -1)
    return Ledger(
        fate=all_fates[order],
        place=place[order],
        section=section[order],
        section_names=section_names,
        left=pick(left.ident[rows]),
        right=np.concatenate(
            [np.where(pairs.partner >= 0, np.append(right.ident, 0)[pairs.partner], 0), right.ident[new]]
        )[order],
        left_address=words(paired.texts + nothing),
        left_title=words(titles),
        right_address=words(right_texts),
        detail=words(details + nothing),
        found_by=pick(pairs.found_by),
        certainty=pick(np.where(pairs.partner >= 0, 1.0, 0.0)),
        address_change=pick(change),
        content_change=pick(changed),
        redirect=pick(pairs.redirect),
        asked=pick(pairs.asked),
        left_status=pick(left.status[rows], -1),
        right_status=np.concatenate([status[pairs.at], right.status[new]])[order],
        recognised=np.concatenate([np.append(right.recognised, Kind.NONE)[pairs.at], right.recognised[new]])[order],
        shut_out=np.concatenate(
            [np.append(right.noindex, False)[pairs.partner] & ~left.noindex[rows], right.noindex[new]]
        )[order],
    )


def _details(paired: Paired, change: np.ndarray, fate: np.ndarray, differences: dict[int, str]) -> list[str]:
    """Return what the ledger says about each left page, in a few words."""
    details = [""] * len(fate)
    pairs, side = paired.pairs, paired.right
    limits = "; ".join(side.limits)
    status, recognised = np.append(side.status, -1), np.append(side.recognised, Kind.NONE)
    for i in np.flatnonzero((fate != Fate.KEPT) | (change != 0)).tolist():
        if pairs.partner[i] < 0:
            at = int(pairs.at[i])
            asked = Asked(int(pairs.asked[i]))
            kind = Kind(int(recognised[at]))
            details[i] = wording.not_there(asked, int(status[at]), side.reason.get(at, ""), limits, kind)
            continue
        said = []
        if change[i]:
            found_by, redirect = FoundBy(int(pairs.found_by[i])), Redirect(int(pairs.redirect[i]))
            said.append(wording.moved(found_by, redirect, int(pairs.hops[i])))
        if differences.get(i):
            said.append(differences[i])
        details[i] = "; ".join(said)
    return details


def _figures(details: PageDetails, row: int, noindex: np.bool_) -> wording.Figures:
    return wording.Figures(
        title=details.title[row],
        noindex=bool(noindex),
        words=int(details.words[row]),
        images=int(details.images[row]),
        links=int(details.links[row]),
        forms=int(details.forms[row]),
    )
