"""An acceptance at 100,000 pages and 10,000 findings, against reading keys and states alone; and what it adds.

Both by the clock, in one process, through the same connection.
"""

import argparse
import statistics
import time

from bench.common import close, database, say
from bench.compare import seed

_TABLES = ("records_decision", "records_judgement", "records_comparison", "records_comparisonfindings")
_EACH = 500
"""Findings of an acceptance."""


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/decide", description=__doc__)
    parser.add_argument("--pages", type=int, default=100_000)
    parser.add_argument("--runs", type=int, default=15)
    options = parser.parse_args()
    with database():
        (move, left, right), *_ = seed(options.pages)
        from django.contrib.auth.models import User
        from django.db import connection, transaction

        from palinode.records import decisions, findings
        from palinode.records.findings import Choice
        from palinode.records.judgements import JudgedFindings
        from palinode.records.models import Comparison
        from palinode.work.comparing import comparison_job
        from palinode.work.deciding import judgement

        comparison = Comparison.objects.create(move=move, left=left, right=right, rule=move.rule)
        comparison_job.make(comparison)
        user = User.objects.get()

        def size() -> int:
            with connection.cursor() as cursor:
                cursor.execute(f"SELECT {' + '.join(f'pg_total_relation_size({name!r})' for name in _TABLES)}")
                return int(cursor.fetchone()[0])

        def read() -> float:
            """Read the keys and states of all findings."""
            started = time.perf_counter()
            judged = JudgedFindings(Comparison.objects.select_related("judgement").get(pk=comparison.pk))
            assert len(judged.records["key"]) and len(judged.records["state"])
            return time.perf_counter() - started

        def accept(first: int) -> float:
            """Accept some findings as the API does."""
            started = time.perf_counter()
            latest = Comparison.objects.select_related("move", "judgement").get(pk=comparison.pk)
            chosen = findings.acceptance(latest, Choice(numbers=tuple(range(first, first + _EACH))), "", 50_000)
            with transaction.atomic():
                made = decisions.decide(
                    latest.move, "accept", decisions.of_marks(chosen.marks, chosen.where), "as agreed", user
                )
                judgement.renew_latest(latest.move, made)
            return time.perf_counter() - started

        read(), accept(0)
        before, ours, theirs = size(), [], []
        for run in range(options.runs):
            theirs.append(read())
            ours.append(accept((run + 1) * _EACH))
        added = (size() - before) / options.runs
        comparison.refresh_from_db()
        total = sum(number for *_, number in comparison.counts)
        say(f"{total:,} findings, {_EACH} accepted each time; {comparison.counts}")
        say(f"reading {1_000 * statistics.median(theirs):.1f} ms, accepting {1_000 * statistics.median(ours):.1f} ms")
        say(f"decide added_kb={added / 1024:.1f} max=64")
    close("decide", ours, theirs, "max=10")


if __name__ == "__main__":
    main()
