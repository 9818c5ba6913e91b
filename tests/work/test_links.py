"""Links, fragments and patterns of captures that were made: read once, kept, and swept when nothing reads them."""

from datetime import timedelta
from unittest import mock

from palinode.records import link_columns
from palinode.records.folder import Folder
from palinode.work import move_deletion
from palinode.work.comparing import fragment_files, stored_answers
from tests.rows import rows
from tests.site import page
from tests.work.base import MoveTestCase


class LinksTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        home = page("Home", "/a", "/b", "http://other.example/x", text='<a href="/b#here">there</a>')
        pages = {"/": home, "/a": page("A", "/b"), "/b": page("B", text='<p id="here">x</p>')}
        self.old, self.new = self.serve(pages, pages | {"/b": page("B"), "/a": page("A", "/b", "/nowhere")})
        self.subject = self.move(self.old, self.new)
        self.left = self.baseline(self.subject)
        self.right = self.capture(self.subject, "destination")

    def test_every_link_of_every_page(self):
        found = link_columns.of(self.left)
        texts = found.texts(found.page).copy() if len(found.page) else []
        told = sorted(zip(texts, found.texts(found.to), strict=True))
        base = "http://old.example"
        for one in (("/", "/a"), ("/", "/b"), ("/a", "/b")):
            self.assertIn(tuple(base + path for path in one), told)
        self.assertIn((f"{base}/", "http://other.example/x"), told)
        self.assertEqual(found.status[found.find(found.ident)].tolist(), found.status.tolist())

    def test_rows_and_what_is_kept(self):
        made = {row["right"]: row for row in rows(self.compare(self.subject, self.right), "links")}
        self.assertEqual(made["/nowhere"]["verdict"], "broken")
        self.assertEqual(made["/b#here"]["right_note"], "the page answers, the anchor is gone")
        with mock.patch.object(stored_answers, "_read", side_effect=AssertionError("they are kept")):
            self.assertEqual(fragment_files.load(self.right).texts, ["here"])

        def kept() -> list[str]:
            names = Folder(self.subject.pk).names()
            return [name for name in names if "-links-" in name or "-fragments-" in name]

        self.assertGreater(len(kept()), 6)
        with mock.patch.object(move_deletion, "STRAY", timedelta(0)):
            move_deletion.sweep()
            self.assertGreater(len(kept()), 6)
            before = kept()
            self.right.readings += 1
            self.right.save()
            move_deletion.sweep()
            self.assertLess(len(kept()), len(before))
