"""The check of answers: everything that one capture asked, and what it gave. Of one capture, over a query, live."""

from palinode.core.checks.check import Cell, Check, Column, Of, Verdict
from palinode.core.checks.thread import Thread

CHECK = Check(
    name="answers",
    version=1,
    title="Answers",
    view="captures",
    of=Of.ONE_CAPTURE,
    verdicts=(
        Verdict("not_fetched", "Not fetched", Thread.DOTS, wants=True),
        Verdict("failed", "Failed", Thread.CUT, wants=True),
        Verdict("recognised", "Something else", Thread.WAVY, wants=True),
        Verdict("redirect", "Redirect", Thread.BENT),
        Verdict("page", "Page", Thread.STRAIGHT),
        Verdict("file", "File", Thread.STRAIGHT),
        Verdict("other", "Asked besides", Thread.STRAIGHT),
        Verdict("left_out", "Left out", Thread.DASHED),
        Verdict("waiting", "Waiting", Thread.RING),
    ),
    kinds=(),
    columns=(
        Column("url", "Address", Cell.LEFT),
        Column("title", "Title", Cell.LEFT_NOTE),
        Column("what", "What it gave", Cell.VERDICT),
        Column("answer", "Answer", Cell.RIGHT),
        Column("detail", "How known, and what else", Cell.RIGHT_NOTE),
        Column("status", "Status", Cell.NUMBER),
        Column("bytes", "Bytes", Cell.NUMBER),
        Column("milliseconds", "Milliseconds", Cell.NUMBER),
    ),
    shown=("status", "bytes", "milliseconds"),
)
