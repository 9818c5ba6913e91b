"""Evidence: the same title, without the name of the site, or the same first heading."""

import re
from collections import Counter

from palinode.core.pairing.candidates import Candidates, sharing
from palinode.core.pairing.pages import Pages

_SEPARATOR = re.compile(" (?:[|–—·»«-]|::) ")
_SHARED = 0.3
"""Share of a side's pages whose titles end alike, from which on that end is the site's name."""
_FEWEST = 3
_HEADING = 0.9


def find(left: Pages, right: Pages) -> Candidates:
    """Return pages with the same title or first heading."""
    bare = [_bare(side.title) for side in (left, right)]
    headings = [[text.lower() for text in side.heading] for side in (left, right)]
    return Candidates.of(
        (one, other, worth / crowd)
        for worth, keys in ((1.0, bare), (_HEADING, headings))
        for one, other, crowd in sharing(*([[key] if key else [] for key in side] for side in keys))
    )


def _bare(titles: list[str]) -> list[str]:
    """Return titles in lower case, without the end or beginning that names the site."""
    lowered = [title.lower() for title in titles]
    parts = [_cut(title) for title in lowered]
    common = Counter(part for cut in parts for part in set(cut[1:]) | set(cut[:1] if len(cut) > 1 else ()))
    site = {part for part, count in common.items() if count >= max(_FEWEST, _SHARED * len(titles))}
    return [
        " ".join(part for part in cut if part not in site) or title for cut, title in zip(parts, lowered, strict=True)
    ]


def _cut(title: str) -> list[str]:
    return [part.strip() for part in _SEPARATOR.split(title)]
