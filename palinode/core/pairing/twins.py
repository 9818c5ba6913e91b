"""One page under several addresses of a side: an index file, another order of parameters, a print or session variant.

They say the very same, and their addresses differ in nothing else.
"""

import re

import numpy as np

from palinode.core.pairing import endings

_INDEX = re.compile(rf"/(?:{'|'.join(sorted(endings.INDEX))}){endings.ENDING}", re.IGNORECASE)


def key(path: str) -> str:
    """Return what the paths of one page have in common: without query, index file, parameters and last slash."""
    bare = path.partition("?")[0]
    if ";" in bare:
        bare = "/".join(segment.partition(";")[0] for segment in bare.split("/"))
    return _INDEX.sub("", bare).rstrip("/")


def find(path: list[str], whole: np.ndarray, of: np.ndarray, among: np.ndarray) -> dict[int, int]:
    """Return for each of the rows ``of`` that has one its twin ``among`` other rows, the first of several.

    ``path`` are paths and queries of pages, ``whole`` (int64) digests of all that they say; 0 says nothing.
    """
    candidates = among[np.isin(whole[among], whole[of]) & (whole[among] != 0)]
    by_key: dict[tuple[str, int], int] = {}
    for row in candidates.tolist():
        by_key.setdefault((key(path[row]), int(whole[row])), row)
    found = {}
    for row in of.tolist() if by_key else ():
        twin = by_key.get((key(path[row]), int(whole[row])))
        if twin is not None and twin != row:
            found[row] = twin
    return found
