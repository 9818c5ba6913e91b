"""Hosts that ask to wait: none of a capture's shares asks them anything until then."""

from collections.abc import Mapping
from datetime import UTC, datetime

from palinode.core import address as addresses
from palinode.core.page import TOO_MANY, UNAVAILABLE
from palinode.core.reason import Reason
from palinode.gather.exchange import Exchange
from palinode.gather.fetch import LONGEST_PAUSE, retry_after

LONGEST = 3_600.0
"""Seconds that a host is waited for without an answer in between."""
_UNSAID = 30.0
"""Seconds to wait for a host that answers 429 and does not say how long."""
_IN_A_ROW = 3
"""Answers 503, or that ask for more than LONGEST, in a row that speak for the host; fewer for their addresses."""


class Rests:
    """The rests of one share. Moments are seconds since the epoch; hosts stand without ``www.``."""

    def __init__(self) -> None:
        self._until: dict[str, float] = {}
        self._since: dict[str, float] = {}
        """When a host first asked to wait, if it has given no answer since."""
        self._in_a_row: dict[str, int] = {}

    def take_over(self, told: Mapping[str, float]) -> None:
        """Learn what other shares were told."""
        for host, until in told.items():
            self._until[host] = max(until, self._until.get(host, 0.0))

    def until(self, address: str, now: float) -> float:
        """Return until when the host of an address is to be left alone; 0 if it may be asked."""
        if not self._until:
            return 0.0
        until = self._until.get(_host(address), 0.0)
        return until if until > now else 0.0

    def refusal(self, address: str, now: float) -> str:
        """Return why an address is not asked at all, in words: its host asks to wait for too long; or nothing."""
        if not (until := self.until(address, now)):
            return ""
        since = self._since.get(_host(address), now)
        return Reason.MUST_WAIT.words(moment(until)) if until - since > LONGEST else ""

    def note(self, exchange: Exchange, now: float) -> tuple[str, float] | None:
        """Learn from an answer; return the host and until when it rests, if the answer asks for that."""
        host = _host(exchange.address)
        if exchange.status is None:
            return None
        asked = retry_after(exchange)
        if exchange.status == TOO_MANY:
            asked = _UNSAID if asked is None else asked
        elif exchange.status != UNAVAILABLE or asked is None or asked <= LONGEST_PAUSE:
            self._in_a_row.pop(host, None)
            self._since.pop(host, None)
            return None
        if exchange.status == UNAVAILABLE or asked > LONGEST:
            self._in_a_row[host] = self._in_a_row.get(host, 0) + 1
            if self._in_a_row[host] < _IN_A_ROW:
                return None
        self._since.setdefault(host, now)
        self._until[host] = max(now + asked, self._until.get(host, 0.0))
        return host, self._until[host]


def moment(until: float) -> str:
    """Return a moment in words."""
    return f"{datetime.fromtimestamp(until, UTC):%-d %B %H:%M} UTC"


def _host(address: str) -> str:
    return addresses.bare_host(addresses.split(address).host)
