"""Files that pages need, and that the destination does not have: style sheets, scripts, images, fonts."""

from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.pages import kinds
from palinode.core.columns import LeftColumns, SideColumns
from palinode.core.findings import Finding
from palinode.core.rule import Rule

STYLES = frozenset({"css", "js", "mjs"})
"""Endings of what every page of a template needs."""
_FILES = STYLES | {
    "png", "jpg", "jpeg", "gif", "webp", "avif", "svg", "ico", "bmp", "woff", "woff2", "ttf", "otf", "eot",
    "mp3", "ogg", "wav", "mp4", "webm", "m4v", "mov", "zip", "json",
}  # fmt: skip
_MOST = 5_000
"""Files that are told one by one."""


@dataclass(frozen=True)
class Missing:
    """A file of the source that is not where the rule expects it."""

    left: str
    right: str
    status: int


def ending(address: str) -> str:
    """Return the ending of a file's name, in small letters."""
    return addresses.path(address).partition("?")[0].rpartition("/")[2].rpartition(".")[2].lower()


def missing(left: LeftColumns, right: SideColumns, rule: Rule) -> list[Missing]:
    """Return the files that the source has, and for which the destination was asked and has none."""
    rows = np.flatnonzero(~left.is_page & (left.status == 200)).tolist()
    # In an order of their own: rows come in any.
    texts = sorted(left.text[row] for row in rows if ending(left.text[row]) in _FILES)
    expected = rule.expect_many(texts)
    at = right.find(addresses.idents(expected))
    status = np.append(right.status, -1)[at]
    gone = np.flatnonzero((at >= 0) & ((status == 404) | (status == 410) | (status >= 500)))
    return [Missing(texts[place], expected[place], int(status[place])) for place in gone.tolist()[:_MOST]]


def shared(files: list[Missing], pages: list[int]) -> list[Finding]:
    """Return the findings of files, the most asked for first; ``pages`` says how many of the destination ask for each.

    A file that none asks for any more is not missed.
    """
    return [
        Finding(
            kinds.FILE_MISSING,
            addresses.path(one.left),
            count,
            one.left,
            one.right,
            "not found" if one.status in (404, 410) else f"the server failed with {one.status}",
        )
        for count, one in sorted(zip(pages, files, strict=True), key=lambda both: (-both[0], both[1].left))
        if count
    ]
