"""How a capture goes about it: one immutable object, every option with its meaning and default."""

from dataclasses import dataclass, replace
from typing import Any

from palinode.core import hours, options
from palinode.core.options import OptionError, option
from palinode.core.pattern_budget import FIRST


@dataclass(frozen=True)
class Policy:
    """Options of a capture, in the words in which the dialog and the command line show them."""

    concurrency: int = option(8, "Requests at once", "Over all workers; fewer while the host slows down.", 1, 64)
    rate: float = option(0.0, "Requests a second at most", "Over all workers; 0 for no bound.", 0, 10_000)
    max_addresses: int = option(200_000, "Addresses at most", "", 1, 10_000_000)
    alike: int = option(
        FIRST,
        "Addresses of a pattern at first",
        "More of them are asked for as long as they bring something new.",
        10,
        1_000_000,
    )
    max_depth: int = option(1_000, "Links from the home page at most", "", 1, 30_000)
    max_megabytes: int = option(50_000, "Megabytes kept at most", "", 1, 10_000_000)
    max_seconds: int = option(86_400, "Seconds of work at most", "", 10, 30 * 86_400)
    answer_seconds: int = option(60, "Seconds that one answer may take", "From asking to its last byte.", 1, 600)
    silent_seconds: int = option(20, "Seconds that an answer may be silent", "Between two pieces of it.", 1, 600)
    attempts: int = option(3, "Times an address is asked", "After failures, 429, 502, 503 and 504.", 1, 10)
    workers: int = option(0, "Workers that share it", "0 for as many as run.", 0, 20)
    sample: int = option(
        20, "Pages asked again at the end", "To learn what changes from one asking to the next; 0 for none.", 0, 200
    )
    hosts: str = option(
        "", "Further hosts", "Names, divided by commas; empty for all of the side, - for the main host alone."
    )
    hours: str = option("", "Only between these hours", "UTC, as 22:00-06:00; empty for any hour.")

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
