"""Shared differences: one difference that many pages show alike, told once and not page by page.

What two pages say in a field becomes a form where other pages may show the same: another language, a description that
is gone, a title that ends otherwise, ``noindex``. Where at least FEWEST pages and HALF of a side, a section or a
template show one form, it is shared, and leaves the fates of its pages alone.
"""

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from palinode.core.facts import text_print
from palinode.core.fields import Field

FEWEST = 5
HALF = 0.5
_SHORTEST = 3
"""Characters that two titles begin or end with alike, so that the rest is what changed."""
_BY_PRINTS = (Field.ROBOTS, Field.LANGUAGE, Field.STRUCTURED)
"""Fields in which two pages that say the same have the same fingerprint, whatever page they are."""


@dataclass(frozen=True)
class SharedDifference:
    """One form of a difference, with the pairs that show it."""

    field: Field
    locus: str
    """What tells it apart from other forms of the field."""
    detail: str
    at: np.ndarray
    """int64, ascending: places among the pairs that differ."""
    noindex: bool = False
    """It asks search engines to stay away."""


@dataclass(frozen=True)
class Differing:
    """k pairs whose pages differ; arrays and lists of length k."""

    bits: np.ndarray
    """int32: the fields that differ (core/fields.py)."""
    left: np.ndarray
    """int64 (k, fields): fingerprints of the left pages."""
    right: np.ndarray
    left_title: Sequence[str]
    right_title: Sequence[str]
    noindex: np.ndarray
    """bool: the right page says noindex, and the left one does not."""
    section: Sequence[str]
    template: np.ndarray
    """int64: fingerprint of what stands around the main content of the left page."""

    def differ(self, field: Field) -> np.ndarray:
        """Return the places (ascending) of the pairs that differ in a field."""
        return np.flatnonzero(self.bits >> field & 1)


@dataclass(frozen=True)
class Sizes:
    """How many pairs there are, of whatever kind."""

    side: int
    section: dict[str, int]
    template: dict[int, int]


def find(differing: Differing, sizes: Callable[[], Sizes]) -> list[SharedDifference]:
    """Return the differences that many pages share, field by field; a pair shows at most one in each field.

    ``sizes`` is called only where enough pages show one form.
    """
    forms = [one for of in (_by_prints, _descriptions, _titles) for one in of(differing) if len(one.at) >= FEWEST]
    if not forms:
        return []
    whole = sizes()
    return [one for one in forms if _is_shared(one.at, differing, whole)]


def _is_shared(at: np.ndarray, differing: Differing, sizes: Sizes) -> bool:
    if len(at) >= HALF * sizes.side:
        return True
    sections = Counter(differing.section[one] for one in at.tolist())
    if any(n >= FEWEST and n >= HALF * sizes.section[name] for name, n in sections.items()):
        return True
    templates = Counter(differing.template[at].tolist())
    return any(n >= FEWEST and n >= HALF * sizes.template[one] for one, n in templates.items() if one)


def _by_prints(differing: Differing) -> Iterator[SharedDifference]:
    """Yield forms that are the same wherever both fingerprints are."""
    for field in _BY_PRINTS:
        at = differing.differ(field)
        if field == Field.ROBOTS:
            shut = at[differing.noindex[at]]
            if len(shut):
                yield SharedDifference(field, "noindex", "noindex", shut, noindex=True)
            at = at[~differing.noindex[at]]
        both = np.stack([differing.left[at, field], differing.right[at, field]], axis=1)
        for pair, here in _groups(both):
            said = "robots differ" if field == Field.ROBOTS else f"{field.label} differs"
            yield SharedDifference(field, f"{pair[0]} {pair[1]}", f"{said} in the same way", at[here])


def _descriptions(differing: Differing) -> Iterator[SharedDifference]:
    """Yield a form for descriptions that are gone, and one for each that many pages now have."""
    at = differing.differ(Field.DESCRIPTION)
    nothing = text_print("")
    for (right,), here in _groups(differing.right[at, Field.DESCRIPTION][:, None]):
        if right == nothing:
            yield SharedDifference(Field.DESCRIPTION, "none", "description missing", at[here])
        elif len(here) >= FEWEST:
            yield SharedDifference(Field.DESCRIPTION, str(right), "the same description as on other pages", at[here])


def _groups(keys: np.ndarray) -> Iterator[tuple[tuple[int, ...], np.ndarray]]:
    """Yield each row of keys (m, columns) with the places where it stands."""
    if not len(keys):
        return
    rows, which = np.unique(keys, axis=0, return_inverse=True)
    which = which.reshape(-1)
    order = np.argsort(which, kind="stable")
    for row, here in zip(rows.tolist(), np.split(order, np.flatnonzero(np.diff(which[order])) + 1), strict=True):
        yield tuple(row), here


def _titles(differing: Differing) -> Iterator[SharedDifference]:
    """Yield forms of titles that end or begin otherwise; of the two that a pair may show, the one more pairs show."""
    at = differing.differ(Field.TITLE).tolist()
    forms: dict[tuple[str, str, str], list[int]] = {}
    for place in at:
        for form in _title_forms(differing.left_title[place], differing.right_title[place]):
            forms.setdefault(form, []).append(place)
    taken: set[int] = set()
    for (where, before, after), places in sorted(forms.items(), key=lambda one: (-len(one[1]), one[0])):
        left = [place for place in places if place not in taken]
        if len(left) < FEWEST:
            continue
        taken |= set(left)
        yield SharedDifference(
            Field.TITLE, f"{where}\n{before}\n{after}", _title_detail(where, before, after), np.array(left, np.int64)
        )


def _title_forms(left: str, right: str) -> Iterator[tuple[str, str, str]]:
    if not right:
        yield "missing", "", ""
        return
    if (same := _alike(left, right)) >= _SHORTEST:
        yield "end", left[same:].strip(), right[same:].strip()
    if (same := _alike(left[::-1], right[::-1])) >= _SHORTEST:
        yield "begin", left[: len(left) - same].strip(), right[: len(right) - same].strip()


def _alike(one: str, other: str) -> int:
    """Return with how many characters two texts begin alike, up to the end of a word."""
    same = 0
    for a, b in zip(one, other, strict=False):
        if a != b:
            break
        same += 1
    while same and not (_ends_word(one, same) and _ends_word(other, same)):
        same -= 1
    return same


def _ends_word(text: str, at: int) -> bool:
    """Whether no word of a text goes on over a place."""
    return at == len(text) or text[at - 1].isspace() or text[at].isspace()


def _title_detail(where: str, before: str, after: str) -> str:
    if where == "missing":
        return "title missing"
    verb = "ends" if where == "end" else "begins"
    if not after:
        return f"title {verb} without “{before[:60]}”"
    return f"title {verb} with “{after[:60]}”" + (f" in place of “{before[:60]}”" if before else "")
