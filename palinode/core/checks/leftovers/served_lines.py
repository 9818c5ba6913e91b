"""Lines of what the destination serves."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.leftovers.line import BELOW, FILES, HEADERS, STAY, TEMPLATE, TEXT, TOLD, Line, headed, times
from palinode.core.checks.looked import Looked
from palinode.core.columns import find
from palinode.core.leftovers import search
from palinode.core.leftovers.places import Use
from palinode.core.leftovers.search import Kind
from palinode.core.leftovers.served import Form, ServedLeftovers

_MOST_ITEMS = 10_000
_FEWEST = 5
_SHARE = 0.5
"""Of all pages that are served: what so many have stands in the template."""


def served_lines(looked: Looked, served: ServedLeftovers) -> Iterator[tuple[Line, np.ndarray | None]]:
    """Yield the lines of what is served, each with the rows of pages (int32) that show it; None if files do as well."""
    order = np.argsort(served.form, kind="stable")
    starts = np.searchsorted(served.form[order], np.arange(len(served.forms) + 1))
    pages = np.sort(looked.right.files.pages) if looked.right.files is not None else np.zeros(0, np.int64)
    held: dict[tuple[object, ...], tuple[Line, list[np.ndarray]]] = {}
    for at, form in enumerate(served.forms):
        one = next(search.find(form.written, served.wanted), None)
        if one is None or search.stays(one, looked.rule):
            continue
        one = one._replace(in_base64=form.in_base64)
        expected = search.expected(one, looked.rule)
        found = order[starts[at] : starts[at + 1]]
        left, right = headed(one, one.written), headed(one, expected)
        group = BELOW if one.kind is Kind.BELOW else _group(form, pages, served.ident[found])
        key = (group, form.place.name, left, right, form.in_base64)
        line, places = held.setdefault(key, (Line(group, form.place.name, form.place.use, one, left, right), []))
        line.whole[one.written] = expected
        places.append(found)
    shown_on = _Answers(looked, served)
    for line, some in held.values():
        yield line, _fill(line, served, np.concatenate(some), shown_on)


def _group(form: Form, pages: np.ndarray, idents: np.ndarray) -> str:
    """Return where a form is mended, given the answers that have it."""
    if form.place.use is Use.KEPT:
        return STAY
    if form.place.name.startswith("header "):
        return HEADERS
    if not len(pages) or find(pages, idents[:1])[0] < 0:
        return FILES if form.place.use is Use.LOADED else TOLD
    return TEMPLATE if len(np.unique(idents)) >= max(_FEWEST, _SHARE * len(pages)) else TEXT


def _fill(line: Line, served: ServedLeftovers, at: np.ndarray, shown_on: "_Answers") -> np.ndarray | None:
    """Note how often and where a line stands; return the rows of pages that show it."""
    idents, first = np.unique(served.ident[at], return_index=True)
    counts, forms = served.times[at][first], served.form[at][first]
    line.times, line.answers = int(served.times[at].sum()), len(idents)
    for place in np.argsort(-counts, kind="stable")[:_MOST_ITEMS].tolist():
        shown = shown_on.place.get(int(idents[place]), "")
        line.items.append((shown, served.forms[int(forms[place])].sample, times(int(counts[place]))))
    line.uncut()
    return shown_on.rows(idents)


class _Answers:
    """Where the answers of the destination stand."""

    def __init__(self, looked: Looked, served: ServedLeftovers) -> None:
        texts = list(served.addresses.values())
        self.place = dict(zip(served.addresses, addresses.places(texts, looked.right.bases[0]), strict=True))
        self._row: dict[int, int] = {}
        if (pages := looked.pages) is not None:
            texts = pages.right_address
            asked = list(map(looked.rule.reached, texts)) if looked.rule.forms else texts
            at = np.flatnonzero(pages.right != 0).tolist()
            idents = addresses.idents([asked[row] for row in at]).tolist()
            self._row = dict(zip(idents, at, strict=True))

    def rows(self, idents: np.ndarray) -> np.ndarray | None:
        """Return the rows of pages (int32) that stand under some addresses; None where any of them is no page."""
        found = [self._row.get(ident, -1) for ident in idents.tolist()]
        return np.array(sorted(found), np.int32) if found and min(found) >= 0 else None
