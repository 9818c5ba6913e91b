"""A window of hours in which a host may be asked, in UTC: ``22:00-06:00``."""

import re
from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta


class HoursError(ValueError):
    """What was typed is no window of hours; the message is for a person."""


@dataclass(frozen=True)
class Hours:
    """From one time of day to another, over midnight if that is earlier."""

    start: time
    end: time

    def wait(self, now: datetime) -> timedelta:
        """Return how long it is until the window opens; nothing while it is open."""
        now = now.astimezone(UTC)
        at = now.time()
        over_midnight = self.start > self.end
        if (at >= self.start or at < self.end) if over_midnight else self.start <= at < self.end:
            return timedelta()
        opens = datetime.combine(now.date(), self.start, UTC)
        return opens - now if opens > now else opens + timedelta(days=1) - now

    @property
    def text(self) -> str:
        """The window as it is written."""
        return f"{self.start:%H:%M}-{self.end:%H:%M}"


def read(text: str) -> Hours | None:
    """Read a window; None for an empty text, which is any hour.

    Raises HoursError for anything else that is no window.
    """
    if not text.strip():
        return None
    found = re.fullmatch(r"([01]?\d|2[0-3]):([0-5]\d)\s*[-–]\s*([01]?\d|2[0-3]):([0-5]\d)", text.strip())
    if not found:
        raise HoursError("Write two times of day in UTC, as 22:00-06:00.")
    start, end = time(int(found[1]), int(found[2])), time(int(found[3]), int(found[4]))
    if start == end:
        raise HoursError("The two times are the same. Leave the field empty for any hour.")
    return Hours(start, end)
