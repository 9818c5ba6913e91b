"""How a capture goes about it: one immutable object, every option with its meaning and default."""

from dataclasses import asdict, dataclass, fields
from typing import Any

from palinode.core import hours


class PolicyError(ValueError):
    """An option is out of its bounds; ``option`` names it, the message is for a person."""

    def __init__(self, option: str, message: str) -> None:
        super().__init__(message)
        self.option = option


_BOUNDS: dict[str, tuple[float, float]] = {
    "concurrency": (1, 64),
    "rate": (0, 10_000),
    "max_addresses": (1, 10_000_000),
    "max_depth": (1, 1_000),
    "max_bytes": (1_000_000, 10**13),
    "max_seconds": (10, 30 * 86_400),
    "answer_seconds": (1, 600),
    "workers": (1, 20),
    "sample": (0, 200),
}


@dataclass(frozen=True)
class Policy:
    """Options of a capture."""

    concurrency: int = 8
    """Requests at once, over all workers."""
    rate: float = 0
    """Requests a second at most, over all workers; 0 for no bound."""
    max_addresses: int = 200_000
    """Addresses asked at most."""
    max_depth: int = 50
    """Links from the home page at most."""
    max_bytes: int = 50_000_000_000
    """Bytes of WARC files at most."""
    max_seconds: int = 86_400
    """Seconds of work at most."""
    answer_seconds: int = 60
    """Seconds that one answer may take, from asking to its last byte."""
    workers: int = 1
    """Shares that are offered to workers at once."""

    sample: int = 20
    """Pages that are asked again at the end, to learn what is volatile and whether a cache answers."""

    hours: str = ""
    """Only between these times of day, in UTC, as ``22:00-06:00``; empty for any hour (core/hours.py)."""

    @classmethod
    def read(cls, given: dict[str, Any]) -> "Policy":
        """Read options that a person gave.

        Raises PolicyError for one that is unknown or out of bounds.
        """
        kinds: dict[str, Any] = {one.name: type(one.default) for one in fields(cls)}
        values = {}
        for name, value in given.items():
            if name not in kinds:
                raise PolicyError(name, "There is no such option.")
            if kinds[name] is str:
                try:
                    window = hours.read(value) if isinstance(value, str) else None
                except hours.HoursError as error:
                    raise PolicyError(name, str(error)) from None
                value = window.text if window else ""
            else:
                low, high = _BOUNDS[name]
                if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
                    raise PolicyError(name, f"Give a number from {low:,.0f} to {high:,.0f}.")
                value = kinds[name](value)
            values[name] = value
        return cls(**values)

    @classmethod
    def kept(cls, settings: dict[str, Any]) -> "Policy":
        """Return the options that a capture was begun with; those that this version does not know are left out."""
        known = {one.name for one in fields(cls)}
        return cls.read({name: value for name, value in settings.items() if name in known})

    def plain(self) -> dict[str, Any]:
        """Return the options as they are kept."""
        return asdict(self)
