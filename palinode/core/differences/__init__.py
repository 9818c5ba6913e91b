"""Differences: what pages say otherwise than their partners, one by one, each with all the pages that show it.

Each is told by what a person would change: a target, a block, the end of a title. Where at least FEWEST pages and HALF
of a side, a section or a template show one, it is shared, and leaves the fates of its pages alone.
"""

from collections import Counter, defaultdict
from dataclasses import replace

import numpy as np

from palinode.core.differences.difference import CAME, Difference, DifferingPairs, PageText, Sizes, Sources, Told
from palinode.core.differences.prints import by_prints, descriptions
from palinode.core.differences.targets import targets
from palinode.core.differences.titles import titles
from palinode.core.differences.words import words
from palinode.core.fields import Field

__all__ = [
    "CAME",
    "FEWEST",
    "HALF",
    "MOST_OF_A_PAGE",
    "Difference",
    "DifferingPairs",
    "PageText",
    "Sizes",
    "Sources",
    "Told",
]

FEWEST = 5
HALF = 0.5
MOST_OF_A_PAGE = 8
"""Differences in one field of one page alone that are told one by one; of a page with more, the field as a whole."""
MOST = 50_000
"""Differences that several pages show: of a comparison with more, those that most pages show."""


def find(pairs: DifferingPairs, sources: Sources) -> Told:
    """Return the differences of some pairs, those of one field together."""
    in_words, worded = words(pairs, sources.texts)
    every = [*by_prints(pairs), *descriptions(pairs), *titles(pairs), *in_words, *targets(pairs, sources.addresses)]
    kept, too_many, many = _bounded(every, len(pairs.bits))
    kept = _with_sharing(_apart(kept), pairs, sources)
    named, own, shared = worded, np.zeros(len(pairs.bits), np.int32), np.zeros(len(pairs.bits), np.int32)
    for one in kept:
        bit = np.int32(1 << one.field)
        named[one.at] |= bit
        (shared if one.shared else own)[one.at] |= bit
    named &= ~too_many
    whole = pairs.bits & ~named
    # Another heading is another text as well: it is told once.
    of_words = np.int32(1 << Field.TEXT | 1 << Field.HEADINGS)
    both = whole & of_words == of_words
    whole[both] &= ~np.int32(1 << Field.HEADINGS)
    return Told(kept, (own | whole).astype(np.int32), shared & ~own & ~whole, whole, many)


def _bounded(every: list[Difference], number: int) -> tuple[list[Difference], np.ndarray, dict[int, dict[Field, int]]]:
    """Return the differences that are told one by one, and the fields of pages that have too many of them.

    The latter as int32 (number,) and, by place and field, with how many.
    """
    count = np.zeros((number, len(Field)), np.int32)
    for one in every:
        if len(one.at) == 1:
            count[one.at[0], one.field] += 1
    many = count > MOST_OF_A_PAGE
    several = sorted((one for one in every if len(one.at) > 1), key=lambda one: -len(one.at))
    for one in several[MOST:]:
        many[one.at, one.field] = True
    left_out = set(map(id, several[MOST:]))
    kept = [one for one in every if id(one) not in left_out and not (len(one.at) == 1 and many[one.at[0], one.field])]
    bits: np.ndarray = many.astype(np.int32) @ (1 << np.arange(len(Field), dtype=np.int32))
    told: dict[int, dict[Field, int]] = {}
    for place, of in np.argwhere(count > MOST_OF_A_PAGE).tolist():
        told.setdefault(place, {})[Field(of)] = int(count[place, of])
    return kept, bits.astype(np.int32), told


def _apart(every: list[Difference]) -> list[Difference]:
    """Return differences of which no two of a field have the same locus: the one that most pages show keeps its own."""
    found: list[Difference] = []
    known: set[tuple[Field, str, str]] = set()
    for one in sorted(every, key=lambda one: (-len(one.at), one.looks or one.detail)):
        if (one.field, one.about, one.locus) in known:
            one = replace(one, locus=f"{one.locus}\n{one.looks or one.detail}")
        known.add((one.field, one.about, one.locus))
        found.append(one)
    return found


def _with_sharing(every: list[Difference], pairs: DifferingPairs, sources: Sources) -> list[Difference]:
    """Return differences that know whether many pages share them.

    A link that came on some pages and stands more often on others, which had it before, is one to share.
    """
    if not any(len(one.at) >= FEWEST for one in every):
        return every
    sizes = sources.sizes()
    together: dict[tuple[Field, str, bool], list[np.ndarray]] = defaultdict(list)
    for one in every:
        if key := _of_target(one):
            together[key].append(one.at)
    found = []
    for one in every:
        key = _of_target(one)
        at = np.unique(np.concatenate(together[key])) if key and len(together[key]) > 1 else one.at
        shared = len(at) >= FEWEST and _is_shared(at, pairs, sizes)
        found.append(replace(one, shared=True) if shared else one)
    return found


def _of_target(one: Difference) -> tuple[Field, str, bool] | None:
    """Return what tells together how often a target stands there; None for what stands in another's place."""
    return (one.field, one.about, one.fewer) if one.about and " " not in one.looks else None


def _is_shared(at: np.ndarray, pairs: DifferingPairs, sizes: Sizes) -> bool:
    if len(at) >= HALF * sizes.side:
        return True
    sections = Counter(pairs.section[one] for one in at.tolist())
    if any(n >= FEWEST and n >= HALF * sizes.section[name] for name, n in sections.items()):
        return True
    templates = Counter(pairs.template[at].tolist())
    return any(n >= FEWEST and n >= HALF * sizes.template[one] for one, n in templates.items() if one)
