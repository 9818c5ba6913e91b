"""Looks at what is known beside a comparison: a later capture of its source, what caches gave."""

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.comparison_context import Beside, Later
from palinode.core.columns import SideColumns
from palinode.core.compare import Paired
from palinode.core.pairing.parts import Parts
from palinode.core.rule import Rule
from palinode.core.wording import duration
from palinode.records import captures, page_facts, sides
from palinode.records.models import Capture, Comparison

_GONE = (404, 410)


def look(comparison: Comparison, paired: Paired, rule: Rule, pieces: Parts) -> Beside:
    """Return the context of a comparison: a later capture of its source, and what caches gave."""
    sample = comparison.right.sample or {}
    asked = sample.get("asked", 0)
    return Beside(
        later=_later(comparison, paired, rule),
        older=frozenset(sample.get("older_examples", ())),
        older_share=sample.get("older", 0) / asked if asked else 0.0,
        older_by=duration(sample["keeps"]) if sample.get("keeps") else "",
        parts=pieces,
    )


def _later(comparison: Comparison, paired: Paired, rule: Rule) -> Later | None:
    """Return what the last capture of the source says that was made after the one compared; None without one."""
    capture = captures.latest(comparison.move, "source")
    if capture is None or capture.pk <= comparison.left_id or not capture.pages:
        return None
    side = sides.load_right(capture)
    left, right = paired.left, paired.right
    at = side.find(left.ident[paired.rows])
    there = (at >= 0) & np.append(side.is_page, False)[at]
    whole, partner = np.append(side.whole, 0)[at], paired.pairs.partner
    altered = there & (partner >= 0) & (whole != left.whole[paired.rows]) & (whole == right.whole[partner])
    gone = (at >= 0) & np.isin(np.append(side.status, -1)[at], _GONE)
    return Later(
        f"{capture.started_at:%-d %B %Y}",
        frozenset(left.ident[paired.rows[altered]].tolist()),
        frozenset(left.ident[paired.rows[gone]].tolist()),
        frozenset(addresses.idents(rule.expect_many(_came(capture, paired, side))).tolist()),
    )


def _came(capture: Capture, paired: Paired, side: SideColumns) -> list[str]:
    """Return the addresses of pages that a later capture of the source has, and the one compared has not."""
    new = np.setdiff1d(side.ident[side.is_page], paired.left.ident[paired.left.is_page])
    return list(page_facts.addresses_of(capture.move_id, new.tolist()).values())
