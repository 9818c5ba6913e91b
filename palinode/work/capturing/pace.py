"""How many requests at once a host bears: fewer as it slows down or fails, more as it recovers."""

from palinode.core.page import PASSING
from palinode.core.reason import NOT_THE_HOST
from palinode.gather.exchange import Exchange

_SLOW_MS = 500
"""An answer that is faster is not slow, whatever is usual."""
_SLOWER = 3
"""Times the usual time that counts as slow."""
_LESS_SLOW, _LESS_FAILED = 0.8, 0.5
_EVERY = 1.0
"""Seconds between two steps down: what was under way already says nothing of the last one."""


class Pace:
    """The pace of one share: ``at_once`` from 1 to ``most``."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._window = float(most)
        self._usual = self._recent = 0.0
        self._down_at = float("-inf")

    @property
    def at_once(self) -> int:
        """Requests at once now."""
        return max(1, min(self.most, int(self._window)))

    def note(self, exchange: Exchange, now: float) -> None:
        """Learn from one answer; ``now`` is a clock's reading in seconds."""
        if exchange.why in NOT_THE_HOST:
            return
        if exchange.status is None or exchange.status in PASSING:
            self._down(_LESS_FAILED, now)
            return
        took = float(exchange.took_ms)
        self._recent += 0.2 * (took - self._recent) if self._recent else took
        if self._recent > max(_SLOW_MS, _SLOWER * self._usual) and self._usual:
            self._down(_LESS_SLOW, now)
        else:
            self._usual += 0.02 * (took - self._usual) if self._usual else took
            self._window = min(self.most, self._window + 1 / max(1.0, self._window))

    def _down(self, factor: float, now: float) -> None:
        if now - self._down_at >= _EVERY:
            self._window, self._down_at = max(1.0, self._window * factor), now
