"""Words and figures of a ledger: what is said about rows, and the causes' near misses."""

import unittest

from palinode.core import causes, wording
from palinode.core.causes.cause import Weight
from palinode.core.fates import Asked, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.recognition.kind import Kind
from palinode.core.wording import Figures
from tests.core.build import html, ledger

PAGES = {"/": html("Home")} | {f"/{s}/{n}": html(f"{s}{n}") for s in ("journal", "shop", "people") for n in range(6)}


def kinds(left, right, lines=""):
    return [(cause.kind, cause.number) for cause in causes.find(ledger(left, right, lines))]


class NearMissesTest(unittest.TestCase):
    def test_inner_pages_need_a_home_page_that_works(self):
        gone = dict.fromkeys(PAGES, (404, ""))
        self.assertNotIn("inner_pages", [kind for kind, _ in kinds(PAGES, gone)])

    def test_inner_pages_need_nearly_all_to_be_missing(self):
        half = {
            path: given if path == "/" or path.startswith("/journal") else (404, "") for path, given in PAGES.items()
        }
        self.assertEqual(sorted(kinds(PAGES, half)), [("section_lost", 6), ("section_lost", 6)])

    def test_inner_pages_that_could_not_be_asked_are_no_proof(self):
        timeouts = {path: given if path == "/" else ("timed out three times", "") for path, given in PAGES.items()}
        self.assertEqual(kinds(PAGES, timeouts), [("pages_not_judged", 18)])

    def test_a_section_needs_four_fifths_and_three_pages(self):
        for lost, expected in [(4, "pages_lost"), (5, "section_lost"), (6, "section_lost")]:
            right = {
                path: (404, "") if path.startswith("/shop/") and int(path[-1]) < lost else given
                for path, given in PAGES.items()
            }
            self.assertEqual(kinds(PAGES, right), [(expected, lost)])
        two = {"/": html("Home"), "/x/1": html("1"), "/x/2": html("2")}
        self.assertEqual(kinds(two, {"/": html("Home"), "/x/1": (404, ""), "/x/2": html("2")}), [("pages_lost", 1)])

    def test_a_section_whole_or_most_of_it_is_said(self):
        right = {path: (404, "") if path.startswith("/shop/") else given for path, given in PAGES.items()}
        self.assertEqual(causes.find(ledger(PAGES, right))[0].title, "/shop is not at the destination")
        right["/shop/1"] = PAGES["/shop/1"]
        self.assertEqual(causes.find(ledger(PAGES, right))[0].title, "Most of /shop is not at the destination")

    def test_one_redirect_home_is_a_lost_page_and_two_are_a_cause(self):
        one = dict(PAGES) | {"/shop/1": (301, "/")}
        self.assertEqual(kinds(PAGES, one), [("pages_lost", 1)])
        self.assertEqual(kinds(PAGES, one | {"/people/1": (301, "/")}), [("all_to_home", 2)])

    def test_noindex_that_was_there_before_is_no_change(self):
        shut = {path: html(path, head="<meta name=robots content=noindex>") for path in PAGES}
        self.assertEqual(kinds(shut, shut), [])

    def test_each_row_that_blocks_belongs_to_one_cause(self):
        right = {path: (404, "") if path.startswith("/shop/") else given for path, given in PAGES.items()}
        right |= {
            "/journal/1": (404, ""),
            "/journal/2": (301, "/"),
            "/people/3": (301, "/"),
            "/people/4": html("other"),
        }
        found = causes.find(ledger(PAGES, right))
        blocking = [cause for cause in found if cause.weight == Weight.BLOCKS]
        self.assertEqual(sum(cause.number for cause in blocking), 9)
        self.assertTrue((sum(cause.rows.astype(int) for cause in blocking) <= 1).all())
        self.assertEqual([cause.weight for cause in found], sorted(cause.weight for cause in found))

    def test_every_cause_says_what_to_do_and_leads_to_its_rows(self):
        right = {path: (404, "") if path.startswith("/shop/") else given for path, given in PAGES.items()} | {
            "/n": html("N")
        }
        for cause in causes.find(ledger(PAGES, right)):
            plain = cause.plain()
            self.assertTrue(plain["remedy"].endswith(".") and plain["detail"].endswith("."), plain)
            self.assertIn(plain["show"]["fate"], ("lost", "new"))
            self.assertEqual(plain["title"][:1], plain["title"][:1].upper())


class WordingTest(unittest.TestCase):
    def figures(self, **more) -> Figures:
        return Figures(**({"title": "T", "noindex": False, "words": 10, "images": 2, "links": 3, "forms": 0} | more))

    def test_numbers_in_words(self):
        self.assertEqual(wording.number(1, "page"), "one page")
        self.assertEqual(wording.number(1284, "page"), "1,284 pages")
        self.assertEqual(wording.number(2, "address", "addresses"), "2 addresses")

    def test_every_reason_has_words_of_its_own(self):
        said = {wording.not_there(asked, 404, "", "", Kind.BLANK) for asked in Asked if asked != Asked.PAGE}
        self.assertEqual(len(said), len(Asked) - 1)
        for asked in (Asked.NEVER, Asked.NOT_FETCHED, Asked.PASSING, Asked.CLOSED, Asked.AWAY):
            self.assertTrue(wording.not_there(asked, 503, "", "", Kind.BLANK).startswith("not judged"))
        self.assertEqual(wording.not_there(Asked.NOT_FOUND, 418, "", "", Kind.NONE), "answers 418")

    def test_moves(self):
        for redirect, said in [
            (Redirect.PERMANENT, "as planned; 301, one hop"),
            (Redirect.TEMPORARY, "as planned, but 302: not permanent"),
            (Redirect.MISSING, "as planned, but no redirect"),
            (Redirect.ELSEWHERE, "as planned, but the redirect leads elsewhere"),
            (Redirect.NOT_ASKED, "as planned; redirect not asked"),
            (Redirect.NONE, "as planned"),
        ]:
            self.assertEqual(wording.moved(FoundBy.RULE, redirect, 1), said)
        self.assertEqual(wording.moved(FoundBy.REDIRECT, Redirect.PERMANENT, 3), "not in the rule; 301, 3 hops")

    def test_differences(self):
        for fields, more, said in [
            ((Field.TEXT,), {"words": 7}, "3 words fewer"),
            ((Field.TEXT,), {"words": 11}, "one word more"),
            ((Field.TEXT, Field.HEADINGS), {}, "text differs"),
            ((Field.HEADINGS,), {}, "headings differ"),
            ((Field.TITLE,), {"title": ""}, "title missing"),
            ((Field.TITLE,), {"title": "x" * 80}, f"title now “{'x' * 60}…”"),
            ((Field.ROBOTS,), {"noindex": True}, "noindex"),
            ((Field.ROBOTS,), {}, "robots differ"),
            ((Field.IMAGES,), {"images": 0}, "2 images missing"),
            ((Field.IMAGES,), {}, "images differ"),
            ((Field.FORMS,), {"forms": 1}, "one form more"),
            ((Field.DOCUMENT,), {}, "file differs"),
            ((Field.CANONICAL, Field.HREFLANG), {}, "canonical differs, hreflang differs"),
            (tuple(Field), {"words": 9}, "one word fewer, title now “T”, robots differ, and 10 other differences"),
        ]:
            bits = sum(1 << field for field in fields)
            with self.subTest(said):
                self.assertEqual(wording.differences(bits, self.figures(), self.figures(**more)), said)
