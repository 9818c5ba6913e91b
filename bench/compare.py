"""A comparison from facts in PostgreSQL to rows and findings written, against sort and join of the addresses.

Both in processor seconds of all their processes.
"""

import argparse
import os
import random
import resource
import subprocess
import time
from pathlib import Path

from bench.common import close, database, processor_seconds, say, server_pid

OLD, NEW = "http://tidemill.quillhaven.example", "http://quillhavenmill.example"
REFERENCES = 20


def seed(pages: int, analyse: bool = True) -> tuple[object, list[str], list[str]]:
    """Write two captures: 3 % each found under another address, not judged, altered, moved by the rule, retired.

    Return the move with its captures, and the address lists. The tables are analysed, unless told otherwise.
    """
    from django.contrib.auth.models import User
    from django.db import transaction

    from palinode.core import address as addresses
    from palinode.core.facts import Facts
    from palinode.core.fields import Place
    from palinode.core.markup import Block, Reference
    from palinode.records import batch_commit, bulk_copy, captures, frontier, rows
    from palinode.records.models import Decision, Move
    from palinode.work import move_setup

    draw = random.Random(3)
    sides = [move_setup.typed_side(f"{host}/", "") for host in (OLD, NEW)]
    user, _ = User.objects.get_or_create(username="bench")
    move = move_setup.describe("Bench", *sides, ["/section-1 -> /department-1"], user)
    every = 100 // 3
    paths = [f"/section-{n % 33}/some-words-of-a-title-{n}" for n in range(pages)]
    # 0 elsewhere, 1 moved by the rule, 2 unknown, 3 altered, 4 retired
    fate = {n: n % every for n in range(pages)}
    with transaction.atomic():
        left_capture, right_capture = (
            captures.begin(move, which, {}, {"base": f"{host}/"})
            for which, host in (("source", OLD), ("destination", NEW))
        )
    written: tuple[list[str], list[str]] = ([], [])
    known: dict[int, str] = {}

    def row(capture: object, side: int, path: str, number: int, status: int | None, text: str) -> tuple[str, str]:
        host = (OLD, NEW)[side]
        address = host + path
        ident = addresses.ident(address)
        known[ident] = address
        written[side].append(path)
        if status != 200:
            values = (ident, None, status, None if status else "timed out three times", False, None, None, 0, None)
            values += (None, 2, 1, "2026-11-01T00:00:00Z", 3)
            return rows.answer_line(capture.pk, values) + "\t\\N\t\\N\t0\t0\t\\N\n", ""
        references = []
        for step in range(REFERENCES):
            to = (number * 7 + step) % pages
            target = host + (paths[to] if side == 0 else moved(paths[to]))
            target_ident = addresses.ident(target)
            known[target_ident] = target
            place = Place.LINK if step % 2 else Place.TEMPLATE_LINK
            references.append(Reference(place, target, target_ident, target))
        blocks = (Block("h1", f"Page {number}", "main/h1", True), Block("p", text, "main/p", True))
        facts = Facts(
            title=f"Page {number} of the mill", words=len(text.split()), blocks=blocks, references=tuple(references)
        )
        values = (ident, None, 200, None, True, "text/html", None, 900, None, ident, 2, 1, "2026-11-01T00:00:00Z", 3)
        return (
            rows.answer_line(capture.pk, values) + "\t\\N\t\\N\t0\t0\t\\N\n",
            rows.facts_line(move.pk, ident, facts),
        )

    def moved(path: str) -> str:
        return path.replace("/section-1/", "/department-1/")

    def store(capture: object, side: int, entries: list[tuple[str, int, int | None, str]]) -> None:
        lines = [row(capture, side, *entry) for entry in entries]
        bulk_copy.copy_in("records_answer", batch_commit.ANSWER, (answer for answer, _ in lines))
        bulk_copy.copy_in("records_facts", batch_commit.FACTS, (facts for _, facts in lines if facts))

    text = [" ".join(draw.choices(["tide", "wheel", "stone", "flour", "sack", "gate"], k=60)) for _ in range(50)]
    own = {n: " ".join(f"word{draw.randrange(3_000)}" for _ in range(60)) for n in range(0, pages, every)}
    with transaction.atomic():
        store(left_capture, 0, [(path, n, 200, own.get(n, text[n % 50])) for n, path in enumerate(paths)])
        right: list[tuple[str, int, int | None, str]] = []
        for n, path in enumerate(paths):
            status: int | None = {0: 404, 2: None}.get(fate[n], 200)
            right.append((moved(path), n, status, text[n % 50] + (" and more" if fate[n] == 3 else "")))
        right += [(f"/section-2/new-{n}", n, 200, f"{own[n]} and more") for n in own]
        store(right_capture, 1, right)

        frontier.add_addresses(move.pk, known.items())
        # One decision a page, as a person would have made them.
        decisions_made = [OLD + paths[n] for n in range(4, pages, every)]
        Decision.objects.bulk_create(
            Decision(move=move, kind="retire", scope={"address": address}, reason="long over", author=user)
            for address in decisions_made
        )
    for capture in (left_capture, right_capture):
        capture.state, capture.complete, capture.pages = "closed", True, pages
        capture.save()
    Move.objects.filter(pk=move.pk).update(baseline=left_capture)
    from django.db import connection

    if analyse:
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE")
    return (move, left_capture, right_capture), *written


def yardstick(folder: Path, left: list[str], right: list[str]) -> float:
    """Return the processor seconds of sorting both lists to files and joining them to a file."""
    (folder / "left").write_text("\n".join(left) + "\n")
    (folder / "right").write_text("\n".join(right) + "\n")
    command = "sort left -o left.s && sort right -o right.s && join -a1 -a2 left.s right.s > joined"
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, shell=True, check=True, cwd=folder, env=os.environ | {"LC_ALL": "C"})
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/compare", description=__doc__)
    parser.add_argument("--pages", type=int, default=100_000)
    parser.add_argument("--runs", type=int, default=5)
    options = parser.parse_args()
    with database() as folder:
        server = server_pid(folder)
        (move, left_capture, right_capture), left, right = seed(options.pages)
        from django.db import connection

        from palinode.records import outcomes
        from palinode.records.models import CheckOutcome, Comparison
        from palinode.work.comparing import comparison_job

        ours: list[float] = []
        theirs: list[float] = []
        for run in range(options.runs):
            theirs.append(yardstick(folder, left, right))
            # An outcome of the same inputs would not be written again.
            Comparison.objects.all().delete()
            CheckOutcome.objects.all().delete()
            with connection.cursor() as cursor:
                cursor.execute(
                    "TRUNCATE records_checkrowblock, records_checkcolumn, records_checkitems, records_checkfinding"
                )
            comparison = Comparison.objects.create(move=move, left=left_capture, right=right_capture, rule=move.rule)
            before, started = processor_seconds(os.getpid(), server), time.perf_counter()
            comparison_job.make(comparison)
            ours.append(processor_seconds(os.getpid(), server) - before)
            by_clock = time.perf_counter() - started
            say(
                f"run {run + 1}: sort and join {theirs[-1]:.3f} s, ours {ours[-1]:.2f} s, by the clock {by_clock:.2f} s"
            )
        fates: dict[str, int] = {}
        for fate, _, number in outcomes.of(comparison, "pages").counts:
            fates[fate] = fates.get(fate, 0) + number
        say(f"{fates}")
    close("compare", ours, theirs, "max=20")


if __name__ == "__main__":
    main()
