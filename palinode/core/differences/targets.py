"""What pages refer to: links, images, forms and links of the head that are missing, came, or lead elsewhere."""

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.differences.difference import CAME, Difference, DifferingPairs, References
from palinode.core.fields import Field

_FIELDS = (Field.CANONICAL, Field.IMAGES, Field.LINKS, Field.FORMS, Field.HREFLANG, Field.OPEN_GRAPH)
_NOUNS = {
    Field.IMAGES: "",
    Field.LINKS: "link to ",
    Field.FORMS: "form sent to ",
}
_VERBS = {Field.IMAGES: "became", Field.LINKS: "leads to", Field.FORMS: "is now sent to"}
_OF_HEAD = {Field.CANONICAL: "canonical", Field.HREFLANG: "hreflang link", Field.OPEN_GRAPH: "Open Graph address"}
"""Fields whose addresses are the page's own, so that pages that differ alike have none in common."""
_MISSING, _CAME, _FEWER, _MORE = range(4)
MOST_REFERENCES = 8_000_000
"""References of both sides, of all pairs that differ in one of the fields, that are held beside each other."""


@dataclass(frozen=True)
class _Target:
    """One target that pages refer to less, or more, than their partners."""

    field: Field
    ident: int
    what: int
    at: np.ndarray


_Named = tuple[_Target, str]
"""With its address, as its own side has it."""


def targets(
    pairs: DifferingPairs, lookup: Callable[[np.ndarray, np.ndarray], tuple[Mapping[int, str], Mapping[int, str]]]
) -> Iterator[Difference]:
    """Yield a difference for each target that is missing, came, or stands in another's place on the same pages.

    ``lookup`` is that of :class:`Sources`.
    """
    found = list(_changed(pairs))
    gone = [one.ident for one in found if one.what in (_MISSING, _FEWER)]
    came = [one.ident for one in found if one.what in (_CAME, _MORE)]
    if not found:
        return
    texts = lookup(np.unique(np.array(gone, np.int64)), np.unique(np.array(came, np.int64)))

    named = [(one, texts[one.what in (_CAME, _MORE)].get(one.ident, "")) for one in found]
    yield from _of_body([(one, text) for one, text in named if text and one.field in _NOUNS], pairs.homes)
    yield from _of_head([(one, text) for one, text in named if text and one.field in _OF_HEAD], pairs.homes)


def _of_body(named: list[_Named], homes: tuple[str, str]) -> Iterator[Difference]:
    """Yield differences of what stands in the page: links, images, forms; each is about one address."""
    on_the_same: dict[tuple[Field, bytes], list[_Named]] = defaultdict(list)
    for target, text in named:
        on_the_same[target.field, target.at.tobytes()].append((target, text))
    for (field, _), here in on_the_same.items():
        missing, came = ([one for one in here if one[0].what == what] for what in (_MISSING, _CAME))
        at, noun = here[0][0].at, _NOUNS[field]
        for before, after in _replaced([text for _, text in missing], [text for _, text in came]):
            if not after:
                yield Difference(field, "", f"{noun}{told(before, homes[0])} is missing", at, before, fewer=True)
            elif not before:
                yield Difference(field, CAME, f"{noun}{told(after, homes[1])} came", at, after)
            else:
                said = f"{noun}{told(before, homes[0])} {_VERBS[field]} {told(after, homes[1])}"
                yield Difference(field, "", said, at, before, f"{before} {after}", fewer=True)
        for target, text in here:
            if target.what in (_FEWER, _MORE):
                few = "fewer" if target.what == _FEWER else "more"
                yield Difference(
                    field,
                    "times",
                    f"{noun}{told(text, homes[target.what == _MORE])} stands there {few} times",
                    at,
                    text,
                    few,
                    fewer=target.what == _FEWER,
                )


def _of_head(named: list[_Named], homes: tuple[str, str]) -> Iterator[Difference]:
    """Yield differences of links of the head, by what became of them."""
    pages: dict[tuple[Field, int], tuple[list[str], list[str]]] = defaultdict(lambda: ([], []))
    for target, text in named:
        for pair in target.at.tolist():
            pages[target.field, pair][target.what in (_CAME, _MORE)].append(text)
    forms: dict[tuple[Field, str, str], list[int]] = defaultdict(list)
    for (field, pair), sides in pages.items():
        for before, after in _replaced(*sides):
            if not after or not before:
                forms[field, "missing" if before else "came", ""].append(pair)
            elif addresses.path(before) == addresses.path(after):
                forms[field, "origin", addresses.origin(after)].append(pair)
            else:
                forms[field, "now", after].append(pair)
    for (field, what, to), at in forms.items():
        noun = _OF_HEAD[field]
        said = {"origin": f"leads to {to}", "now": f"is now {told(to, homes[1]) if to else ''}"}.get(what, what)
        yield Difference(field, f"{what}\n{to}", f"{noun} {said}", np.unique(np.array(at, np.int64)))


def told(address: str, home: str) -> str:
    """Return an address as it is told: on the side's own origin the path alone."""
    return addresses.path(address) if addresses.origin(address) == home else address


def _replaced(missing: list[str], came: list[str]) -> Iterator[tuple[str, str]]:
    """Yield addresses that are missing beside those that stand in their place; an empty text where there is none.

    One stands in another's place that has the same path, or the same name of a file; or where both are the only ones.
    """
    left, right = dict.fromkeys(missing), dict.fromkeys(came)
    for key in (addresses.path, _name):
        there = {key(text): text for text in right}
        for text in list(left):
            if (other := there.pop(key(text), None)) is not None:
                yield text, other
                del left[text], right[other]
    if len(left) == len(right) == 1:
        yield next(iter(left)), next(iter(right))
        return
    yield from ((text, "") for text in left)
    yield from (("", text) for text in right)


def _name(address: str) -> str:
    return addresses.path(address).partition("?")[0].rpartition("/")[2] or address


def _changed(pairs: DifferingPairs) -> Iterator[_Target]:
    """Yield the targets to which some pages refer more or less often than their partners."""
    sides = [_of_differing(pairs, one) for one in (pairs.left_refers, pairs.right_refers)]
    sizes = sum(np.bincount(one[0], minlength=len(pairs.bits)) for one in sides)
    # Those that would take too much memory beside the others are told as a whole.
    looked_at = np.cumsum(sizes) <= MOST_REFERENCES
    sides = [tuple(column[looked_at[one[0]]] for column in one) for one in sides]
    pair, place, target = (np.concatenate([one[at] for one in sides]) for at in range(3))
    right = np.repeat(np.array([0, 1]), [len(one[0]) for one in sides])
    if not len(pair):
        return
    order = np.lexsort((target, place, pair))
    pair, place, target, right = pair[order], place[order], target[order], right[order]
    first = np.flatnonzero(_begins(pair, place, target))
    after = np.add.reduceat(right, first)
    before = np.diff(first, append=len(pair)) - after
    differs = before != after
    first, before, after = first[differs], before[differs], after[differs]
    pair, place, target = pair[first], place[first], target[first]
    what = np.select([after == 0, before == 0, before > after], [_MISSING, _CAME, _FEWER], _MORE)
    order = np.lexsort((pair, what, target, place))
    pair, place, target, what = pair[order], place[order], target[order], what[order]
    starts = np.flatnonzero(_begins(place, target, what))
    for start, at in zip(starts.tolist(), np.split(pair, starts[1:]), strict=True):
        yield _Target(Field(int(place[start])), int(target[start]), int(what[start]), at)


def _begins(*columns: np.ndarray) -> np.ndarray:
    """Return bool: where one of some sorted columns changes; the first begins too."""
    found = np.zeros(len(columns[0]), bool)
    found[:1] = True
    for column in columns:
        found[1:] |= column[1:] != column[:-1]
    return found


def _of_differing(pairs: DifferingPairs, refers: References) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return pair, place and target of the references in those fields that differ."""
    targets, places, offsets = refers
    pair = np.repeat(np.arange(len(offsets) - 1), np.diff(offsets))
    known = np.isin(places, [int(field) for field in _FIELDS])
    bit = np.where(known, places, 0).astype(np.int32)
    wanted = known & (pairs.bits[pair] >> bit & 1 == 1)
    return pair[wanted], places[wanted].astype(np.int64), targets[wanted]
