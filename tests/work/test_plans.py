"""Bulk reads cost as much as they read, whatever the planner believes of the tables."""

from collections.abc import Callable

from django.db import connection, connections

from bench.compare import seed
from palinode.core import rule as rules
from palinode.core.volatile import Volatile
from palinode.records import (
    address_mentions,
    captures,
    figures,
    masking,
    page_facts,
    page_texts,
    pairing_input,
    plans,
    sides,
)
from palinode.records.models import Capture, Comparison
from palinode.work.capturing import sampling
from palinode.work.comparing import comparison_job
from tests.work.base import MoveTestCase

PAGES = 400
ROOM = 40
"""Times that a row may be read in one comparison, which reads both sides several times."""
TABLES = ("records_answer", "records_facts", "records_address")


def read() -> int:
    """Return how many rows were fetched from the bulk tables so far, by whatever way."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_stat_force_next_flush()")
    connections.close_all()
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_stat_clear_snapshot()")
        cursor.execute(
            "SELECT sum(seq_tup_read + coalesce(idx_tup_fetch, 0)) FROM pg_stat_user_tables WHERE relname = ANY(%s)",
            [list(TABLES)],
        )
        return int(cursor.fetchone()[0])


def forget_statistics() -> None:
    """Leave the planner without any statistics of the bulk tables."""
    with connection.cursor() as cursor:
        for table in TABLES:
            cursor.execute(f"DELETE FROM pg_statistic WHERE starelid = '{table}'::regclass")
            cursor.execute(f"UPDATE pg_class SET reltuples = -1, relpages = 0 WHERE oid = '{table}'::regclass")


def mislead() -> None:
    """Let the planner believe that all rows are of a move that is not there, each capture's one in a million."""
    with connection.cursor() as cursor:
        for table in TABLES:
            cursor.execute(f"ALTER TABLE {table} ALTER COLUMN {KEYS[table]} SET (n_distinct = 1000000)")
        cursor.execute(f"ANALYZE {', '.join(TABLES)}")
        # As if it had been looked at before this move was there.
        cursor.execute(
            "UPDATE pg_statistic SET stakind1 = 0, stakind2 = 0, stakind3 = 0, stanumbers1 = NULL, stanumbers2 = NULL, "
            "stavalues1 = NULL, stavalues2 = NULL, stadistinct = 1000000 WHERE starelid = ANY(%s::regclass[])",
            [list(TABLES)],
        )


KEYS = {"records_answer": "capture_id", "records_facts": "move_id", "records_address": "move_id"}


class PlansTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        (self.subject, self.left, self.right), *_ = seed(PAGES)
        self.addCleanup(self.restore)
        with connection.cursor() as cursor:
            cursor.execute("UPDATE records_answer SET body = sha256(ident::text::bytea)")

    def restore(self) -> None:
        with connection.cursor() as cursor:
            for table, column in KEYS.items():
                cursor.execute(f"ALTER TABLE {table} ALTER COLUMN {column} RESET (n_distinct)")
            cursor.execute(f"ANALYZE {', '.join(TABLES)}")

    def cost(self, does: Callable[[], object]) -> int:
        before = read()
        does()
        return read() - before

    def compare(self) -> None:
        comparison = Comparison.objects.create(
            move=self.subject, left=self.left, right=self.right, rule=self.subject.rule
        )
        comparison_job.make(comparison)
        comparison.refresh_from_db()
        self.assertEqual(comparison.state, Comparison.State.MADE, comparison.why)

    def test_a_comparison_reads_as_many_rows_without_statistics_and_with_wrong_ones(self):
        known = self.cost(self.compare)
        self.assertLess(known, ROOM * 4 * PAGES)
        for lose in (forget_statistics, mislead):
            with self.subTest(lose.__name__):
                lose()
                self.assertLess(self.cost(self.compare), 3 * known)

    def test_so_does_each_bulk_read(self):
        idents = sides.load_right(self.left).ident
        rule, capture = rules.read(self.subject.rule), Capture.objects.get(pk=self.left.pk)
        told = sides.details(capture, idents[:50])
        reads: dict[str, Callable[[], object]] = {
            "left": lambda: sides.load_left(capture, rule),
            "right": lambda: sides.load_right(capture),
            "details": lambda: sides.details(capture, idents),
            "stand-ins": lambda: sides.stand_ins(capture),
            "likeness": lambda: pairing_input.PairingInput(capture, capture, rule).source(idents),
            "kept": lambda: list(page_facts.pages(capture, idents)),
            "said": lambda: page_texts.pages(capture, idents.tolist(), Volatile()),
            "masked": lambda: masking.masked(capture, told, Volatile(templates=("x …",))),
            "naming": lambda: address_mentions.pages(capture, ["http://elsewhere.example/"]),
            "figures": lambda: figures.of(capture, {}),
            "targets": lambda: captures._sum_targets(capture),
            "sample": lambda: sampling._chosen(capture, 20),
        }
        for lose in (forget_statistics, mislead):
            lose()
            for name, does in reads.items():
                with self.subTest(name, statistics=lose.__name__):
                    self.assertLess(self.cost(does), 20 * PAGES)

    def test_closing_tells_the_planner_what_came(self):
        forget_statistics()
        plans.analyse()
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM pg_stats WHERE tablename = ANY(%s)", [list(TABLES)])
            self.assertGreater(cursor.fetchone()[0], 10)
