"""Rows in by COPY, columns out by aggregate, ledgers stored and read."""

import numpy as np
from django.db import connection, transaction
from django.test import TestCase, TransactionTestCase

from palinode.core.fates import Fate
from palinode.records import bulk_copy, frontier, ledgers, rows
from palinode.records.models import Address, Comparison, LedgerParts, LedgerRow, Move, Side, Token
from palinode.records.rows import Batch, Found
from tests.core.build import html, ledger

AWKWARD = ["plain", "tab\tin it", "back\\slash", "new\nline", "return\r", "\\N", "ünï", "quote'\"", "", "zero\0byte"]


class CopyTest(TestCase):
    def setUp(self):
        with connection.cursor() as cursor:
            cursor.execute("CREATE TEMP TABLE stuff (id int8, words text, data bytea, yes bool, small int2)")

    def put(self, *values):
        bulk_copy.copy_in("stuff", "id, words, data, yes, small", [bulk_copy.line(value) for value in values])

    def test_every_text_comes_back_as_it_was(self):
        self.put(*((number, text, text.encode(), True, None) for number, text in enumerate(AWKWARD)))
        with connection.cursor() as cursor:
            cursor.execute("SELECT words, data FROM stuff ORDER BY id")
            found = cursor.fetchall()
        self.assertEqual([words for words, _ in found], [text.replace("\0", "") for text in AWKWARD])
        self.assertEqual([bytes(data) for _, data in found], [text.encode() for text in AWKWARD])

    def test_columns_go_in_as_rows(self):
        number = len(AWKWARD)
        columns = (
            map(str, range(number)),
            bulk_copy.texts(AWKWARD, "\\N"),
            bulk_copy.numbers(np.arange(number) % 2 == 0),
            bulk_copy.numbers(np.arange(number) - 1, null=-1),
        )
        bulk_copy.copy_in("stuff", "id, words, yes, small", [bulk_copy.rows(columns), bulk_copy.rows([[], []])])
        with connection.cursor() as cursor:
            cursor.execute("SELECT words, yes, small FROM stuff ORDER BY id")
            found = cursor.fetchall()
        self.assertEqual([words for words, _, _ in found], [text.replace("\0", "") or None for text in AWKWARD])
        self.assertEqual([yes for _, yes, _ in found], [place % 2 == 0 for place in range(number)])
        self.assertEqual([small for _, _, small in found], [None, *range(number - 1)])

    def test_columns_out(self):
        self.put((2**62, "a", b"\1\2", True, 7), (-(2**62), "b", b"", False, None), (0, None, b"\3", True, -3))
        found = bulk_copy.columns_out(
            {"id": "i8", "words": "text", "data": "bytes", "yes": "bool", "small": "i2"}, "SELECT * FROM stuff", []
        )
        self.assertEqual(found["id"].tolist(), [2**62, -(2**62), 0])
        self.assertEqual(found["words"], ["a", "b", ""])
        self.assertEqual(found["data"], b"\1\2\3")
        self.assertEqual(found["yes"].tolist(), [True, False, True])
        self.assertEqual(found["small"].tolist(), [7, -1, -3])

    def test_columns_of_nothing(self):
        found = bulk_copy.columns_out({"id": "i8", "words": "text", "data": "bytes"}, "SELECT * FROM stuff", [])
        self.assertEqual((len(found["id"]), found["words"], found["data"]), (0, [], b""))

    def test_stream_reads_in_batches(self):
        self.put(*((number, "x", b"", True, 1) for number in range(25)))
        with bulk_copy.stream("SELECT id FROM stuff ORDER BY id", [], 10) as batches:
            self.assertEqual([len(batch) for batch in batches], [10, 10, 5])


class AddressesTest(TransactionTestCase):
    def test_texts_are_kept_once_and_collisions_are_said(self):
        with transaction.atomic():
            frontier.add_addresses(1, [(5, "http://a.example/"), (6, "http://b.example/")])
        with transaction.atomic():
            frontier.add_addresses(1, [(5, "http://a.example/"), (7, "http://c.example/")])
            frontier.add_addresses(2, [(5, "http://other.example/")])
        self.assertEqual(Address.objects.filter(move_id=1).count(), 3)
        with self.assertRaisesRegex(ValueError, "Two addresses have one identity"), transaction.atomic():
            frontier.add_addresses(1, [(5, "http://different.example/")])


class BatchTest(TestCase):
    def test_batches_join_with_their_offsets(self):
        one, other = Batch(), Batch()
        one.records += b"12345"
        one.answers.append(rows.AnswerRow(1, "a", 0, b"d", 5, "pages"))
        other.records += b"678"
        other.answers += [rows.AnswerRow(2, "b", 0, None, 3, ""), rows.AnswerRow(3, "c", None, None, 0, "not_fetched")]
        other.found[9] = Found(9, "http://a.example/", 1, 2, 0)
        one.add(other)
        self.assertEqual([answer.offset for answer in one.answers], [0, 5, None])
        self.assertEqual((bytes(one.records), list(one.found)), (b"12345678", [9]))


class LedgersTest(TransactionTestCase):
    def setUp(self):
        self.move = Move.objects.create(name="Mill", kind="name", rule="x")
        for which in ("source", "destination"):
            Side.objects.create(move=self.move, which=which, base=f"http://{which}.example/")
        captures = [self.move.captures.create(which=which) for which in ("source", "destination")]
        self.comparison = Comparison.objects.create(move=self.move, left=captures[0], right=captures[1], rule="x")
        left = {f"/{section}/{n}": html(f"{section} {n}\\t") for section in "ab" for n in range(5)}
        right = {path: given for path, given in left.items() if path not in ("/a/1", "/b/2")} | {
            "/a/1": (404, ""),
            "/b/2": (404, ""),
        }
        self.ledger = ledger(left, right)
        ledgers.write(self.comparison, self.ledger)
        ledgers.finish(self.comparison, self.ledger, {"sentence": "x"})

    def test_rows_come_back_as_they_were(self):
        found = list(LedgerRow.objects.filter(comparison_id=self.comparison.pk).order_by("rank"))
        self.assertEqual([row.left_address for row in found], self.ledger.left_address)
        self.assertEqual([row.left_title for row in found], self.ledger.left_title)
        shown = ledgers.page(self.comparison, "rank", [(0, len(found))])
        self.assertEqual([row[0] for row in shown], [Fate(fate).word for fate in self.ledger.fate.tolist()])
        self.assertEqual(
            [row[1] for row in shown], [self.ledger.section_names[code] for code in self.ledger.section.tolist()]
        )
        self.assertEqual([row[2] for row in shown], list(range(len(found))))
        self.assertEqual([row.right_status for row in found][:3], [404, 404, 200])

    def test_parts_are_kept_apart(self):
        parts = LedgerParts.objects.get(comparison=self.comparison)
        self.assertEqual(np.frombuffer(parts.left, "<i8").tolist(), self.ledger.left.tolist())
        self.assertEqual(np.frombuffer(parts.certainty, "<f4").tolist(), self.ledger.certainty.tolist())
        self.assertEqual(np.frombuffer(parts.asked, np.uint8).tolist(), self.ledger.asked.tolist())

    def test_runs_and_places(self):
        words = [fate.word for fate in Fate]
        self.assertEqual(ledgers.runs(self.comparison, None, None, words), [(0, 10)])
        self.assertEqual(ledgers.runs(self.comparison, Fate.LOST, None, words), [(0, 2)])
        self.assertEqual(ledgers.runs(self.comparison, None, "/b", words), [(1, 1), (6, 4)])
        self.assertEqual(ledgers.runs(self.comparison, Fate.NEW, None, words), [])
        self.assertEqual(ledgers.place_run(self.comparison, "/b"), [(5, 5)])
        self.assertEqual(ledgers.place_run(self.comparison, "/c"), [])
        self.assertEqual(ledgers.ranks_by_address(self.comparison.pk, 0, 3), [2, 0, 3])

    def test_no_row_is_written_twice(self):
        again = Comparison.objects.create(
            move=self.move, left=self.comparison.left, right=self.comparison.right, rule="x"
        )
        broken = self.ledger.detail[0]
        self.ledger.detail[0] = "a\tb"
        ledgers.write(again, self.ledger)
        self.assertEqual(LedgerRow.objects.get(comparison_id=again.pk, rank=0).detail, "a\tb")
        self.ledger.detail[0] = broken
        with self.assertRaises(Exception):  # noqa: B017
            ledgers.write(again, self.ledger)
        self.assertEqual(LedgerRow.objects.filter(comparison_id=again.pk).count(), 10)

    def test_token_digests(self):
        self.assertEqual(len(Token.digest_of("x")), 32)
        self.assertNotEqual(Token.digest_of("x"), Token.digest_of("y"))
