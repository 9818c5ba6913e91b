"""Loads pages that no address led to, as pairing reads them."""

from collections.abc import Callable
from itertools import islice, pairwise

import numpy as np

from palinode.core import address as addresses
from palinode.core.columns import find, offsets
from palinode.core.edges import slices
from palinode.core.fields import Field, Place
from palinode.core.packed_facts import PackedFacts
from palinode.core.pairing.pages import Pages
from palinode.core.pairing.reader import Kept, Reader
from palinode.core.rule import Rule
from palinode.core.temporary_address import Forms
from palinode.records import bulk_copy, column_files, page_facts
from palinode.records.models import Capture

_TOGETHER = 500


class PairingInput:
    """The pages of both sides as pairing reads them; each is read once for a comparison."""

    def __init__(self, left: Capture, right: Capture, rule: Rule) -> None:
        self._left = _Side(lambda idents: _source_pages(left, idents, rule))
        self._right = _Side(lambda idents: _destination_pages(right, idents, rule.forms))

    def source(self, idents: np.ndarray) -> Pages:
        """Return pages of the source; their own addresses are given as the rule maps them."""
        return self._left.of(idents)

    def destination(self, idents: np.ndarray) -> Pages:
        """Return pages of the destination by their final forms."""
        return self._right.of(idents)


class _Side:
    def __init__(self, read: Callable[[np.ndarray], Pages]) -> None:
        self._read = read
        self._asked = np.zeros(0, np.int64)
        self._held: Pages | None = None

    def of(self, idents: np.ndarray) -> Pages:
        new = np.setdiff1d(idents, self._asked)
        if len(new) or self._held is None:
            found = self._read(new)
            self._held = found if self._held is None else self._held.and_more(found)
            self._asked = np.union1d(self._asked, new)
        # All that was ever asked for, or a part of it.
        return self._held if len(idents) == len(self._asked) else self._held.of(idents)


def _source_pages(capture: Capture, idents: np.ndarray, rule: Rule) -> Pages:
    """Load pages of a source; their own addresses are given as the rule maps them."""
    return _pages(capture, idents, rule.expect_many)


def _destination_pages(capture: Capture, idents: np.ndarray, forms: Forms | None) -> Pages:
    """Load pages of a destination; with ``forms`` they are known by their final form."""
    if forms is None:
        return _pages(capture, idents, list)
    final_of = forms.final_of
    texts = bulk_copy.columns_out(
        {"text": "text"},
        "SELECT text FROM records_address WHERE move_id = %(move)s AND ident = ANY(%(idents)s)",
        {"move": capture.move_id, "idents": idents.tolist()},
    )["text"]
    temporary = addresses.idents([forms.temporary_of(text) for text in texts])
    wanted = np.union1d(idents, temporary)
    return _pages(capture, wanted, lambda many: [final_of(text) for text in many], final_of)


def _pages(
    capture: Capture,
    idents: np.ndarray,
    called: Callable[[list[str]], list[str]],
    final_of: Callable[[str], str] | None = None,
) -> Pages:
    columns = column_files.of(capture)
    at = find(columns.ident, np.unique(idents))
    rows = at[(at >= 0) & np.append(columns.is_page & (columns.facts != 0), False)[at]]
    refers, places, ends = slices(columns.refers, columns.places, columns.offsets, rows)
    # What was referred to and not asked has no digest.
    digests = np.append(columns.body, 0)[np.minimum(refers, len(columns.ident))]
    images = _parts(digests, (places == Place.IMAGE) & (digests != 0), ends)
    named = np.diff(offsets((places == Place.CANONICAL) | (places == Place.HREFLANG))[ends]) > 0
    texts = columns.lines("text").at(rows)
    idents = addresses.idents([final_of(text) for text in texts]) if final_of else columns.ident[rows]
    facts = columns.facts[rows].tolist()
    every = zip(
        idents.tolist(),
        texts,
        columns.lines("title").at(rows),
        columns.lines("language").at(rows),
        columns.prints.reshape(-1, len(Field))[rows, Field.DOCUMENT].tolist(),
        images,
        named.tolist(),
        facts,
        strict=True,
    )
    reader = Reader(called)
    # What has a column comes from there, so that each page takes one look into the database.
    for start in range(0, len(rows), _TOGETHER):
        packed = page_facts.packed(capture.move_id, facts[start : start + _TOGETHER])
        some = [(*told, PackedFacts(packed[key])) for *told, key in islice(every, _TOGETHER)]
        reader.add(list(map(Kept._make, some)))
    return reader.pages()


def _parts(values: np.ndarray, chosen: np.ndarray, ends: np.ndarray) -> list[list[int]]:
    """Return the chosen values, as one list for each of the slices that ``ends`` cuts."""
    cuts = offsets(chosen)[ends].tolist()
    found = values[chosen].tolist()
    return [found[start:end] for start, end in pairwise(cuts)]
