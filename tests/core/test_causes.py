"""Words and figures of a ledger: what is said about rows, and the causes' near misses."""

import unittest

from palinode.core import address as addresses
from palinode.core import wording
from palinode.core.causes.comparison_context import Beside, Later
from palinode.core.checks.files import FILE_MISSING
from palinode.core.fates import Asked, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.findings import Finding
from palinode.core.recognition.page_kind import PageKind
from palinode.core.weight import Weight
from palinode.core.wording import Figures
from tests.core.build import NEW, OLD, causes_of, found_ledger, ground, html, ledger

PAGES = {"/": html("Home")} | {f"/{s}/{n}": html(f"{s}{n}") for s in ("journal", "shop", "people") for n in range(6)}


def kinds(left, right, lines=""):
    return [(cause.kind, cause.number) for cause in causes_of(ledger(left, right, lines))]


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
        self.assertEqual(causes_of(ledger(PAGES, right))[0].title, "/shop is not at the destination")
        right["/shop/1"] = PAGES["/shop/1"]
        self.assertEqual(causes_of(ledger(PAGES, right))[0].title, "Most of /shop is not at the destination")

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
        found = causes_of(ledger(PAGES, right))
        blocking = [cause for cause in found if cause.weight == Weight.BLOCKS]
        self.assertEqual(sum(cause.number for cause in blocking), 9)
        self.assertTrue((sum(cause.takes.astype(int) for cause in blocking) <= 1).all())
        self.assertEqual([cause.weight for cause in found], sorted(cause.weight for cause in found))

    def test_every_cause_says_what_to_do_and_leads_to_its_rows(self):
        right = {path: (404, "") if path.startswith("/shop/") else given for path, given in PAGES.items()} | {
            "/n": html("N")
        }
        for cause in causes_of(ledger(PAGES, right)):
            plain = cause.plain()
            self.assertTrue(plain["remedy"].endswith(".") and plain["detail"].endswith("."), plain)
            self.assertIn(plain["show"]["verdict"], ("lost", "new"))
            self.assertEqual(plain["title"][:1], plain["title"][:1].upper())


class ReadingTest(unittest.TestCase):
    """Causes that go by what pairs say, by files, and by what is known beside a comparison."""

    LEFT = {"/": html("Home")} | {
        f"/j/{n}": html(f"Tide {n}", f"Café {n}. Written on {n + 1} May 2019.") for n in range(6)
    }

    def kinds(self, right, **more):
        return [(one.kind, one.number) for one in causes_of(ground(self.LEFT, self.LEFT | right, **more))]

    def test_characters_beside_other_changes(self):
        right = {f"/j/{n}": html(f"Tide {n}", f"CafÃ© {n}. Written on {n + 1} May 2019.") for n in range(3)}
        right |= {"/j/4": html("Tide 4", "Another text.")}
        self.assertEqual(self.kinds(right), [("characters_damaged", 3), ("pages_altered", 1)])

    def test_dates_take_two_pages(self):
        other = {f"/j/{n}": html(f"Tide {n}", f"Café {n}. Written on 2019-05-0{n + 1}.") for n in range(2)}
        self.assertEqual(self.kinds(other), [("dates_otherwise", 2)])
        self.assertEqual(self.kinds(dict(list(other.items())[:1])), [("pages_altered", 1)])

    def test_cut_pages_and_a_part_that_is_gone_everywhere(self):
        def page(n: int, *parts: str) -> tuple[int, str]:
            body = "".join(f"<p>{one}</p>" for one in parts)
            return 200, f"<title>{n}</title><main>{body}</main>"

        left = {"/": html("Home")} | {f"/j/{n}": page(n, f"one {n}", f"two {n}", "Share this") for n in range(5)}
        gone = left | {f"/j/{n}": page(n, f"one {n}", f"two {n}") for n in range(4)}
        self.assertEqual([one.kind for one in causes_of(ground(left, gone))], ["part_gone"])
        cut = left | {f"/j/{n}": page(n, f"one {n}") for n in range(4)}
        self.assertEqual([one.kind for one in causes_of(ground(left, cut))], ["pages_cut"])

    def test_links_back_to_the_old_host(self):
        link = '<a href="{}/j/1">see</a>'
        left = {"/": html("Home")} | {f"/j/{n}": html(f"{n}", f"text {n} {link.format(OLD)}") for n in range(3)}
        back = left | {"/j/2": html("2", f"text 2 {link.format(OLD)}")}
        right = {path: (code, body.replace(OLD, NEW)) for path, (code, body) in left.items()}
        self.assertEqual([one.kind for one in causes_of(ground(left, right))], [])
        self.assertEqual(
            [(o.kind, o.number) for o in causes_of(ground(left, right | {"/j/2": back["/j/2"]}))], [("leads_back", 1)]
        )

    def test_files_by_folder_and_styles_on_most_pages(self):
        def missing(path: str, pages: int) -> Finding:
            return Finding(FILE_MISSING, path, pages, OLD + path, NEW + path, "not found")

        shared = [
            missing("/t/mill.css", 7),
            missing("/u/2019/a.jpg", 1),
            missing("/u/2019/b.jpg", 1),
            missing("/c.png", 1),
        ]
        found = causes_of(ground(self.LEFT, self.LEFT, shared=shared))
        self.assertEqual([(one.kind, one.weight, one.number) for one in found], [
            ("styles_missing", Weight.BLOCKS, 1),
            ("files_missing", Weight.MEND, 2),
            ("files_missing", Weight.MEND, 1),
        ])  # fmt: skip
        self.assertIn("/u/2019", found[1].title)
        self.assertIn("by its address", found[0].instead)
        few = causes_of(ground(self.LEFT, self.LEFT, shared=[missing("/t/mill.css", 2)]))
        self.assertEqual(few[0].weight, Weight.MEND)

    def test_a_source_that_changed_since(self):
        right = {"/j/1": html("Tide 1", "New text."), "/j/2": (404, ""), "/n": html("N"), "/m": html("M")}
        idents = {path: addresses.ident(OLD + path) for path in self.LEFT}
        came = frozenset({addresses.ident(f"{NEW}/n")})
        later = Later("3 May 2026", frozenset({idents["/j/1"]}), frozenset({idents["/j/2"]}), came)
        found = causes_of(ground(self.LEFT, self.LEFT | right, beside=Beside(later)))
        self.assertEqual([(one.kind, one.number) for one in found], [("source_changed", 3), ("pages_new", 1)])
        self.assertIn("3 May 2026", found[0].detail)

    def test_an_older_copy_on_those_seen_or_on_all(self):
        right = {f"/j/{n}": html(f"Tide {n}", f"Old text {n}.") for n in range(4)}
        some = Beside(older=frozenset({f"{NEW}/j/1"}), older_share=0.1)
        self.assertEqual(self.kinds(right, beside=some), [("older_copy", 1), ("pages_altered", 3)])
        most = Beside(older=frozenset({f"{NEW}/j/1"}), older_share=0.8, older_by="2 hours")
        self.assertEqual(self.kinds(right, beside=most), [("older_copy", 4)])


class PathsTest(unittest.TestCase):
    def test_redirects_that_drop_the_path(self):
        left = (
            {"/": html("Home")}
            | {f"/shop/{n}": html(f"{n}", f"goods {n}") for n in range(4)}
            | {"/shop/": html("Shop")}
        )
        right = left | {f"/shop/{n}": (301, "/shop/") for n in range(4)}
        found = causes_of(ledger(left, right))
        self.assertEqual(
            [(one.kind, one.number, one.weight) for one in found], [("redirects_without_path", 4, Weight.BLOCKS)]
        )
        one = left | {"/shop/1": (301, "/shop/")}
        self.assertEqual([(c.kind, c.number) for c in causes_of(ledger(left, one))], [("pages_merged", 1)])
        double = {"/": html("Home"), "/a": html("A"), "/a/": html("A")}
        self.assertEqual(causes_of(ledger(double, double | {"/a": (301, "/a/")})), [], "the same page twice, joined")

    def test_pages_under_another_name(self):
        right = {path: (301, f"http://www.new.example{path}") for path in PAGES}
        right_side = right | {f"http://www.new.example{path}": given for path, given in PAGES.items()}
        found = causes_of(ledger(PAGES, right_side))
        self.assertEqual(
            [(one.kind, one.number, one.weight) for one in found], [("other_name", len(PAGES), Weight.NOTE)]
        )
        self.assertIn("http://www.new.example", found[0].title)

    def test_a_folder_below_a_section(self):
        left = {"/": html("Home")} | {
            f"/u/{year}/{n}.html": html(f"{year} {n}") for year in ("a", "b") for n in range(4)
        }
        right = {path: (404, "") if path.startswith("/u/b/") else given for path, given in left.items()}
        found = causes_of(ledger(left, right))
        self.assertEqual([(one.kind, one.number) for one in found], [("folder_lost", 4)])
        self.assertIn("/u/b", found[0].title)
        right["/u/b/1.html"] = left["/u/b/1.html"]
        self.assertEqual(kinds(left, right), [("pages_lost", 3)])

    def test_everything_after_a_number(self):
        left = {"/": html("Home")} | {f"/j/post-{n}": html(f"{n}") for n in range(1, 21)}
        right = {
            path: (404, "") if path > "/j" and int(path.split("-")[-1]) > 14 else given for path, given in left.items()
        }
        found = causes_of(ledger(left, right))
        self.assertEqual([(one.kind, one.number) for one in found], [("numbers_missing", 6)])
        self.assertIn("after number 14", found[0].title)
        right["/j/post-3"] = (404, "")
        self.assertEqual(kinds(left, right), [("pages_lost", 7)], "one in the middle speaks against it")


class WordingTest(unittest.TestCase):
    def figures(self, **more) -> Figures:
        return Figures(**({"title": "T", "noindex": False, "words": 10, "images": 2, "links": 3, "forms": 0} | more))

    def test_numbers_in_words(self):
        self.assertEqual(wording.number(1, "page"), "one page")
        self.assertEqual(wording.number(1284, "page"), "1,284 pages")
        self.assertEqual(wording.number(2, "address", "addresses"), "2 addresses")

    def test_every_reason_has_words_of_its_own(self):
        said = {wording.not_there(asked, 404, "", "", PageKind.BLANK) for asked in Asked if asked != Asked.PAGE}
        self.assertEqual(len(said), len(Asked) - 1)
        for asked in (Asked.NEVER, Asked.NOT_FETCHED, Asked.PASSING, Asked.CLOSED, Asked.AWAY):
            self.assertTrue(wording.not_there(asked, 503, "", "", PageKind.BLANK).startswith("not judged"))
        self.assertEqual(wording.not_there(Asked.NOT_FOUND, 418, "", "", PageKind.NONE), "answers 418")

    def test_moves(self):
        for redirect, said in [
            (Redirect.PERMANENT, "as planned; 308, one hop"),
            (Redirect.TEMPORARY, "as planned, but 307: not permanent"),
            (Redirect.MISSING, "as planned, but no redirect"),
            (Redirect.ELSEWHERE, "as planned, but the redirect leads elsewhere"),
            (Redirect.NOT_ASKED, "as planned; redirect not asked"),
            (Redirect.NONE, "as planned"),
        ]:
            status = {Redirect.PERMANENT: 308, Redirect.TEMPORARY: 307}.get(redirect, 0)
            self.assertEqual(wording.moved(FoundBy.RULE, redirect, 1, status), said)
        self.assertEqual(wording.moved(FoundBy.REDIRECT, Redirect.PERMANENT, 3, 301), "not in the rule; 301, 3 hops")
        self.assertEqual(
            wording.moved(FoundBy.REDIRECT, Redirect.TEMPORARY, 1, 303), "not in the rule; but 303: not permanent"
        )

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
                self.assertEqual(
                    wording.together(wording.differences(bits, self.figures(), self.figures(**more), {})), said
                )


class BeginningsTest(unittest.TestCase):
    """The date went out of every post's address: one fault, one cause, whatever years and months there are."""

    LEFT = {"/": html("Home")} | {
        f"/20{16 + n % 4}/{n % 12 + 1:02}/post-{n}": html(f"Post {n}", f"What was written on day {n}")
        for n in range(40)
    }

    def right(self, gone=()):
        return {
            path if path == "/" else f"/{path.rpartition('/')[2]}": given for path, given in self.LEFT.items()
            if path.rpartition("/")[2] not in gone
        }  # fmt: skip

    def causes(self, right):
        found = found_ledger(self.LEFT, right)
        return causes_of(found)

    def test_one_cause_with_what_is_gone(self):
        gone = {f"post-{n}" for n in (3, 14, 25)}
        right = self.right(gone) | {path: (404, "") for path in self.LEFT if path != "/"}
        (cause,) = self.causes(right)
        self.assertEqual(cause.kind, "beginnings_changed")
        self.assertEqual(
            cause.title, "The date went out of the address of every page: 37 of 40 pages arrived; 3 pages are gone"
        )
        self.assertEqual((cause.weight, cause.pages), (Weight.BLOCKS, 40))

    def test_all_arrived(self):
        right = self.right() | {path: (404, "") for path in self.LEFT if path != "/"}
        (cause,) = self.causes(right)
        self.assertEqual((cause.weight, cause.title), (
            Weight.MEND, "The date went out of the address of every page: 40 of 40 pages arrived"))  # fmt: skip

    def test_other_endings_are_no_other_beginning(self):
        left = {"/": html("Home")} | {
            f"/{'abc'[n % 3]}/item-{n}/index.html": html(f"Item {n}", f"Item {n} of the shop") for n in range(12)
        }
        right = {path.replace("/index.html", ""): given for path, given in left.items()}
        kinds = [
            cause.kind for cause in causes_of(found_ledger(left, right | dict.fromkeys(list(left)[1:], (404, ""))))
        ]
        self.assertNotIn("beginnings_changed", kinds)

    def test_one_section_is_told_with_its_line(self):
        left = {"/": html("Home")} | {f"/shop/item-{n}": html(f"Item {n}", f"Item {n} of the shop") for n in range(9)}
        right = {path.replace("/shop/", "/store/"): given for path, given in left.items()}
        right |= {path: (404, "") for path in left if path != "/"}
        kinds = [cause.kind for cause in causes_of(found_ledger(left, right))]
        self.assertEqual(kinds, ["section_moved"])

    def test_lost_pages_at_the_top_are_one_cause(self):
        left = {"/": html("Home")} | {f"/post-{n}": html(f"Post {n}") for n in range(30)}
        causes = causes_of(ledger(left, left | {f"/post-{n}": (404, "") for n in (2, 9, 11, 28)}))
        self.assertEqual([cause.title for cause in causes], ["4 pages of 4 sections are not at the destination"])

    def test_lost_pages_of_years_are_one_cause(self):
        right = dict(self.LEFT)
        lost = [path for path in self.LEFT if path != "/"][::5]
        causes = causes_of(ledger(self.LEFT, right | dict.fromkeys(lost, (404, ""))))
        self.assertEqual([cause.title for cause in causes], ["8 pages of /2016 to /2019 are not at the destination"])
