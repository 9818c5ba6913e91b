"""The check of content: posts, pages, terms, comments, media and accounts on both sides, item by item."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.content import verdicts
from palinode.core.checks.content.chosen_tables import chosen_tables
from palinode.core.checks.content.counted_rows import PagesOf, rows
from palinode.core.checks.content.dropped_terms import DroppedTerm, dropped_terms
from palinode.core.checks.content.facing_tables import KINDS, FacingTable, tables
from palinode.core.checks.content.listed_pages import listed_pages
from palinode.core.checks.content.modified_days import modified_days
from palinode.core.checks.content.other_counts import OtherCounts
from palinode.core.checks.content.seen_pages import NOT_SEEN, SeenPages, is_lost
from palinode.core.checks.content.typed_rows import TYPED, add_typed
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.findings import Finding, columns
from palinode.core.ledger import Ledger
from palinode.core.options import option
from palinode.core.platforms import belonging
from palinode.core.platforms.facing import NOBODY, SHORTER
from palinode.core.platforms.items import SiteItems
from palinode.core.wording import sentence

EVIDENCE = (*KINDS, "pages", "sitemap", "feed", TYPED)
"""What counts: numbers of a row are named by side and one of these."""


@dataclass(frozen=True)
class ContentOptions:
    """What people may set."""

    left_out: tuple[str, ...] = option(
        (),
        "Left out",
        "What is counted and not compared, one a line, as its row calls it: Comments, approved.",
    )
    shorter: float = option(
        float(SHORTER), "Shorter by", "Percent of its text that an item may lack without a word.", least=0, most=100
    )
    tables: tuple[str, ...] = option(
        (),
        "Further tables",
        "Tables to be counted besides, one a line; by the values of a column behind a colon: orders: status. The table "
        "of a dump in Captures, opened, writes such a line.",
    )


def judge(looked: Looked) -> Outcome:
    """Hold the items of both sides against each other."""
    left, right = looked.left.items or (), looked.right.items or ()
    options = looked.options or ContentOptions()
    left_out = frozenset(one.lower() for one in options.left_out)
    others = OtherCounts(left, right)
    made: list[Row] = []
    found: list[Finding] = []
    held = list(tables(left, right, options.shorter))
    missing = [np.zeros(0, np.int64)]
    dropped: list[DroppedTerm] = []
    for table in held:
        pages = _pages_of(table, looked) if looked.pages is not None else None
        if pages is not None:
            missing.append(pages.left[(table.facing.right == NOBODY) & (pages.left != NOT_SEEN)])
        dropped += dropped_terms(table, pages)
        made += rows(table, pages, others, left_out, found, len(made))
    made += _counters(held, found, len(made))
    made = add_typed(made, left, right, found)
    chosen, lacking = chosen_tables(looked.left.database, looked.right.database, options.tables, found, len(made))
    made += chosen
    if looked.pages is not None:
        made += listed_pages(looked, looked.pages, found, len(made))
        made += modified_days(looked, looked.pages, found, len(made))
    made += [] if held else _alone(left, right)
    told = outcome(made, columns(CHECK.kinds, [], found), unseen=(*_unseen(left, right, bool(held)), *lacking))
    gives = {"missing": np.concatenate(missing), "dropped": tuple(dropped)}
    return replace(told, gives=gives)


def _pages_of(table: FacingTable, looked: Looked) -> PagesOf:
    pages = looked.pages
    assert pages is not None
    name = table.left.items.table.name
    one, other = table.installations
    left = SeenPages(one, looked.left.bases, pages.left).rows(name, len(table.left))
    right = SeenPages(other, looked.right.bases, pages.right, looked.rule.forms).rows(name, len(table.right))
    return PagesOf(left, right, is_lost(pages, left), lambda row: _place(pages, row))


def _place(pages: Ledger, row: int) -> str:
    return pages.left_place(row) if pages.left[row] else pages.right_place(row)


def _counters(held: Sequence[FacingTable], found: list[Finding], first: int) -> list[Row]:
    """Return a row for each table in which the platform's own counters contradict the rows of either side."""
    made: list[Row] = []
    for table in held:
        both = [
            belonging.contradictions(one, side.items)
            for one, side in zip(table.installations, (table.left, table.right), strict=True)
        ]
        if not both[0] and not both[1]:
            continue
        noun = table.left.items.table.noun
        name = sentence(f"{table.label} counters of {noun}s that contradict their rows".strip())
        worse = len(both[1]) > len(both[0])
        said = [f"counter {counter:,}, rows {count:,}" for _, counter, count in both[1]]
        titles = [table.right.title[at] or table.right.slug[at] or table.right.identity[at] for at, *_ in both[1]]
        note = f"{titles[0]}: {said[0]}" if worse else ""
        if worse:
            kind, looks = verdicts.COUNTERS_WRONG, "\n".join(map(" ".join, zip(titles, said, strict=True)))
            detail = f"{name}: {note}{', and others' if len(said) > 1 else ''}"
            found.append(Finding(kind, name, 1, "", note, detail, row=first + len(made), looks=looks))
        nothing = [""] * len(said)
        made.append(
            Row(
                verdicts.DIFFERENT if worse else verdicts.SAME,
                f"{len(both[0]):,}",
                f"{len(both[1]):,}",
                name,
                note,
                order=1_000,
                items=Items((nothing, titles, said, nothing)) if said else None,
            )
        )
    return made


def _alone(left: Sequence[SiteItems], right: Sequence[SiteItems]) -> list[Row]:
    """Return what one side alone counts, which is held against nothing."""
    made = []
    for side, held in (("source", left), ("destination", right)):
        for one in [each for each in held if each.installations][:1]:
            for place, count in enumerate(one.installations[0].counts() if one.installations else []):
                name = sentence(f"{count.noun}{f', {count.status}' if count.status else ''}")
                texts = (f"{count.number:,}", "") if side == "source" else ("", f"{count.number:,}")
                verdict = verdicts.SET_ASIDE if count.folded else verdicts.UNKNOWN
                numbers = {f"{side}_{one.kind}": count.number}
                made.append(Row(verdict, *texts, name, "", order=place, numbers=numbers))
    return made


def _unseen(left: Sequence[SiteItems], right: Sequence[SiteItems], held: bool) -> tuple[str, ...]:
    left, right = ([one for one in side if one.installations] for side in (left, right))
    if held:
        return ()
    if not (left or right):
        return ("content counts (neither side has a dump or an export)",)
    if left and right:
        return ("content, since the two sides have no platform in common that is known",)
    there, lacks = ("source", "destination") if left else ("destination", "source")
    return (f"content, of which there is a dump or an export of the {there}, and none of the {lacks}",)


CHECK = Check(
    name="content",
    version=2,
    title="Content",
    view="counts",
    reads=(Reads.PAIRS, Reads.ITEMS, Reads.KNOWN, Reads.DATABASE),
    after=("pages",),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("counted", "Counted", Cell.LEFT_NOTE),
        Column("source", "At the source", Cell.LEFT),
        Column("destination", "At the destination", Cell.RIGHT),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
        *(
            Column(f"{side}_{kind}", f"By {kind}, {side}", Cell.NUMBER)
            for side in ("source", "destination")
            for kind in EVIDENCE
        ),
    ),
    shown=tuple(f"{side}_{kind}" for side in ("source", "destination") for kind in EVIDENCE),
    items=("source", "destination", "what", "page"),
    judge=judge,
    options=ContentOptions,
)
