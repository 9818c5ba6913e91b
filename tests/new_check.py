"""A check that is declared here alone, for tests of what the frame does with any."""

from collections.abc import Iterator
from contextlib import contextmanager
from unittest import mock

from palinode.core.checks import registry
from palinode.core.checks.check import Cell, Check, Column, Reads, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.checks.thread import Thread
from palinode.core.findings import Finding, columns
from palinode.core.weight import Weight

SHOUTING = Kind("shouting", "title in capitals", Weight.BLOCKS, remedy="Write it in small letters.")


def judge(looked) -> Outcome:
    """A row for each section, and a finding where a title of it is written in capitals."""
    rows, found = [], []
    pages = looked.pages
    for name in pages.section_names:
        here = [at for at in range(len(pages.fate)) if pages.section_names[pages.section[at]] == name]
        loud = [pages.left_address[at] for at in here if pages.left_title[at].isupper()]
        if loud:
            found.append(Finding(SHOUTING, name, len(loud), name, name, f"titles of {name} shout", row=len(rows)))
        items = Items((loud,)) if loud else None
        rows.append(Row(0 if loud else 1, name, name, numbers={"titles": len(here)}, items=items))
    return outcome(rows, columns((SHOUTING,), [], found), unseen=("the title of the moon",))


CHECK = Check(
    name="capitals",
    version=1,
    title="Capitals",
    view="site",
    reads=(Reads.PAIRS,),
    after=("pages",),
    verdicts=(Verdict("loud", "Loud", Thread.CUT, wants=True), Verdict("quiet", "Quiet", Thread.STRAIGHT)),
    kinds=(SHOUTING,),
    columns=(Column("section", "Section", Cell.LEFT), Column("titles", "Titles", Cell.NUMBER)),
    shown=("titles",),
    items=("address",),
    judge=judge,
)


@contextmanager
def registered() -> Iterator[None]:
    """Let the check be one of the registry."""
    with (
        mock.patch.object(registry, "CHECKS", (*registry.CHECKS, CHECK)),
        mock.patch.dict(registry.BY_NAME, {"capitals": CHECK}),
        mock.patch.dict(registry.KINDS, {"shouting": SHOUTING}),
    ):
        yield
