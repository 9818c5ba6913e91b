"""How an address became known: bits, since there may be several ways."""

from enum import IntFlag


class Known(IntFlag):
    """One bit for each way."""

    HOME = 1
    LINK = 2
    SITEMAP = 4
    ROBOTS = 8
    FEED = 16
    LIST = 32
    LOG = 64
    EXPECTED = 128
    """Expected by the rule of a page of the baseline, or such a page's old path."""
    PROBE = 256
    REDIRECT = 512
    EARLIER = 1024
    """Known to the capture that this one goes on from."""
    IMPORT = 2048
    """In a file that became the capture."""

    @property
    def words(self) -> list[str]:
        """The ways in words, for a person."""
        return [_WORDS[bit] for bit in Known if bit in self]


_WORDS = {
    Known.HOME: "home page",
    Known.LINK: "linked",
    Known.SITEMAP: "in a sitemap",
    Known.ROBOTS: "in robots.txt",
    Known.FEED: "in a feed",
    Known.LIST: "in your list",
    Known.LOG: "in an access log",
    Known.EXPECTED: "expected from the baseline",
    Known.PROBE: "made up, to see what a missing page looks like",
    Known.REDIRECT: "a redirect's target",
    Known.EARLIER: "known to the capture before",
    Known.IMPORT: "in the file that was imported",
}
