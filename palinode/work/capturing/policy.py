"""How a capture goes about it: one immutable object, every option with its meaning and default."""

from dataclasses import dataclass, replace
from typing import Any

from palinode.core import hours, options
from palinode.core.options import OptionError, option


@dataclass(frozen=True)
class Policy:
    """Options of a capture."""

    concurrency: int = option(8, least=1, most=64)
    """Requests at once, over all workers."""
    rate: float = option(0.0, most=10_000)
    """Requests a second at most, over all workers; 0 for no bound."""
    max_addresses: int = option(200_000, least=1, most=10_000_000)
    """Addresses asked at most."""
    max_depth: int = option(50, least=1, most=1_000)
    """Links from the home page at most."""
    max_bytes: int = option(50_000_000_000, least=1_000_000, most=10**13)
    """Bytes of WARC files at most."""
    max_seconds: int = option(86_400, least=10, most=30 * 86_400)
    """Seconds of work at most."""
    answer_seconds: int = option(60, least=1, most=600)
    """Seconds that one answer may take, from asking to its last byte."""
    workers: int = option(1, least=1, most=20)
    """Shares that are offered to workers at once."""

    sample: int = option(20, most=200)
    """Pages that are asked again at the end, to learn what is volatile and whether a cache answers."""

    hours: str = option("")
    """Only between these times of day, in UTC, as ``22:00-06:00``; empty for any hour (core/hours.py)."""

    @classmethod
    def read(cls, given: dict[str, Any]) -> "Policy":
        """Read options that a person gave. Raises OptionError for one that is unknown or out of bounds."""
        found: Policy = options.read(cls, given)
        try:
            window = hours.read(found.hours)
        except hours.HoursError as error:
            raise OptionError("hours", str(error)) from None
        return replace(found, hours=window.text if window else "")

    @classmethod
    def kept(cls, settings: dict[str, Any]) -> "Policy":
        """Return the options that a capture was begun with; those that this version does not know are left out."""
        found: Policy = options.kept(cls, settings)
        return found

    def plain(self) -> dict[str, Any]:
        """Return the options as they are kept."""
        return options.plain(self)
