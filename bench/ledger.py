"""A page of 200 rows deep inside a ledger of a million, through the API, against the bare statements."""

import argparse
import http.client
import json
import os
import random
import statistics
import subprocess
import sys
import time

import numpy as np

from bench.common import close, database, say
from palinode.project.postgres import free_port

FATES = ("lost", "unknown", "altered", "moved", "new", "retired", "kept")
SECTIONS = 40
ROUNDS = 60


def seed(rows: int) -> tuple[int, str]:
    """Write a ledger of so many rows; return the comparison's id and a token."""
    from django.contrib.auth.models import User
    from django.db import connection, transaction

    from palinode.core.checks.outcome import Outcome
    from palinode.core.checks.pages import check as pages
    from palinode.core.checks.pages import kinds
    from palinode.core.fates import Fate
    from palinode.core.findings import columns
    from palinode.core.ledger import Differences, Ledger
    from palinode.records import captures, outcomes
    from palinode.records.models import Comparison, ComparisonCheck, Token
    from palinode.work import move_setup

    user = User.objects.create_user("bench")
    sides = [move_setup.typed_side(f"http://{name}.example/", "") for name in ("old", "new")]
    move = move_setup.describe("Bench", *sides, [], user)
    with transaction.atomic():
        left, right = (captures.begin(move, which, {}, {}) for which in ("source", "destination"))
    comparison = Comparison.objects.create(move=move, left=left, right=right, rule=move.rule)
    number = np.arange(rows)
    fate = np.minimum(number * 100 // rows // 3, Fate.KEPT).astype(np.int16)
    first = np.searchsorted(fate, fate)
    of_fate = np.bincount(fate, minlength=7)[fate]
    section = (number - first) * SECTIONS // of_fate
    names = [f"/section-{n:02}" for n in range(SECTIONS)]
    paths = [
        f"{names[code]}/some-words-of-a-title-{n}" for code, n in zip(section.tolist(), number.tolist(), strict=True)
    ]
    place = np.empty(rows, np.int64)
    place[sorted(range(rows), key=paths.__getitem__)] = number
    draw = random.Random(5)
    words = ["Spring neaps and a slow wheel", "Stoneground rye, one kilo", "The miller's ledger"]
    ones = np.ones(rows, np.int64)
    ledger = Ledger(
        fate=fate,
        place=place,
        section=section,
        section_names=names,
        group=section,
        group_names=names,
        left=number + 1,
        right=number + 1,
        left_address=[f"http://old.example{path}" for path in paths],
        left_title=[draw.choice(words) for _ in range(rows)],
        right_address=[f"http://new.example{path}" for path in paths],
        detail=["412 words fewer, form missing" if code == Fate.ALTERED else "" for code in fate.tolist()],
        found_by=ones,
        certainty=ones.astype(float),
        address_change=ones * 0,
        content_change=ones * 0,
        shared_change=ones * 0,
        redirect=ones * 0,
        asked=ones * 0,
        left_status=ones * 200,
        right_status=ones * 200,
        recognised=ones * 0,
        shut_out=ones.astype(bool),
        template=ones,
        visits=ones * -1,
        last_visit=ones * -1,
        homes=("http://old.example/", "http://new.example/"),
        differences=Differences(ones[:0], ones[:0], []),
    )
    with transaction.atomic():
        made = Outcome(pages.rows(ledger), columns(kinds.ALL, []))
        outcome = outcomes.keep(move.pk, pages.CHECK, "bench", made)
        ComparisonCheck.objects.create(comparison=comparison, place=0, outcome=outcome)
    with connection.cursor() as cursor:
        cursor.execute("VACUUM ANALYZE")
    return comparison.pk, Token.issue(user, "bench")[1]


def bare(url: str, comparison: int, token: str, firsts: list[int]) -> list[float]:
    """Return the seconds of the same statements and the token's look-up through a warm connection."""
    import hashlib

    import psycopg

    digest = hashlib.sha256(token.encode()).digest()
    times = []
    with psycopg.connect(url, autocommit=True) as connection:
        for first in firsts:
            started = time.perf_counter()
            connection.execute(
                "SELECT t.id, t.user_id, u.is_active FROM records_token t JOIN auth_user u ON u.id = t.user_id WHERE digest = %s",
                [digest],
            ).fetchone()
            counts = connection.execute(
                "SELECT o.id, o.counts, o.groups FROM records_comparisoncheck k JOIN records_checkoutcome o ON o.id = k.outcome_id "
                "JOIN records_comparison c ON c.id = k.comparison_id JOIN records_membership m ON m.move_id = c.move_id "
                "WHERE c.id = %s AND m.user_id = 1",
                [comparison],
            ).fetchone()
            rows = connection.execute(
                'SELECT first, "left", "right", left_note, right_note FROM records_checkrowblock '
                "WHERE outcome_id = %s AND first > %s AND first < %s ORDER BY first",
                [counts[0], first - 8, first + 200],
            ).fetchall()
            numbers = connection.execute(
                "SELECT name, substr(data, 1 + %s * right(kind, 1)::int, 200 * right(kind, 1)::int) FROM "
                "records_checkcolumn WHERE outcome_id = %s AND name = ANY(%s)",
                [first, counts[0], ["content_change", "source_status", "destination_status"]],
            ).fetchall()
            words = [list(zip(*(text.split("\x1f") for text in texts), strict=True)) for _, *texts in rows]
            json.dumps([counts, words, [list(data) for _, data in numbers]])
            times.append(time.perf_counter() - started)
    return times


def asked(port: int, comparison: int, token: str, firsts: list[int]) -> list[float]:
    """Return the seconds of pages through the API, on one kept-alive connection."""
    connection = http.client.HTTPConnection("127.0.0.1", port)
    times = []
    for first in firsts:
        started = time.perf_counter()
        path = f"/api/comparisons/{comparison}/checks/pages/rows/?first={first}&rows=200"
        connection.request("GET", path, headers={"Authorization": f"Bearer {token}"})
        response = connection.getresponse()
        body = response.read()
        times.append(time.perf_counter() - started)
        assert response.status == 200, body[:300]
    page = json.loads(body)
    assert len(page["rows"]) == 200 and sum(page["counts"].values()) == page["total"]
    return times


def main() -> None:
    """Measure alternately."""
    parser = argparse.ArgumentParser(prog="bench/ledger", description=__doc__)
    parser.add_argument("--rows", type=int, default=1_000_000)
    parser.add_argument("--runs", type=int, default=5)
    options = parser.parse_args()
    with database():
        comparison, token = seed(options.rows)
        port = free_port(8300)
        command = [sys.executable, "-m", "uvicorn", "palinode.project.asgi:application", f"--port={port}"]
        server = subprocess.Popen([*command, "--no-access-log", "--log-level=warning", "--lifespan=off"])
        url = os.environ["PALINODE_DATABASE"]
        try:
            time.sleep(4)
            draw = random.Random(1)
            deep = [draw.randrange(options.rows // 2, options.rows - 200) for _ in range(ROUNDS)]
            asked(port, comparison, token, deep)
            bare(url, comparison, token, deep)
            ours: list[float] = []
            firsts: list[float] = []
            theirs: list[float] = []
            for run in range(options.runs):
                theirs += bare(url, comparison, token, deep)
                firsts += asked(port, comparison, token, [0] * ROUNDS)
                ours += asked(port, comparison, token, deep)
                say(
                    f"run {run + 1}: bare {1000 * statistics.median(theirs):.2f} ms, first page "
                    f"{1000 * statistics.median(firsts):.2f} ms, deep page {1000 * statistics.median(ours):.2f} ms"
                )
        finally:
            server.terminate()
            server.wait()
    apart = statistics.median(ours) / statistics.median(firsts)
    print(f"ledger deep/first={apart:.3f} max=1.2")
    if apart > 1.2:
        sys.exit(1)
    close("ledger", ours, theirs, "max=4")


if __name__ == "__main__":
    main()
