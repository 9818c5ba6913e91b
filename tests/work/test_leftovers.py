"""Leftovers read from stored answers: once for what is looked for, also of an older capture, without the site."""

import io
from datetime import timedelta
from unittest import mock

from palinode.core.checks.leftovers.check import CHECK
from palinode.records import check_options
from palinode.records.folder import Folder
from palinode.work import move_deletion
from palinode.work.comparing import stored_answers
from palinode.work.importing import address_lists
from tests.rows import rows
from tests.site import Answer, page
from tests.work.base import MoveTestCase

LEFT = '<img src="//old.example/a.jpg"> cdn.elsewhere.example'


class LeftoversTest(MoveTestCase):
    def setUp(self):
        super().setUp()
        style = Answer("a { src: url(http://old.example/f.woff) }", headers={"Content-Type": "text/css"})
        maps = page("Maps", head='<script src="https://charts.example/map.js" data-api-key="mk-2290177"></script>')
        home = page("Home", "/p", "/m", head='<link rel="stylesheet" href="/s.css">')
        pages = {"/m": maps, "/": home, "/p": page("P"), "/s.css": style}
        self.old, self.new = self.serve(pages, pages | {"/p": page("P", text=LEFT)})
        self.subject = self.move(self.old, self.new)
        self.baseline(self.subject)
        self.right = self.capture(self.subject, "destination")

    def found(self) -> dict[str, tuple[str, str]]:
        """Compare, and return the leftovers: the old form to its place and the expected form."""
        made = self.compare(self.subject, self.right)
        return {row["left"]: (row["left_note"], row["right"]) for row in rows(made, "leftovers")}

    def test_they_are_read_once_and_anew_for_other_names(self):
        first = self.found()
        self.assertEqual(first["//old.example/a.jpg"], ("image", "//new.example/a.jpg"))
        self.assertEqual(first["http://old.example/f.woff"][0], "style sheet")
        asked = len(self.new.asked)
        with mock.patch.object(stored_answers, "_read", side_effect=AssertionError("they are kept")):
            self.assertEqual(self.found(), first)
        check_options.revise(self.subject, CHECK, {"names": ["cdn.elsewhere.example"]}, self.user)
        again = self.found()
        self.assertEqual(set(again) - set(first), {"cdn.elsewhere.example"})
        self.assertEqual(len(self.new.asked), asked, "the site is not asked")

    def test_what_else_depends_on_the_old_name(self):
        log = "".join(
            f'203.0.113.9 - - [01/May/2026:12:00:0{n} +0000] "GET {path} HTTP/1.1" 200 512 "{by}" "Mozilla/5.0"\n'
            for n, (path, by) in enumerate([
                ("/a.jpg", "http://walks.example/mill"), ("/a.jpg", "http://walks.example/sea"), ("/a.jpg", "http://tides.example/"),
                ("/a.jpg", "http://old.example/p"), ("/p", "http://walks.example/"),
            ])
        )  # fmt: skip
        address_lists.import_list(self.subject, "source", io.BytesIO(log.encode()), "access.log", self.user)
        found = {row["left"] or row["right"]: row for row in rows(self.compare(self.subject, self.right), "leftovers")}
        shown = found["http://old.example/a.jpg"]
        self.assertEqual((shown["right"], shown["verdict"]), ("http://new.example/a.jpg", "listed"))
        self.assertEqual(shown["right_note"], "walks.example and one other would show nothing without a redirect")
        self.assertEqual(found["mk-2290177"]["right_note"], "is the new name registered with it?")
        self.assertEqual(found["charts.example"]["right_note"], "loaded by one page; does it let the new name in?")

    def test_what_is_kept_is_swept_when_nothing_looks_for_it(self):
        self.found()

        def kept() -> list[str]:
            return [name for name in Folder(self.subject.pk).names() if "-leftovers-" in name]

        before = kept()
        with mock.patch.object(move_deletion, "STRAY", timedelta(0)):
            move_deletion.sweep()
            self.assertEqual(kept(), before)
            check_options.revise(self.subject, CHECK, {"names": ["cdn.elsewhere.example"]}, self.user)
            move_deletion.sweep()
        self.assertEqual((len(before) > 0, kept()), (True, []))
