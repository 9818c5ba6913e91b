"""What is the same on many pages: menus, headers, footers, style sheets; and how those of two sides differ."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from palinode.core import address as addresses
from palinode.core import alignment
from palinode.core.boilerplate import NOTHING, Boilerplate
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.fields import Place
from palinode.core.findings import Finding
from palinode.core.markup import Block
from palinode.core.packed_facts import PackedFacts

MOST_LOOKED_AT = 80
"""Pairs of templates, largest first, of which one page a side is read."""
_FEWEST = 2
_SHARE = 0.03
"""Pages on which a difference must be seen to be one of the template, and of those looked at the share."""
_MOST_TOLD = 200
_LONGEST = 160
_MIX = np.int64(-7046029254386353131)
"""Odd and with bits everywhere, so that two pairs do not become one."""


@dataclass(frozen=True)
class Template:
    """What one page shows of the template that it stands in."""

    address: str
    texts: tuple[str, ...]
    links: tuple[str, ...]
    """The addresses that its menus and footers lead to, as they are expected at the destination."""
    styles: frozenset[str]
    """Names of its style sheets."""


def read(
    address: str,
    rest: PackedFacts,
    expected: Callable[[list[str]], list[str]],
    masked: Callable[[Sequence[Block]], Iterable[Block]] = iter,
    repeated: Boilerplate = NOTHING,
) -> Template:
    """Read a page's template from what is kept of its facts.

    ``expected`` says where addresses of its side are expected at the destination; ``masked`` takes out what is
    volatile. What is ``repeated`` belongs to the template wherever it stands.
    """
    blocks = masked(rest.blocks)
    # A link of the head has its relation beside it, and is the page's own.
    links = [one.written for one in rest.at(Place.TEMPLATE_LINK) if not one.label]
    linked = expected([addresses.normal(one, address) or one for one in links])
    if repeated.targets:
        others = [one.written for one in rest.at(Place.LINK)]
        to = expected([addresses.normal(one, address) or one for one in others])
        linked += [
            one for one, ident in zip(to, addresses.idents(to).tolist(), strict=True) if ident in repeated.targets
        ]
    return Template(
        address,
        tuple(dict.fromkeys(block.text for block in blocks if not block.main or block.text in repeated.texts)),
        tuple(dict.fromkeys(linked)),
        frozenset(name for one in rest.at(Place.STYLE) if (name := style_name(one.written))),
    )


def style_name(written: str) -> str:
    """Return the name of a style sheet's file, without folder and query; empty if it is none."""
    name = written.partition("?")[0].partition("#")[0].rpartition("/")[2]
    return name if name.lower().endswith(".css") else ""


def groups(left: np.ndarray, right: np.ndarray) -> list[np.ndarray]:
    """Return the pairs grouped by their two templates, the largest group first; the first of a group stands for it.

    ``left`` and ``right`` (int64, n) are prints of the templates of n pairs; returned are places in them, ascending.
    """
    # Both prints as one number: whole rows take ten times as long to sort.
    _, first, which, count = np.unique(left * _MIX + right, return_index=True, return_inverse=True, return_counts=True)
    members, ends = np.argsort(which, kind="stable"), np.cumsum(count)
    return [members[ends[at] - count[at] : ends[at]] for at in np.lexsort((first, -count))[:MOST_LOOKED_AT].tolist()]


def differences(pairs: Iterable[tuple[Template, Template, np.ndarray]]) -> list[Finding]:
    """Return what differs between the templates of some pairs of pages, each standing for all with the same two.

    Those are told as rows of pages (int64), which are distinct.
    """
    found: dict[tuple[Kind, str], Finding] = {}
    looked_at = 0
    for left, right, rows in pairs:
        looked_at += len(rows)
        told = {(kind, locus): detail for kind, locus, detail in _between(left, right)}
        for (kind, locus), detail in told.items():
            before = found.get((kind, locus))
            on = rows.astype(np.int32)
            if before is None:
                found[kind, locus] = Finding(kind, locus, len(on), left.address, right.address, detail, on=on)
            else:
                on = np.concatenate([before.on, on])
                found[kind, locus] = replace(before, pages=len(on), on=on)
    shared = [one for one in found.values() if one.pages >= max(_FEWEST, _SHARE * looked_at)]
    return sorted(shared, key=lambda one: (-one.pages, kinds.ALL.index(one.kind), one.locus))[:_MOST_TOLD]


def _between(left: Template, right: Template) -> Iterable[tuple[Kind, str, str]]:
    yield from _texts(left.texts, right.texts)
    gone = [link for link in left.links if link not in right.links]
    came = {addresses.path(link): link for link in right.links if link not in left.links}
    for link in gone:
        path = addresses.path(link)
        said = f"leads to {_short(came.pop(path))}" if path in came else "is gone"
        yield kinds.TEMPLATE_LINK, f"link {path}", f"link to {_short(path)} {said}"
    for path, link in came.items():
        yield kinds.TEMPLATE_LINK, f"link {path}", f"link to {_short(link)} came"
    if left.styles != right.styles:
        lost, new = sorted(left.styles - right.styles), sorted(right.styles - left.styles)
        told = [f"{', '.join(names[:4])} {verb}" for names, verb in ((lost, "gone"), (new, "came")) if names]
        yield kinds.TEMPLATE_STYLES, "styles", "; ".join(told)


def _texts(left: tuple[str, ...], right: tuple[str, ...]) -> Iterable[tuple[Kind, str, str]]:
    before, there = frozenset(left), frozenset(right)
    for _, a, b, c, d in alignment.opcodes(left, right):
        gone = [text for text in left[a:b] if text not in there]
        came = [text for text in right[c:d] if text not in before]
        if len(gone) == len(came):
            # One in the other's place.
            for text, other in zip(gone, came, strict=True):
                yield kinds.TEMPLATE_TEXT, f"text {text}", f"“{_short(text)}” became “{_short(other)}”"
            continue
        for texts, verb in ((gone, "is gone"), (came, "came")):
            for text in texts:
                yield kinds.TEMPLATE_TEXT, f"text {text}", f"“{_short(text)}” {verb}"


def _short(text: str) -> str:
    return text if len(text) <= _LONGEST else text[:_LONGEST] + "…"
