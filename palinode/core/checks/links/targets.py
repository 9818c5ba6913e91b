"""What the addresses answer to which the pages of one side link, redirects followed."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import IntEnum
from functools import cached_property

import numpy as np

from palinode.core import address as addresses
from palinode.core import hops, page
from palinode.core.answers import NEVER_ASKED
from palinode.core.columns import find
from palinode.core.fields import FILE_PLACES, Place
from palinode.core.links import Links, Referring
from palinode.core.rule import Rule

LINKED = frozenset(
    {
        *FILE_PLACES,
        Place.LINK,
        Place.TEMPLATE_LINK,
        Place.FRAME,
        Place.FORM,
        Place.TEMPLATE_FORM,
    }
)
"""Places at which something is loaded, or a reader may follow; what is told to machines alone is for other checks."""


class Whose(IntEnum):
    """On which side a linked address lies."""

    OURS = 0
    OTHER_SIDE = 1
    """On the other side's hosts, which are none of this one's."""
    OTHER_SITE = 2


class State(IntEnum):
    """What an address answers in the end."""

    ANSWERS = 0
    BROKEN = 1
    UNKNOWN = 2
    """Nobody asked, or the answer says nothing of the page."""


@dataclass(frozen=True)
class Targets:
    """The addresses to which the pages of a side link, by their numbers (core/links.py)."""

    links: Links
    referring: Referring
    number: np.ndarray
    """int64 (t,): those that are linked, ascending; the other arrays and lists are of the same length."""
    asked: np.ndarray
    """int64: number of the answer to each, which may be that of its temporary form; -1 where nobody asked."""
    text: list[str]
    """In their final form."""
    ident: np.ndarray
    """int64: of these texts."""
    whose: np.ndarray
    """int8"""
    state: np.ndarray
    """int8"""
    status: np.ndarray
    """int16: what it answers itself; -1 for nothing, NEVER_ASKED where nobody asked."""
    hops: np.ndarray
    """int16: redirects to its end."""
    end: np.ndarray
    """int64: number of the answer at its end; -1 where nobody asked."""

    @classmethod
    def of(cls, links: Links, ours: Sequence[str], others: Sequence[str], rule: Rule | None = None) -> "Targets":
        """Return the targets of a side, given the home pages of its hosts, and those of the other side's.

        ``rule`` is that of the move, if this is the destination: a copy may be reached at a temporary address.
        """
        referring = links.by_target(LINKED)
        number = np.flatnonzero(np.diff(referring.starts))
        text, n = links.texts(number), len(links.ident)
        asked = np.where(number < n, number, -1)
        ident = np.concatenate([links.ident, links.elsewhere])[number]
        if rule and rule.forms:
            asked = np.maximum(asked, links.find(addresses.idents([rule.reached(one) for one in text])))
            text = [rule.forms.final_of(one) for one in text]
            ident = addresses.idents(text)
        ends = hops.follow(links, asked)
        statuses = np.append(links.status, NEVER_ASKED)
        state = _states(statuses[ends.row])
        state[ends.loops] = State.BROKEN
        return cls(
            links=links,
            referring=referring,
            number=number,
            asked=asked,
            text=text,
            ident=ident,
            whose=_whose(text, ours, others),
            state=state,
            status=statuses[asked],
            hops=ends.hops,
            end=ends.row,
        )

    @cached_property
    def pages(self) -> np.ndarray:
        """int64 (t,): how many pages link to each."""
        found: np.ndarray = self.referring.pages[self.number]
        return found

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the place of each identity among these, -1 where it is not linked; shape as ``idents``."""
        order = np.argsort(self.ident)
        at = find(self.ident[order], idents)
        found: np.ndarray = np.where(at >= 0, np.append(order, -1)[at], -1)
        return found

    @cached_property
    def reasons(self) -> dict[int, str]:
        """Why those were not fetched that were asked, by their places."""
        silent = np.flatnonzero((self.status == -1) & (self.asked >= 0))
        return dict(zip(silent.tolist(), self.links.reasons(self.asked[silent]), strict=True))

    @cached_property
    def end_ident(self) -> np.ndarray:
        """int64 (t,): identity of the answer at the end, as it was asked; 0 where nobody asked."""
        found: np.ndarray = np.append(self.links.ident, 0)[self.end]
        return found


def _states(status: np.ndarray) -> np.ndarray:
    state = np.full(len(status), State.UNKNOWN, np.int8)
    state[(status >= 200) & (status < 300)] = State.ANSWERS
    closed = np.isin(status, list(page.CLOSED | page.PASSING))
    state[(status >= 400) & ~closed] = State.BROKEN
    return state


def _whose(text: list[str], ours: Sequence[str], others: Sequence[str]) -> np.ndarray:
    whose = np.full(len(text), Whose.OTHER_SITE, np.int8)
    mine = tuple(beginning for base in ours for beginning in addresses.beginnings(addresses.split(base).host))
    theirs = tuple(beginning for base in others for beginning in addresses.beginnings(addresses.split(base).host))
    whose[[one.startswith(theirs) for one in text] if theirs else []] = Whose.OTHER_SIDE
    whose[[one.startswith(mine) for one in text]] = Whose.OURS
    return whose
