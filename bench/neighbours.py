"""A comparison beside fifty other moves in one database, one of them huge, against the same one alone."""

import argparse
import statistics
import time

from bench.common import close, database, say
from bench.compare import seed

_STEP = 7_919_000_003
"""What the identities of a copy differ by from the first's."""


def copies(of: tuple[object, object, object], number: int, times: int) -> None:
    """Write other moves, each the first so many ``times`` over, with identities of their own."""
    from django.contrib.auth.models import User
    from django.db import connection, transaction

    from palinode.records import batch_commit, captures
    from palinode.work import move_setup

    first, *both = of
    user = User.objects.get(username="bench")
    for one in range(number):
        sides = [move_setup.typed_side(f"http://{which}{times}-{one}.example/", "") for which in ("old", "new")]
        move = move_setup.describe(f"Neighbour {times}-{one}", *sides, [], user)
        with transaction.atomic(), connection.cursor() as cursor:
            for capture in both:
                other = captures.begin(move, capture.which, {}, {"base": sides[0].base})
                rest = batch_commit.ANSWER.removeprefix("capture_id, ident, ").replace("facts, ", "")
                cursor.execute(
                    f"INSERT INTO records_answer (capture_id, ident, facts, {rest}) SELECT %s, ident # (n * %s), "
                    f"facts # (n * %s), {rest} FROM records_answer, generate_series(1, %s::bigint) n "
                    "WHERE capture_id = %s",
                    [other.pk, _STEP, _STEP, times, capture.pk],
                )
                other.state, other.complete = "closed", True
                other.save()
            rest = batch_commit.FACTS.removeprefix("move_id, key, ")
            cursor.execute(
                f"INSERT INTO records_facts (move_id, key, {rest}) SELECT %s, key # (n * %s), {rest} "
                "FROM records_facts, generate_series(1, %s::bigint) n WHERE move_id = %s",
                [move.pk, _STEP, times, first.pk],
            )
            cursor.execute(
                "INSERT INTO records_address (move_id, ident, text) SELECT %s, ident # (n * %s), text || n "
                "FROM records_address, generate_series(1, %s::bigint) n WHERE move_id = %s",
                [move.pk, _STEP, times, first.pk],
            )


def measured(of: tuple[object, object, object], runs: int) -> tuple[list[float], list[float]]:
    """Return the seconds of each of some comparisons, and the buffers that it read."""
    from palinode.records.models import Comparison
    from palinode.work.comparing import comparison_job

    move, left, right = of
    seconds, buffers = [], []
    for _ in range(runs + 1):
        comparison = Comparison.objects.create(move=move, left=left, right=right, rule=move.rule)
        before, started = read(), time.perf_counter()
        comparison_job.make(comparison)
        seconds.append(time.perf_counter() - started)
        buffers.append(read() - before)
        comparison.refresh_from_db()
        if comparison.state != Comparison.State.MADE:
            raise SystemExit(f"It could not be made: {comparison.why}")
    # The first one warms the caches.
    return seconds[1:], buffers[1:]


def read() -> int:
    """Return the buffers that were read in the database so far, from memory or disk."""
    from django.db import connection

    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_stat_force_next_flush()")
        cursor.execute("SELECT pg_stat_clear_snapshot()")
        cursor.execute("SELECT blks_hit + blks_read FROM pg_stat_database WHERE datname = current_database()")
        return int(cursor.fetchone()[0])


def main() -> None:
    """Measure alone, then beside the others; no statistics know of the move that is compared."""
    parser = argparse.ArgumentParser(prog="bench/neighbours", description=__doc__)
    parser.add_argument("--pages", type=int, default=2_000)
    parser.add_argument("--others", type=int, default=49)
    parser.add_argument("--huge", type=int, default=100, help="times the pages of the fiftieth")
    parser.add_argument("--runs", type=int, default=9)
    options = parser.parse_args()
    with database():
        from django.db import connection

        seconds, buffers = {}, {}
        of, *_ = seed(options.pages, analyse=False)
        seconds["alone"], buffers["alone"] = measured(of, options.runs)
        copies(of, options.others, 1)
        copies(of, 1, options.huge)
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE")
        # The one that is compared comes last, and nothing was analysed since.
        of, *_ = seed(options.pages, analyse=False)
        seconds["beside"], buffers["beside"] = measured(of, options.runs)
        for where in seconds:
            say(f"{where}: {statistics.median(seconds[where]):.2f} s, {statistics.median(buffers[where]):,.0f} buffers")
    ratio = statistics.median(buffers["beside"]) / statistics.median(buffers["alone"])
    print(f"neighbours-buffers ratio={ratio:.3f} max=1.3")
    close("neighbours", seconds["beside"], seconds["alone"], "max=1.3" if ratio <= 1.3 else "max=0")


if __name__ == "__main__":
    main()
