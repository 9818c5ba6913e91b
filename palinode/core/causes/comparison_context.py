"""What is known beside a ledger: other captures, caches, how many pages there are."""

from collections.abc import Set
from dataclasses import dataclass

from palinode.core.pairing.parts import NO_PARTS, Parts


@dataclass(frozen=True)
class Later:
    """What a capture of the source says that was made after the baseline."""

    when: str
    """Its day, in words."""
    altered: Set[int] = frozenset()
    """Identities of source pages that say by now what the destination says, and said something else before."""
    gone: Set[int] = frozenset()
    """Identities of source pages that are not there any more."""
    came: Set[int] = frozenset()
    """Identities, at the destination, of pages that the source has by now and had not before."""


@dataclass(frozen=True)
class Beside:
    """What causes may go by besides rows and findings."""

    later: Later | None = None
    older: Set[str] = frozenset()
    """Addresses of destination pages of which a cache gave an older copy than the server behind it."""
    older_share: float = 0.0
    """Of the pages that were asked past caches, how many gave another copy."""
    older_by: str = ""
    """For how long a cache may keep it, in words."""
    parts: Parts = NO_PARTS
    """Pages that were merged into others, and split."""


NOTHING_BESIDE = Beside()
