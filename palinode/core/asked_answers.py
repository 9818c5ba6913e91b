"""What a side answered when checks asked it, redirects included."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import NamedTuple

from palinode.core.page import REDIRECTS

_HOPS = 10


class AskedAnswer(NamedTuple):
    """What one address gave to a plain GET."""

    status: int
    """-1 where nothing was fetched."""
    to: str = ""
    """Where it redirects to; empty for nowhere."""


@dataclass(frozen=True)
class Hops:
    """An address followed to its end."""

    addresses: tuple[str, ...]
    """The one that was asked first, then where each redirect leads."""
    statuses: tuple[int, ...]
    """What each gave; one fewer where nobody asked the last."""

    @property
    def end(self) -> str:
        """Where it ends."""
        return self.addresses[-1]

    @property
    def status(self) -> int:
        """What the end gave; 0 where nobody asked it, -1 where nothing was fetched."""
        return self.statuses[-1] if len(self.statuses) == len(self.addresses) else 0

    @property
    def count(self) -> int:
        """How many redirects it took."""
        return len(self.addresses) - 1


def follow(answers: Mapping[str, AskedAnswer], address: str) -> Hops | None:
    """Return where an address leads; None if it was not asked."""
    if address not in answers:
        return None
    passed, statuses = [address], [answers[address].status]
    while statuses[-1] in REDIRECTS and len(passed) <= _HOPS and (to := answers[passed[-1]].to):
        passed.append(to)
        if to not in answers or to in passed[:-1]:
            break
        statuses.append(answers[to].status)
    return Hops(tuple(passed), tuple(statuses))
