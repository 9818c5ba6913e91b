"""The columns of a closed capture: written as it closes, mapped into memory, made anew where they are not right."""

import dataclasses

import numpy as np

from palinode.core import address as addresses
from palinode.core.edges import sums
from palinode.records import array_files, column_files
from palinode.records.folder import Folder
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
        texts = array_files.lines(found.text, len(found.ident))
        self.assertEqual(addresses.idents(texts).tolist(), found.ident.tolist())
        self.assertTrue((np.diff(found.ident) > 0).all(), "in order of identity")
        row = texts.index("http://old.example/a")
        self.assertEqual(array_files.lines(found.title, len(texts))[row], "About \u00fc")
        self.assertEqual((found.status[row], bool(found.is_page[row]), bool(found.noindex[row])), (200, True, True))
        self.assertEqual(found.status[texts.index("http://old.example/gone")], 404)
        home = texts.index("http://old.example/")
        leads_to = found.targets[found.offsets[home] : found.offsets[home + 1]].tolist()
        self.assertIn(addresses.ident("http://elsewhere.example/x"), leads_to)
        self.assertIn(found.ident[row], leads_to)
        self.assertEqual(sums(found.targets, found.places, found.offsets).tolist(), found.edge_sum.tolist())

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
