"""Two lists of files facing each other: what is missing, more, different, empty, elsewhere or in other letters."""

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from palinode.core.listings.listing import UNKNOWN, Listing

_FEWEST = 2
"""Files that went from one folder to another together, where they are told apart by name and size alone."""


_LOOKED_AT = 50
"""Files with the same digest, or the same name and size, among which the one with the most similar path is chosen."""


class Verdict(Enum):
    """What became of a file."""

    MISSING = "missing"
    EMPTY = "empty"
    """It has no byte any more."""
    DIFFERENT = "different"
    CASE = "other letters"
    """Its path is written in other capitals."""
    MOVED = "moved"
    EXTRA = "extra"


@dataclass(frozen=True)
class Difference:
    """A file that is not the same on both sides."""

    verdict: Verdict
    left: int
    """Its place in the left list; -1 for none."""
    right: int


@dataclass(frozen=True)
class Subtree:
    """Files that went from one folder to another, with all that is below it."""

    left: str
    """Path of the folder with its slash; empty for the one that the list begins in."""
    right: str
    files: int


@dataclass(frozen=True)
class Facing:
    """How two lists differ."""

    same: int
    compared_by: str
    """In words: by what files of one path are held to be the same."""
    differences: list[Difference]
    """In order of the verdicts, then of the paths."""
    subtrees: list[Subtree]
    """The largest first."""


def face(left: Listing, right: Listing) -> Facing:
    """Hold two lists against each other."""
    there = {path: place for place, path in enumerate(right.paths)}
    facing = np.fromiter((there.get(path, -1) for path in left.paths), np.int64, len(left))
    pairs = np.flatnonzero(facing >= 0)
    same, empty = _compared(left, right, pairs, facing[pairs])
    found = [Difference(Verdict.DIFFERENT, *pair) for pair in _listed(pairs[~same & ~empty], facing)]
    found += [Difference(Verdict.EMPTY, *pair) for pair in _listed(pairs[empty], facing)]
    missing = np.flatnonzero(facing < 0).tolist()
    taken = np.zeros(len(right), bool)
    taken[facing[pairs]] = True
    extra = np.flatnonzero(~taken).tolist()
    moved = _in_other_letters(left, right, missing, extra)
    found += [Difference(Verdict.CASE, *pair) for pair in moved.items()]
    missing, extra = _rest(missing, extra, moved)
    elsewhere, subtrees = _moved(left, right, missing, extra)
    found += [Difference(Verdict.MOVED, *pair) for pair in elsewhere.items()]
    missing, extra = _rest(missing, extra, elsewhere)
    found += [Difference(Verdict.MISSING, place, -1) for place in missing]
    found += [Difference(Verdict.EXTRA, -1, place) for place in extra]
    order = {verdict: place for place, verdict in enumerate(Verdict)}
    found.sort(key=lambda one: (order[one.verdict], one.left if one.left >= 0 else one.right))
    return Facing(int(same.sum()), _compared_by(left, right), found, subtrees)


def _compared(left: Listing, right: Listing, ours: np.ndarray, theirs: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return bool (n,): which files of one path are the same, and which lost all of their bytes."""
    sizes, others = left.size[ours], right.size[theirs]
    digests, other_digests = left.digest[ours], right.digest[theirs]
    differ = ((sizes != UNKNOWN) & (others != UNKNOWN) & (sizes != others)) | (
        (digests != 0) & (other_digests != 0) & (digests != other_digests)
    )
    empty = differ & ((others == 0) | np.isin(other_digests, _EMPTY)) & (sizes != 0)
    return ~differ, empty


_EMPTY = np.array(
    [int.from_bytes(bytes.fromhex(one), "big", signed=True)
     for one in ("e3b0c44298fc1c14", "d41d8cd98f00b204", "da39a3ee5e6b4b0d", "cf83e1357eefb8bd", "38b060a751ac9638")],
    np.int64,
)  # fmt: skip
"""What digests of no bytes begin with: SHA-256, MD5, SHA-1, SHA-512, SHA-384 (FIPS 180-4, RFC 1321)."""


def _compared_by(left: Listing, right: Listing) -> str:
    if (left.digest != 0).any() and (right.digest != 0).any():
        return "their digests"
    known = (left.size != UNKNOWN).any() and (right.size != UNKNOWN).any()
    return "their sizes" if known else "their paths alone: one list has sizes, and the other digests"


def _listed(places: np.ndarray, facing: np.ndarray) -> list[tuple[int, int]]:
    return list(zip(places.tolist(), facing[places].tolist(), strict=True))


def _rest(missing: list[int], extra: list[int], paired: dict[int, int]) -> tuple[list[int], list[int]]:
    taken = set(paired.values())
    return [one for one in missing if one not in paired], [one for one in extra if one not in taken]


def _in_other_letters(left: Listing, right: Listing, missing: Sequence[int], extra: Sequence[int]) -> dict[int, int]:
    """Return the files whose paths differ in capitals alone."""
    folded: dict[str, list[int]] = defaultdict(list)
    for place in extra:
        folded[right.paths[place].casefold()].append(place)
    found = {}
    for place in missing:
        if others := folded.get(left.paths[place].casefold()):
            found[place] = others.pop(0)
    return found


def _moved(
    left: Listing, right: Listing, missing: Sequence[int], extra: Sequence[int]
) -> tuple[dict[int, int], list[Subtree]]:
    """Return the files that stand elsewhere, and the folders that they went from and to.

    A digest tells a file for certain; where one list has none, name and size do, if several went the same way.
    """
    by_digest, by_name = _keys(right, extra)
    candidates: list[tuple[int, int, bool]] = []
    for place in missing:
        name, digest, size = left.paths[place].rpartition("/")[2], int(left.digest[place]), int(left.size[place])
        certain = digest != 0 and digest in by_digest
        others = by_digest[digest] if certain else [] if digest and by_digest else by_name.get((name, size), [])
        if others:
            best = max(others[:_LOOKED_AT], key=lambda other: _shared(left.paths[place], right.paths[other]))
            candidates.append((place, best, certain))
    steps = [step(left.paths[place], right.paths[other]) for place, other, _ in candidates]
    counts = Counter(steps)
    found: dict[int, int] = {}
    taken: set[int] = set()
    together: Counter[tuple[str, str]] = Counter()
    for (place, other, certain), moved in zip(candidates, steps, strict=True):
        if other not in taken and (certain or counts[moved] >= _FEWEST):
            found[place] = other
            taken.add(other)
            together[moved] += 1
    return found, [Subtree(*moved, files) for moved, files in together.most_common() if files >= _FEWEST]


def _keys(right: Listing, extra: Sequence[int]) -> tuple[dict[int, list[int]], dict[tuple[str, int], list[int]]]:
    by_digest: dict[int, list[int]] = defaultdict(list)
    by_name: dict[tuple[str, int], list[int]] = defaultdict(list)
    for place in extra:
        digest = int(right.digest[place])
        if digest and digest not in _EMPTY:
            by_digest[digest].append(place)
        by_name[right.paths[place].rpartition("/")[2], int(right.size[place])].append(place)
    return by_digest, by_name


def _shared(left: str, right: str) -> int:
    """Return how many of the last segments two paths share."""
    count = 0
    for one, other in zip(reversed(left.split("/")), reversed(right.split("/")), strict=False):
        if one != other:
            break
        count += 1
    return count


def step(left: str, right: str) -> tuple[str, str]:
    """Return from which folder to which a file went: what stands before the segments that both paths end with.

    Each with its slash; empty for the folder that the lists begin in.
    """
    ours, theirs = left.split("/"), right.split("/")
    count = min(_shared(left, right), len(ours), len(theirs))
    # A folder that lies deeper under its own name went as a whole.
    before, after = ours[: len(ours) - count], theirs[: len(theirs) - count]
    return "".join(f"{one}/" for one in before), "".join(f"{one}/" for one in after)
