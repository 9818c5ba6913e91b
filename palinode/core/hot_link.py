"""Files of a side that pages of other sites show, as its access logs tell."""

from typing import NamedTuple

MOST = 2_000
"""Files with their hosts that one log is kept with."""


class HotLink(NamedTuple):
    """A file that pages of another site show."""

    address: str
    host: str
    """Whose pages show it."""
    times: int
    """Requests that said so."""
