"""Rows in by COPY, columns out by aggregate, ledgers stored and read."""

import numpy as np
from django.db import connection, transaction
from django.test import TestCase, TransactionTestCase

from palinode.records import bulk_copy, frontier, rows
from palinode.records.models import Address, Token
from palinode.records.rows import Batch, Found

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
        other.found[9, 0] = Found(9, "http://a.example/", 1, 2, 0)
        one.add(other)
        self.assertEqual([answer.offset for answer in one.answers], [0, 5, None])
        self.assertEqual((bytes(one.records), list(one.found)), (b"12345678", [(9, 0)]))


class TokensTest(TransactionTestCase):
    def test_token_digests(self):
        self.assertEqual(len(Token.digest_of("x")), 32)
        self.assertNotEqual(Token.digest_of("x"), Token.digest_of("y"))
