"""Outcomes of checks as they are kept: rows, arrays, items; written once, whatever asks for them."""

import zlib
from unittest import mock

import numpy as np
from django.db import transaction
from django.test import TransactionTestCase

from palinode.core.checks import registry
from palinode.core.checks.check import Cell, Check, Column, Verdict
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Items, PageSet, Row, Rows, outcome
from palinode.core.checks.pages.check import CHECK as PAGES
from palinode.core.checks.pages.check import judge
from palinode.core.checks.thread import Thread
from palinode.core.findings import Finding, columns
from palinode.core.rule import read
from palinode.core.weight import Weight
from palinode.records import exports, outcome_items, outcome_rows, outcomes, row_blocks
from palinode.records.models import CheckFinding, CheckItems, CheckOutcome, CheckRowBlock, Move
from tests.core.build import NEW, OLD, html, ledger

LEFT = {f"/{section}/{n}": html(f"{section} {n}\\t") for section in "ab" for n in range(5)}
RIGHT = LEFT | {"/a/1": (404, ""), "/b/2": (404, "")}


def of_pages(left=LEFT, right=RIGHT):
    held = ledger(left, right)
    return held, judge(Looked(Side((OLD,)), Side((NEW,)), read(f"{OLD} -> {NEW}"), "palinode", held))


class OutcomesTest(TransactionTestCase):
    def setUp(self):
        self.move = Move.objects.create(name="Mill", kind="name", rule="x")
        self.ledger, self.made = of_pages()
        self.outcome = outcomes.keep(self.move.pk, PAGES, "d1", self.made)

    def test_rows_come_back_as_they_were(self):
        shown = outcome_rows.page(self.outcome, "rank", [(0, self.outcome.rows)])
        self.assertEqual([row.left for row in shown], self.ledger.left_address)
        self.assertEqual([row.left_note for row in shown], self.ledger.left_title)
        self.assertEqual([row.verdict for row in shown], ["lost"] * 2 + ["kept"] * 8)
        self.assertEqual([row.group for row in shown], [self.ledger.section_names[at] for at in self.ledger.section])
        self.assertEqual([row.rank for row in shown], list(range(10)))

    def test_arrays_are_read_whole_in_stretches_and_by_rank(self):
        for name, expected in (("left", self.ledger.left), ("certainty", self.ledger.certainty.astype("f4"))):
            self.assertEqual(outcome_rows.column(self.outcome.pk, name).tolist(), expected.tolist())
        self.assertEqual(
            outcome_rows.numbers_at(self.outcome.pk, ["destination_status"], 0, 3),
            {"destination_status": [404, 404, 200]},
        )
        self.assertEqual(
            outcome_rows.numbers_of(self.outcome.pk, ["destination_status", "none"], [4, 0]),
            [{"destination_status": 200, "none": -1}, {"destination_status": 404, "none": -1}],
        )

    def test_runs_and_places(self):
        self.assertEqual(outcome_rows.runs(self.outcome, None, None), [(0, 10)])
        self.assertEqual(outcome_rows.runs(self.outcome, {"lost"}, None), [(0, 2)])
        self.assertEqual(outcome_rows.runs(self.outcome, None, "/b"), [(1, 1), (6, 4)])
        self.assertEqual(outcome_rows.runs(self.outcome, {"new"}, None), [])
        self.assertEqual(outcome_rows.place_run(self.outcome, "/b"), [(5, 5)])
        self.assertEqual(outcome_rows.place_run(self.outcome, "/c"), [])
        self.assertEqual(outcome_rows.ranks_by_place(self.outcome.pk, 0, 3), [2, 0, 3])

    def test_the_same_inputs_are_written_once(self):
        self.assertEqual(outcomes.keep(self.move.pk, PAGES, "d1", of_pages()[1]).pk, self.outcome.pk)
        self.assertEqual((CheckOutcome.objects.count(), CheckRowBlock.objects.count()), (1, 2))
        self.assertNotEqual(outcomes.keep(self.move.pk, PAGES, "d2", self.made).pk, self.outcome.pk)

    def test_what_is_not_the_same_after_all_is_kept_apart(self):
        other = of_pages(right=RIGHT | {"/a/3": (404, "")})[1]
        with self.assertLogs("palinode.records.outcomes", "WARNING"):
            anew = outcomes.keep(self.move.pk, PAGES, "d1", other)
        self.assertNotEqual(anew.pk, self.outcome.pk)
        self.assertEqual(len(outcome_rows.page(self.outcome, "rank", [(0, 10)])), 10, "the one before stays as it was")
        self.assertEqual(outcomes.keep(self.move.pk, PAGES, "d1", other).pk, anew.pk)

    def test_findings_stand_on_ranks(self):
        found = CheckFinding.objects.filter(outcome_id=self.outcome.pk).order_by("place")
        self.assertEqual(list(found.values_list("kind", "row", "place")), [("lost", 0, 0), ("lost", 1, 1)])

    def test_outcomes_hold_together_and_changed_ones_do_not(self):
        self.assertEqual(outcomes.fault_of(self.outcome), "")
        for change in (
            lambda: CheckRowBlock.objects.filter(outcome_id=self.outcome.pk, first=0).delete(),
            lambda: CheckRowBlock.objects.filter(outcome_id=self.outcome.pk, first=8).update(left="javascript:x\x1f"),
            lambda: CheckRowBlock.objects.filter(outcome_id=self.outcome.pk, first=8).update(
                left="http://old.example/"
            ),
            lambda: CheckFinding.objects.filter(outcome_id=self.outcome.pk, place=1).update(row=10),
        ):
            CheckOutcome.objects.filter(pk=self.outcome.pk).update(digest=f"x{self.outcome.pk}")
            self.outcome = outcomes.keep(self.move.pk, PAGES, "d1", self.made)
            change()
            self.assertTrue(outcomes.fault_of(self.outcome))


class RowBlocksTest(TransactionTestCase):
    """Rows are kept a few together, and read as if each were alone."""

    def setUp(self):
        texts = [f"row {n:02}" for n in range(21)]
        texts[9] = "odd \x1f one"
        texts[12] = "line\nend and \\ tab\t"
        nothing = np.zeros(21, np.int64)
        self.rows = Rows(
            nothing, nothing, [""], np.arange(21), texts, ["" if n % 2 else "there" for n in range(21)], texts, texts
        )
        row_blocks.write(7, self.rows)

    def test_runs_are_cut_out_wherever_they_begin_and_end(self):
        for first, length in [(0, 21), (0, 8), (7, 2), (8, 8), (3, 1), (20, 5), (21, 4), (5, 0)]:
            with self.subTest(first=first, length=length):
                found = row_blocks.between(7, first, length)
                self.assertEqual([row.rank for row in found], list(range(first, min(first + length, 21))))
        self.assertEqual(sorted(row_blocks.at(7, [20, 8, 99, 8])), [8, 20])
        self.assertEqual([len(batch) for batch in row_blocks.stream(7)], [21])

    def test_texts_come_back_as_they_were_but_for_the_mark_between_them(self):
        rows = row_blocks.at(7, range(21))
        self.assertEqual(rows[9].left, "odd   one")
        self.assertEqual(
            rows[12][1:], ("line\nend and \\ tab\t", "there", "line\nend and \\ tab\t", self.rows.left[12])
        )
        self.assertIsNone(rows[3].right)

    def test_what_is_looked_for_is_found_in_its_rows_alone(self):
        self.assertEqual(row_blocks.matching(7, 0, 21, "ROW 1", 100), [10, 11, *range(13, 20)])
        self.assertEqual(row_blocks.matching(7, 11, 3, "row", 100), [11, 13], "not in the rows beside them")
        self.assertEqual(row_blocks.matching(7, 0, 21, "there", 3), [0, 2, 4])
        self.assertEqual(row_blocks.matching(7, 7, 21, "there", 2), [8, 10], "the block of the first begins before it")
        self.assertEqual(row_blocks.matching(7, 0, 21, "\x1f", 5), [])
        self.assertEqual(row_blocks.matching(7, 0, 21, "%", 5), [])
        self.assertEqual(row_blocks.matching_among(7, [20, 3, 1], "row"), [20, 3, 1])

    def test_blocks_that_do_not_hold_what_they_should_are_said(self):
        self.assertEqual(row_blocks.fault_of(7, 21, addresses=False), "")
        self.assertIn("address", row_blocks.fault_of(7, 21, addresses=True))
        self.assertTrue(row_blocks.fault_of(7, 20, addresses=False))
        self.assertTrue(row_blocks.fault_of(7, 24, addresses=False))
        self.assertEqual(row_blocks.fault_of(8, 0, addresses=True), "")


class FewRowsTest(TransactionTestCase):
    """A check that tells its rows one by one, with items."""

    KIND = Kind("short", "too short", Weight.MEND)
    CHECK = Check(
        name="lengths",
        version=1,
        title="Lengths",
        view="counts",
        verdicts=(Verdict("short", "Short", Thread.CUT, wants=True), Verdict("same", "Same", Thread.STRAIGHT)),
        kinds=(KIND,),
        columns=(Column("name", "Name", Cell.LEFT), Column("number", "Number", Cell.NUMBER)),
        items=("address",),
        judge=lambda looked: None,
    )

    def setUp(self):
        self.enterContext(mock.patch.dict(registry.BY_NAME, {"lengths": self.CHECK}))
        self.move = Move.objects.create(name="Mill", kind="name", rule="x")
        many = Items(([f"http://old.example/{n}" for n in range(2_500)],))
        rows = [
            Row(1, "tables", group="b", numbers={"number": 7}),
            Row(0, "posts", "posts", group="b", numbers={"number": 2}, items=many),
            Row(0, "files", group="a", items=many),
        ]
        found = columns((self.KIND,), [], [Finding(self.KIND, "", 2_500, "posts", "posts", "41 fewer", row=1)])
        self.made = outcome(rows, found, ("a", "b"), ("the dump was not read",))
        self.outcome = outcomes.keep(self.move.pk, self.CHECK, "d", self.made)

    def test_rows_stand_by_verdict_and_group_and_findings_on_them(self):
        shown = outcome_rows.page(self.outcome, "rank", [(0, 3)])
        self.assertEqual(
            [(row.verdict, row.group, row.left) for row in shown],
            [("short", "a", "files"), ("short", "b", "posts"), ("same", "b", "tables")],
        )
        self.assertEqual(CheckFinding.objects.get(outcome_id=self.outcome.pk).row, 1)
        self.assertEqual(self.outcome.unseen, ["the dump was not read"])
        self.assertEqual(np.argsort(self.made.rows.place).tolist(), [0, 1, 2])

    def test_items_are_counted_and_paged_and_kept_once(self):
        for first, most, expected in (
            (0, 2, [0, 1]),
            (999, 3, [999, 1000, 1001]),
            (2_499, 10, [2_499]),
            (3_000, 5, []),
        ):
            found = outcome_items.of_row(self.outcome, 1, first, most)
            self.assertEqual(found.total, 2_500)
            self.assertEqual([one["address"] for one in found.rows], [f"http://old.example/{n}" for n in expected])
        self.assertEqual(outcome_items.of_row(self.outcome, 2, 0, 5), outcome_items.NONE_LISTED)
        self.assertEqual(CheckItems.objects.filter(outcome_id=self.outcome.pk).count(), 3)

    def test_items_that_came_from_elsewhere_are_looked_at(self):
        self.assertEqual(outcomes.fault_of(self.outcome), "")
        for data in (b"no zlib", zlib.compress(b"[[1]]"), zlib.compress(b'{"a": 1}'), zlib.compress(b'[["a"], ["b"]]')):
            CheckItems.objects.filter(outcome_id=self.outcome.pk, part=2).update(data=data)
            self.assertIn("cannot be read", outcomes.fault_of(self.outcome))

    def test_pages_are_rows_of_the_check_of_pages_kept_once_however_many_name_them(self):
        pages = outcomes.keep(self.move.pk, PAGES, "pages", of_pages()[1])
        some, same = (PageSet(np.array([5, 2, 0], np.int32)) for _ in range(2))
        rows = [Row(0, "posts", items=some), Row(1, "tables", items=same), Row(1, "files")]
        found = columns((self.KIND,), [], [Finding(self.KIND, "", 3, "posts", "posts", "3 fewer", on=same.rows)])
        kept = outcomes.keep(self.move.pk, self.CHECK, "sets", outcome(rows, found), pages)
        stored = CheckItems.objects.get(outcome_id=kept.pk)
        self.assertEqual((len(bytes(stored.data)), stored.size, stored.pages_id), (12, 3, pages.pk))
        wanted = outcome_rows.rows_at(pages, [5, 2, 0])
        for listed in (outcome_items.of_row(kept, 0, 0, 9), outcome_items.of_finding(kept, 0, 0, 9)):
            self.assertEqual((listed.total, listed.pages, listed.rows, listed.of), (3, wanted, [], pages))
        self.assertEqual(outcome_items.of_row(kept, 0, 1, 1).pages, wanted[1:2])
        self.assertEqual(outcome_items.of_row(kept, 1, 0, 9), outcome_items.NONE_LISTED, "files stand for nothing")
        self.assertEqual(outcomes.fault_of(kept), "")
        for change in (
            {"size": 4},
            {"data": np.array([5, 2, 10], "<i4").tobytes()},
            {"data": np.array([5, 2, -1], "<i4").tobytes()},
            {"pages_id": kept.pk},
        ):
            with self.subTest(change), transaction.atomic():
                CheckItems.objects.filter(outcome_id=kept.pk).update(**change)
                self.assertIn("cannot be read", outcomes.fault_of(kept))
                transaction.set_rollback(True)

    def test_exports_of_any_check(self):
        self.assertEqual(
            "".join(exports.rows(self.outcome, "csv")).splitlines(), ["name,number", "files,", "posts,2", "tables,7"]
        )
        self.assertIn('"number":7', "".join(exports.rows(self.outcome, "json")))
        said = "".join(exports.rows(self.outcome, "junit"))
        self.assertEqual((said.count("<testcase"), said.count("<failure")), (3, 2))
