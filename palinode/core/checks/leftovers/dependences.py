"""What else depends on the old name: identifiers of services, hosts that pages load from, files that others show.

A person must look at them: whether a service knows the new name is not seen from here.
"""

from collections import defaultdict
from collections.abc import Iterator, Sequence

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.leftovers import verdicts
from palinode.core.checks.leftovers.line import DEPENDS
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Items, Row
from palinode.core.fields import FILE_PLACES, Place
from palinode.core.leftovers.named_identifiers import NamedIdentifier
from palinode.core.wording import number

_LOADED = frozenset({*FILE_PLACES, Place.FRAME})
_WORDS = {Place.SCRIPT: "scripts", Place.STYLE: "style sheets", Place.FRAME: "frames", Place.MEDIA: "sound and film"}
_MOST = 500
"""Rows of each kind, those of most pages."""
_MOST_ITEMS = 200


def rows(looked: Looked) -> Iterator[Row]:
    """Yield a row for each of them, the source facing the destination."""
    yield from _identifiers(looked.left.identifiers or (), looked.right.identifiers or ())
    yield from _hosts(looked)
    yield from _hot_links(looked)


def _row(left: str, right: str, place: str, note: str, times: int, pages: Sequence[str]) -> Row:
    items = Items((list(pages[:_MOST_ITEMS]), [""] * len(pages[:_MOST_ITEMS]), [""] * len(pages[:_MOST_ITEMS])))
    return Row(verdicts.LISTED, left, right, place, note, DEPENDS, -times, {"times": times}, items)


def _identifiers(left: Sequence[NamedIdentifier], right: Sequence[NamedIdentifier]) -> Iterator[Row]:
    before = {(one.nature, one.value) for one in left}
    for one in right[:_MOST]:
        same = (one.nature, one.value) in before
        note = "is the new name registered with it?" if same else "not at the source"
        yield _row(one.value if same else "", one.value, one.nature, note, one.answers, one.examples)


def _hosts(looked: Looked) -> Iterator[Row]:
    """Yield the hosts of others that pages of the destination load from; such a host may let in the old name alone."""
    links = looked.right.links
    if links is None:
        return
    ours = {addresses.bare_host(addresses.split(base).host) for base in (*looked.left.bases, *looked.right.bases)}
    before = set(_loaded(looked.left, ours))
    for host, at in sorted(_loaded(looked.right, ours).items(), key=lambda one: -len(one[1]))[:_MOST]:
        pages = np.unique(links.page[at])
        kinds = dict.fromkeys(_WORDS.get(Place(place), "images") for place in np.unique(links.place[at]).tolist())
        note = f"loaded by {number(len(pages), 'page')}; does it let the new name in?"
        shown = links.texts(pages[:_MOST_ITEMS])
        yield _row(host if host in before else "", host, f"host of {' and '.join(kinds)}", note, len(at), shown)


def _loaded(side: Side, ours: set[str]) -> dict[str, np.ndarray]:
    """Return by host of others which links load from it."""
    links = side.links
    if links is None:
        return {}
    further = np.flatnonzero(links.of_places(_LOADED) & (links.to >= len(links.ident)))
    targets, place = np.unique(links.to[further], return_inverse=True)
    hosts: dict[str, list[int]] = defaultdict(list)
    for at, text in enumerate(links.texts(targets)):
        host = addresses.split(text).host
        if addresses.bare_host(host) not in ours:
            hosts[host].append(at)
    found = {}
    for host, some in hosts.items():
        wanted = np.zeros(len(targets), bool)
        wanted[some] = True
        found[host] = further[wanted[place]]
    return found


def _hot_links(looked: Looked) -> Iterator[Row]:
    """Yield the files of the source that pages of other sites show, each with the address that it is to have."""
    of_file: dict[str, list[tuple[str, int]]] = defaultdict(list)
    for one in looked.left.hot_links or ():
        of_file[one.address].append((one.host, one.times))
    for address, shown in list(of_file.items())[:_MOST]:
        times = sum(count for _, count in shown)
        others = f" and {number(len(shown) - 1, 'other')}" if len(shown) > 1 else ""
        note = f"{shown[0][0]}{others} would show nothing without a redirect"
        yield _row(address, looked.rule.expect(address).address, "file that other sites show", note, times, [])
