"""The columns of a closed capture: written as it closes, mapped into memory, made anew where they are not right."""

import dataclasses

import numpy as np

from palinode.core import address as addresses
from palinode.core import rule as rules
from palinode.core.edges import sums
from palinode.records import column_files, expected_columns
from palinode.records.folder import Folder
from palinode.records.lines import Lines
from palinode.work import move_deletion, read_again
from tests.site import Answer, page
from tests.work.base import MoveTestCase

SITE = {
    "/": page("Home", "/a", "/gone", "http://elsewhere.example/x"),
    "/a": page("About \u00fc", "/", head="<meta name=robots content=noindex>"),
    "/gone": Answer(status=404),
}


class ColumnFilesTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        old, new = self.serve(SITE, {})
        self.taken = self.capture(self.move(old, new), "source")
        self.folder = Folder(self.taken.move_id)
        self.names = column_files.names([self.taken])

    def test_they_are_there_as_the_capture_closes_and_say_what_the_rows_say(self):
        self.assertLessEqual(self.names, set(self.folder.names()))
        found = column_files.of(self.taken)
        self.assertIsInstance(found.ident, np.memmap)
        texts = found.lines("text").all()
        self.assertEqual(addresses.idents(texts).tolist(), found.ident.tolist())
        self.assertTrue((np.diff(found.ident) > 0).all(), "in order of identity")
        row = texts.index("http://old.example/a")
        self.assertEqual(found.lines("title").all()[row], "About \u00fc")
        self.assertEqual((found.status[row], bool(found.is_page[row]), bool(found.noindex[row])), (200, True, True))
        self.assertEqual(found.status[texts.index("http://old.example/gone")], 404)
        home = texts.index("http://old.example/")
        leads_to = found.targets[found.offsets[home] : found.offsets[home + 1]].tolist()
        self.assertIn(addresses.ident("http://elsewhere.example/x"), leads_to)
        self.assertIn(found.ident[row], leads_to)
        self.assertEqual(sums(found.targets, found.places, found.offsets).tolist(), found.edge_sum.tolist())

    def test_who_refers_to_each_answer(self):
        found = column_files.of(self.taken)
        texts = found.lines("text").all()
        by = {
            texts[row]: [
                texts[page] for page in found.asked_by[found.asked_offsets[row] : found.asked_offsets[row + 1]]
            ]
            for row in range(len(texts))
        }
        self.assertEqual(by["http://old.example/a"], ["http://old.example/"])
        self.assertEqual(by["http://old.example/"], ["http://old.example/a"])
        self.assertEqual(by["http://old.example/gone"], ["http://old.example/"])

    def test_what_answers_an_address_that_cannot_be_refers_to_nothing(self):
        site, _ = self.serve(lambda path: SITE.get(path, page("Not here", "/nowhere-else")), {})
        taken = self.capture(self.move(site, site), "source")
        self.assertTrue(taken.judgement["answers_impossible"])
        found = column_files.of(taken)
        self.assertNotIn(addresses.ident("http://old.example/nowhere-else"), found.elsewhere.tolist())

    def test_what_the_rule_makes_of_a_capture_is_kept_for_as_long_as_it_is_the_move_s(self):
        rule = rules.read(self.taken.move.rule)
        texts = column_files.of(self.taken).lines("text").all()
        found = expected_columns.of(self.taken, column_files.of(self.taken), texts, rule)
        kept = expected_columns.names([self.taken])
        self.assertLessEqual(kept, set(self.folder.names()))
        again = expected_columns.of(self.taken, column_files.of(self.taken), texts, rule)
        self.assertIsInstance(again.ident, np.memmap)
        for one in dataclasses.fields(found):
            self.assertEqual(getattr(again, one.name).tolist(), getattr(found, one.name).tolist(), one.name)
        self.assertEqual(Lines(again.text, len(texts)).all(), rule.expect_many(texts))
        other = rules.read(f"{self.taken.move.rule}\n/a -> /b")
        before = set(self.folder.names())
        moved = expected_columns.of(self.taken, column_files.of(self.taken), texts, other)
        self.assertEqual(moved.planned.tolist(), [text.endswith("/a") for text in texts])
        self.assertEqual(set(self.folder.names()), before, "a rule that is only tried leaves nothing")

    def test_missing_and_damaged_ones_are_made_anew(self):
        before = {
            one.name: np.array(getattr(column_files.of(self.taken), one.name))
            for one in dataclasses.fields(column_files.CaptureColumns)
        }
        name = min(self.names)
        for damage in (self.folder.delete, self._damage, self._empty):
            damage(name)
            again = column_files.of(self.taken)
            for one, column in before.items():
                self.assertEqual(getattr(again, one).tolist(), column.tolist(), one)
            self.assertIsInstance(column_files.of(self.taken).ident, np.memmap, "and kept again")

    def _empty(self, name: str) -> None:
        """As it is while another worker has just begun to write it."""
        from django.core.files.base import ContentFile

        self.folder.delete(name)
        self.folder.save(name.removeprefix(f"{self.folder.name}/"), ContentFile(b""))

    def _damage(self, name: str) -> None:
        from django.core.files.base import ContentFile

        self.folder.delete(name)
        self.folder.save(name.removeprefix(f"{self.folder.name}/"), ContentFile(b"no array"))

    def test_facts_made_anew_have_columns_of_their_own_and_old_ones_are_swept(self):
        read_again.read_again(self.taken)
        self.taken.refresh_from_db()
        self.assertEqual(self.taken.readings, 1)
        self.assertFalse(self.names & column_files.names([self.taken]))
        column_files.of(self.taken)
        from unittest import mock

        with mock.patch.object(move_deletion, "STRAY", move_deletion.STRAY * -1):
            move_deletion.sweep()
        there = set(self.folder.names())
        self.assertFalse(self.names & there)
        self.assertLessEqual(column_files.names([self.taken]), there)
