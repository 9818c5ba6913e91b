"""What a check looks at: both sides as they were loaded, the address rule, pairs, and what earlier checks gave."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from palinode.core.answers import FileAnswers
from palinode.core.asked_answers import AskedAnswer
from palinode.core.columns import find
from palinode.core.dumps.database import Database
from palinode.core.findings import Finding
from palinode.core.fragments import Fragments
from palinode.core.hot_link import HotLink
from palinode.core.ledger import Ledger
from palinode.core.leftovers.named_identifiers import NamedIdentifier
from palinode.core.leftovers.served import ServedLeftovers
from palinode.core.leftovers.stored import StoredLeftovers
from palinode.core.links import Links
from palinode.core.listings.listing import Listing
from palinode.core.platforms.items import SiteItems
from palinode.core.robots import RobotsFile
from palinode.core.rule import Rule

NO_DAY = 0


@dataclass(frozen=True)
class KnownAddresses:
    """How the n addresses of a capture became known; arrays of shape (n,)."""

    ident: np.ndarray
    """int64, ascending."""
    known: np.ndarray
    """int16: bits of core/discovery.py."""
    modified: np.ndarray | None
    """int32: the day on which a sitemap says that a page was last modified, in days from 1970 on; NO_DAY for none.
    None where a sitemap cannot be read any more."""

    def find(self, idents: np.ndarray) -> np.ndarray:
        """Return the row of each identity, -1 for none."""
        return find(self.ident, idents)


@dataclass(frozen=True)
class Side:
    """One side, with what the check reads of it; what it does not read is not loaded."""

    bases: tuple[str, ...]
    """Home page's address of each of its hosts, the main one first."""
    robots: tuple[RobotsFile, ...] | None = None
    files: FileAnswers | None = None
    links: Links | None = None
    fragments: Fragments | None = None
    known: KnownAddresses | None = None
    items: tuple[SiteItems, ...] | None = None
    database: Database | None = None
    listing: Listing | None = None
    leftovers: ServedLeftovers | None = None
    stored_leftovers: StoredLeftovers | None = None
    identifiers: Sequence[NamedIdentifier] | None = None
    asked: Mapping[str, AskedAnswer] | None = None
    """By address."""
    hot_links: Sequence[HotLink] | None = None


@dataclass(frozen=True)
class Looked:
    """What one check looks at."""

    left: Side
    right: Side
    rule: Rule
    agent: str
    """Name of the user agent with which sites are asked."""
    pages: Ledger | None = None
    """The rows of pages, for checks that read pairs."""
    shared: Sequence[Finding] = ()
    """What many pages share, for the check of pages."""
    options: Any = None
    """As the check declares them; None for a check without, and for its defaults."""
    gives: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    """By the names of earlier checks."""
