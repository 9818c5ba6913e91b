"""Findings as columns: of one check, or of all checks of a comparison together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np

from palinode.core import edges
from palinode.core.checks.kind import Kind
from palinode.core.findings.finding import Finding
from palinode.core.weight import Weight

NO_ROWS = np.zeros(0, np.int64)


@dataclass(frozen=True)
class Findings:
    """n findings; arrays and lists of length n.

    Those of one check stand by the weight of their kind, then kind, then row.
    """

    kinds: tuple[Kind, ...]
    kind: np.ndarray
    """int16: places in ``kinds``."""
    row: np.ndarray
    """int64: row of the check's ledger; -1 for none."""
    subject: np.ndarray
    """int64: identity of what each is about, often of the source page."""
    key: np.ndarray
    """int64: what makes it the same finding in the next comparison: its kind and its subject."""
    seen: np.ndarray
    """int64: what it looks like: another number as soon as either side says something else there."""
    left: list[str]
    """What stands at the source, often an address; empty for nothing."""
    right: list[str]
    detail: list[str]
    pages: np.ndarray
    """int32: on how many pages it is seen."""
    weight: np.ndarray
    """int16: a Weight."""
    check: np.ndarray
    """int16: place of its check among those of the comparison."""
    place: np.ndarray
    """int32: place among the findings of its check."""
    single: dict[int, Finding] = field(default_factory=dict)
    """By place, those that a check gave one by one."""

    def __len__(self) -> int:
        return len(self.kind)

    def of(self, *kinds: Kind) -> np.ndarray:
        """Return bool (n,): which are of these kinds."""
        wanted = {kind.word for kind in kinds}
        found: np.ndarray = np.isin(self.kind, [at for at, kind in enumerate(self.kinds) if kind.word in wanted])
        return found

    def kind_of(self, place: int) -> Kind:
        """Return the kind of one."""
        return self.kinds[int(self.kind[place])]


class Many(NamedTuple):
    """Findings of one kind, as columns of the same length."""

    kind: Kind
    row: np.ndarray
    subject: np.ndarray
    seen: np.ndarray
    left: list[str]
    right: list[str]
    detail: list[str]


def columns(kinds: tuple[Kind, ...], many: Sequence[Many], single: Sequence[Finding] = ()) -> Findings:
    """Return findings in their order, from columns (``many``) and one by one (``single``)."""
    codes = {kind.word: at for at, kind in enumerate(kinds)}
    told = [np.array([codes[one.kind.word] for one in single], np.int64)]
    kind = np.concatenate([NO_ROWS, *(np.full(len(one.row), codes[one.kind.word]) for one in many), *told])
    row = np.concatenate([NO_ROWS, *(one.row for one in many), np.array([one.row for one in single], np.int64)])
    subject = np.concatenate(
        [NO_ROWS, *(one.subject for one in many), np.array([one.subject for one in single], np.int64)]
    )
    seen = np.concatenate([NO_ROWS, *(one.seen for one in many), np.array([one.seen for one in single], np.int64)])
    first = len(kind) - len(single)
    pages = np.ones(len(kind), np.int32)
    pages[first:] = [one.pages for one in single]
    weight = np.array([int(one.weight) for one in kinds], np.int16)[kind]
    order = np.lexsort((row, kind, weight))
    numbers = np.array([one.number for one in kinds], np.int64)

    def ordered(texts: list[str]) -> list[str]:
        return [texts[at] for at in order.tolist()]

    return Findings(
        kinds=kinds,
        kind=kind[order].astype(np.int16),
        row=row[order],
        subject=subject[order],
        key=edges.mixed(subject, numbers[kind])[order],
        seen=seen[order],
        left=ordered([text for one in many for text in one.left] + [one.left for one in single]),
        right=ordered([text for one in many for text in one.right] + [one.right for one in single]),
        detail=ordered([text for one in many for text in one.detail] + [one.detail for one in single]),
        pages=pages[order],
        weight=weight[order],
        check=np.zeros(len(kind), np.int16),
        place=np.arange(len(kind), dtype=np.int32),
        single={place: single[at - first] for place, at in enumerate(order.tolist()) if at >= first},
    )


def joined(parts: Sequence[Findings], weights: Mapping[str, Weight] | None = None) -> Findings:
    """Return the findings of several checks as one, in the order of the checks.

    ``weights`` are those that a person gave to kinds, by their words.
    """
    kinds = tuple(kind for part in parts for kind in part.kinds)
    starts = np.cumsum([0, *(len(part.kinds) for part in parts)]).tolist()
    firsts = np.cumsum([0, *(len(part) for part in parts)]).tolist()
    given = weights or {}
    table = np.array([int(given.get(kind.word, kind.weight)) for kind in kinds], np.int16)
    kind = np.concatenate([NO_ROWS, *(part.kind + start for part, start in zip(parts, starts, strict=False))])
    columns = {
        name: np.concatenate([np.zeros(0, dtype), *(getattr(part, name) for part in parts)])
        for name, dtype in (
            ("row", np.int64), ("subject", np.int64), ("key", np.int64), ("seen", np.int64),
            ("pages", np.int32), ("place", np.int32),
        )
    }  # fmt: skip
    return Findings(
        kinds=kinds,
        kind=kind.astype(np.int16),
        weight=table[kind] if len(kind) else np.zeros(0, np.int16),
        check=np.repeat(np.arange(len(parts), dtype=np.int16), [len(part) for part in parts]),
        left=[text for part in parts for text in part.left],
        right=[text for part in parts for text in part.right],
        detail=[text for part in parts for text in part.detail],
        single={first + at: one for part, first in zip(parts, firsts, strict=False) for at, one in part.single.items()},
        **columns,
    )


def ranked(findings: Findings, rank: np.ndarray) -> Findings:
    """Return findings with ranks in place of rows: ``rank`` (int64) is that of each row as the check gave them."""
    return replace(findings, row=np.append(rank, -1)[findings.row])
