"""Requests that a check wants asked anew, and the variants by which they are told apart."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from palinode.core.scope import AskedFor

METHODS = ("GET", "HEAD")
"""Those that change nothing at the host (RFC 9110 section 9.2.1)."""
MOST = 5_000
"""Requests of one asking of a side."""
MOST_REPEATS = 20


@dataclass(frozen=True)
class Ask:
    """One request."""

    address: str
    method: str = "GET"
    fields: tuple[tuple[str, str], ...] = ()
    """Further header fields: name and value."""
    repeats: int = 1
    """How often it is asked, say to see whether the answers differ."""
    asked_for: AskedFor = AskedFor.PAGE
    """Decides how the answer is read."""


@dataclass(frozen=True)
class Variant:
    """How an address is asked, where that is not a plain GET, or not the first one."""

    method: str = "GET"
    fields: tuple[tuple[str, str], ...] = ()
    time: int = 1
    """The first, the second … time."""

    @property
    def is_plain(self) -> bool:
        """It is the plain GET, which has no number of its own."""
        return self == Variant()

    @property
    def words(self) -> str:
        """How it differs from the plain GET, for a person; empty if it does not."""
        told = [] if self.method == "GET" else [self.method]
        told += [f"{name}: {value}" for name, value in self.fields]
        return "; ".join([*told, f"time {self.time}"] if self.time > 1 else told)

    def plain(self) -> dict[str, Any]:
        """Return it as it is kept."""
        return {"method": self.method, "fields": [list(one) for one in self.fields], "time": self.time}

    @classmethod
    def read(cls, kept: dict[str, Any]) -> "Variant":
        """Read a variant from what :meth:`plain` returned."""
        return cls(kept["method"], tuple((name, value) for name, value in kept["fields"]), kept["time"])


@dataclass(frozen=True)
class Asking:
    """All that is asked of one side at once."""

    variants: tuple[Variant, ...]
    """Those besides the plain GET; the first has the number 1."""
    requests: tuple[tuple[str, AskedFor, int], ...]
    """Address, what it is asked for, and the number of its variant; each once."""


def asking(asks: Iterable[Ask]) -> Asking:
    """Return the requests of several checks to a side, each once.

    Raises ValueError for a method that may change something, too many repeats, or too many requests.
    """
    numbers: dict[Variant, int] = {Variant(): 0}
    requests: dict[tuple[str, int], AskedFor] = {}
    for one in asks:
        if one.method not in METHODS:
            raise ValueError(f"{one.method} may change something at the host; ask by {' or '.join(METHODS)}")
        if not 1 <= one.repeats <= MOST_REPEATS:
            raise ValueError(f"{one.address} would be asked {one.repeats} times; {MOST_REPEATS} are the most")
        for time in range(1, one.repeats + 1):
            variant = Variant(one.method, one.fields, time)
            number = numbers.setdefault(variant, len(numbers))
            requests.setdefault((one.address, number), one.asked_for)
    if len(requests) > MOST:
        raise ValueError(f"{len(requests):,} requests at once; {MOST:,} are the most")
    return Asking(
        tuple(variant for variant in numbers if not variant.is_plain),
        tuple((address, asked_for, number) for (address, number), asked_for in requests.items()),
    )
