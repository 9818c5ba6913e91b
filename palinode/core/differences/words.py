"""What pages say in words: blocks that changed, went or came, and Open Graph besides title and description."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import groupby

import numpy as np

from palinode.core import address as addresses
from palinode.core import block_changes
from palinode.core.block_changes import Block
from palinode.core.differences.difference import Difference, DifferingPairs, PageText
from palinode.core.facts import text_print
from palinode.core.fields import Field

MOST_READ = 10_000
"""Pairs whose texts are read; what differs in the words of others is told of the page as a whole."""
MOST_BLOCKS = 60
"""Blocks in which a page differs that are told one by one; one that differs in more was written anew."""
_LONGEST = 90
_SHORTEST = 3
"""Characters of a link's words by which it is known."""
_AROUND = 3
_HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
_SAID_BY_OTHERS = {"og:title": Field.TITLE, "og:description": Field.DESCRIPTION}

WordForm = tuple[Field, str, str]
"""Field, what stood there, and what stands there now."""


def words(
    pairs: DifferingPairs, texts: Callable[[np.ndarray], Iterable[tuple[int, PageText, PageText]]]
) -> tuple[list[Difference], np.ndarray]:
    """Return the differences in words, and int32 (k,): the fields of which they name all that differs.

    A field of which nothing differs that another does not say is among the latter, without a difference.
    """
    at = pairs.differ(Field.HEADINGS, Field.TEXT, Field.OPEN_GRAPH)[:MOST_READ]
    forms: dict[WordForm, list[int]] = defaultdict(list)
    links: dict[WordForm, frozenset[str]] = {}
    named = np.zeros(len(pairs.bits), np.int32)
    for place, left, right in texts(at) if len(at) else ():
        bits = int(pairs.bits[place])
        in_words = bits & (1 << Field.TEXT | 1 << Field.HEADINGS)
        changes = list(changed(left.blocks, right.blocks)) if in_words and _is_little(left, right) else []
        if 0 < len(changes) <= MOST_BLOCKS:
            named[place] |= 1 << Field.TEXT | 1 << Field.HEADINGS
            for form in dict.fromkeys(changes):
                forms[form].append(place)
                if form not in links:
                    links[form] = _links(form, left)
        if bits >> Field.OPEN_GRAPH & 1:
            named[place] |= 1 << Field.OPEN_GRAPH
            for form in _open_graph(pairs, place, left, right):
                forms[form].append(place)
    return [_difference(form, places, links.get(form, frozenset())) for form, places in forms.items()], named


def _is_little(left: PageText, right: PageText) -> bool:
    """Whether so few blocks stand on one side alone that they can be told; it takes no time to say so."""
    one, other = ({text for _, text in page.blocks} for page in (left, right))
    return max(len(one - other), len(other - one)) <= MOST_BLOCKS


def changed(left: Sequence[Block], right: Sequence[Block]) -> Iterator[WordForm]:
    """Yield what changed, went or came between the blocks of two pages."""
    for _, gone, came in block_changes.runs(list(left), list(right)):
        # Most often one block became another.
        single = len(gone) == len(came) == 1 and gone[0][0] == came[0][0]
        stretch = [(gone[0], came[0])] if single else _in_place(list(block_changes.paired(gone, came)))
        for one, other in stretch:
            kind = (one or other or ("", ""))[0]
            field = Field.HEADINGS if kind in _HEADINGS else Field.TEXT
            yield field, one[1] if one else "", other[1] if other else ""


def _links(form: WordForm, left: PageText) -> frozenset[str]:
    """Return the addresses of those links of a page whose words stood in a block, and stand there no more."""
    _, before, after = form
    written = {
        written for words, written in left.links if len(words) >= _SHORTEST and words in before and words not in after
    }
    return frozenset(address for one in written if (address := addresses.normal(one, left.address)))


def _in_place(stretch: list[tuple[Block | None, Block | None]]) -> Iterator[tuple[Block | None, Block | None]]:
    """Yield the blocks of a stretch; as many as went and came between two others stand in each other's place."""
    for alone, some in groupby(stretch, lambda pair: not (pair[0] and pair[1])):
        pairs = list(some)
        went, came = [one for one, _ in pairs if one], [other for _, other in pairs if other]
        if alone and [kind for kind, _ in went] == [kind for kind, _ in came]:
            yield from zip(went, came, strict=True)
        else:
            yield from pairs


def _open_graph(pairs: DifferingPairs, place: int, left: PageText, right: PageText) -> Iterator[WordForm]:
    """Yield what Open Graph says otherwise, but for what title and description say already."""
    before, after = dict(left.open_graph), dict(right.open_graph)
    for name in sorted({*before, *after}):
        one, other = before.get(name, ""), after.get(name, "")
        field = _SAID_BY_OTHERS.get(name)
        prints = (text_print(one), text_print(other))
        if one == other or (
            field is not None and prints == (pairs.left.prints[place, field], pairs.right.prints[place, field])
        ):
            continue
        yield Field.OPEN_GRAPH, f"{name}\n{one}", f"{name}\n{other}"


def _difference(form: WordForm, places: list[int], links: frozenset[str]) -> Difference:
    field, before, after = form
    at = np.array(places, np.int64)
    at.sort()
    if field == Field.OPEN_GRAPH:
        name, _, one = before.partition("\n")
        other = after.partition("\n")[2]
        said = f"now “{_short(other)}”" if one and other else "came" if other else "is missing"
        return Difference(field, before, f"{name} {said}", at, looks=after)
    return Difference(
        field, locus_of(before, after), _detail(before, after), at, looks=f"{before}\n{after}", named=links
    )


def locus_of(before: str, after: str) -> str:
    """Return the locus of a block that became another; an empty text stands for none."""
    return f"gone\n{before}" if before else f"came\n{after}"


def _detail(before: str, after: str) -> str:
    if not after:
        return f"“{_short(before)}” is gone"
    if not before:
        return f"“{_short(after)}” came"
    one, other = _apart(before, after)
    return f"“{_short(one)}” became “{_short(other)}”"


def _apart(before: str, after: str) -> tuple[str, str]:
    """Return what differs in two texts, with a few words around it."""
    a, b = before.split(), after.split()
    if min(len(a), len(b)) <= 2 * _AROUND:
        return before, after
    most = min(len(a), len(b))
    start = next((at for at in range(most) if a[at] != b[at]), most)
    end = next((at for at in range(most - start) if a[-1 - at] != b[-1 - at]), most - start)
    start, end = max(0, start - _AROUND), max(0, end - _AROUND)

    def cut(words: list[str]) -> str:
        inner = " ".join(words[start : len(words) - end])
        return f"{'… ' if start else ''}{inner}{' …' if end else ''}"

    return cut(a), cut(b)


def _short(text: str) -> str:
    return text if len(text) <= _LONGEST else f"{text[:_LONGEST].rstrip()}…"
