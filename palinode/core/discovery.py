"""How an address became known: bits, since there may be several ways."""

from enum import IntFlag


class Discovery(IntFlag):
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
    CUSTOMARY = 4096
    """Where every host has a file of this name, if it has one."""
    CHECK = 8192
    """A check wanted it asked."""
    DATABASE = 16384
    """By the database of its side: the permalink of an item, a term, an author, an archive."""

    @property
    def words(self) -> list[str]:
        """The ways in words, for a person."""
        return [_WORDS[bit] for bit in Discovery if bit in self]


_WORDS = {
    Discovery.HOME: "home page",
    Discovery.LINK: "linked",
    Discovery.SITEMAP: "in a sitemap",
    Discovery.ROBOTS: "in robots.txt",
    Discovery.FEED: "in a feed",
    Discovery.LIST: "in your list",
    Discovery.LOG: "in an access log",
    Discovery.EXPECTED: "expected from the baseline",
    Discovery.PROBE: "made up, to see what a missing page looks like",
    Discovery.REDIRECT: "a redirect's target",
    Discovery.EARLIER: "known to the capture before",
    Discovery.IMPORT: "in the file that was imported",
    Discovery.CUSTOMARY: "the customary place",
    Discovery.CHECK: "for a check",
    Discovery.DATABASE: "by its database",
}
