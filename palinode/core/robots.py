"""robots.txt (RFC 9309): what one says, and whom its groups shut out of which addresses."""

from dataclasses import dataclass

from protego import Protego

from palinode.core import encoding

SIZE = 512_000
"""Bytes read, as RFC 9309 section 2.5 asks for at least."""


@dataclass(frozen=True)
class RobotsFile:
    """What a host answered to the request for its rules."""

    origin: str
    """Scheme and host: ``https://mill.example``."""
    status: int
    """Where the redirects ended; -1 where nothing was fetched."""
    text: str = ""
    reason: str = ""
    """Why nothing was fetched, in words."""
    rules: Protego | None = None
    """As the library read them; None where there are none to go by."""


def read(body: bytes) -> tuple[str, Protego]:
    """Return the text of a robots.txt and its rules; what cannot be read in it is no rule."""
    text = encoding.decode(body[:SIZE], "utf-8")
    return text, Protego.parse(text)
