"""Pairs, their parts and their fates, on small tables by hand."""

import unittest

from palinode.core import address as addresses
from palinode.core.checks.pages.check import rows
from palinode.core.compare import Retired
from palinode.core.fates import AddressChange, Fate, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.ledger import Ledger
from tests.core.build import NEW, OLD, counts, html, ledger


def told(found: Ledger) -> dict[str, tuple[str, str]]:
    """Return path to fate and detail; new pages by their right path."""
    return {
        (left or right).split(".example", 1)[1]: (Fate(fate).word, detail)
        for left, right, fate, detail in zip(
            found.left_address, found.right_address, found.fate.tolist(), found.detail, strict=True
        )
    }


class FatesTest(unittest.TestCase):
    def test_kept_altered_lost_new(self):
        found = ledger(
            {"/": html("Home"), "/a": html("A", "one two three"), "/b": html("B"), "/c": html("C")},
            {"/": html("Home"), "/a": html("A", "one"), "/b": (404, ""), "/c": (410, ""), "/d": html("D")},
        )
        self.assertEqual(
            told(found),
            {
                "/": ("kept", ""),
                "/a": ("altered", "“one two three” became “one”"),
                "/b": ("lost", "not found"),
                "/c": ("lost", "gone"),
                "/d": ("new", ""),
            },
        )

    def test_what_was_not_asked_or_not_fetched_is_never_lost(self):
        left = {f"/{n}": html(n) for n in ("never", "timeout", "busy", "locked", "away")}
        right = {
            "/timeout": ("timed out three times", ""),
            "/busy": (503, ""),
            "/locked": (401, ""),
            "/away": (302, "http://elsewhere.example/"),
        }
        found = told(ledger(left, right, limits=("stopped at 5 addresses, the limit set",)))
        self.assertEqual({fate for fate, _ in found.values()}, {"unknown"})
        self.assertEqual(found["/never"][1], "not judged: never asked, stopped at 5 addresses, the limit set")
        self.assertEqual(found["/timeout"][1], "not judged: timed out three times")
        self.assertIn("503", found["/busy"][1])
        self.assertIn("401", found["/locked"][1])

    def test_a_source_answer_that_is_no_page_is_never_lost(self):
        found = told(ledger({"/old": (301, "/new"), "/broken": (404, ""), "/new": html("N")}, {"/new": html("N")}))
        self.assertEqual(found, {"/new": ("kept", "")})

    def test_moved_as_planned_and_its_redirect(self):
        left = {f"/shop/{n}": html(n) for n in ("good", "passing", "none", "wrong", "unasked", "two", "both")}
        right = {f"/store/{n}": html(n) for n in ("good", "passing", "none", "wrong", "unasked", "two", "both")}
        right |= {
            "/shop/both": (308, "/y"),
            "/y": (307, "/store/both"),
            "/shop/good": (308, "/store/good"),
            "/shop/passing": (302, "/store/passing"),
            "/shop/none": (404, ""),
            "/shop/wrong": (301, "/store/good"),
            "/shop/two": (301, "/x"),
            "/x": (301, "/store/two"),
        }
        found = ledger(left, right, "/shop -> /store")
        self.assertEqual(
            told(found),
            {
                "/shop/both": ("moved", "as planned, but 307: not permanent"),
                "/shop/good": ("moved", "as planned; 308, one hop"),
                "/shop/passing": ("moved", "as planned, but 302: not permanent"),
                "/shop/none": ("moved", "as planned, but no redirect"),
                "/shop/wrong": ("moved", "as planned, but the redirect leads elsewhere"),
                "/shop/unasked": ("moved", "as planned; redirect not asked"),
                "/shop/two": ("moved", "as planned; 301, 2 hops"),
            },
        )
        self.assertEqual(set(found.address_change.tolist()), {AddressChange.PLANNED})
        self.assertIn(Redirect.PERMANENT, found.redirect.tolist())

    def test_moved_by_a_redirect_that_no_rule_named(self):
        found = ledger(
            {"/a": html("A"), "/t": html("T")}, {"/a": (301, "/b"), "/b": html("A"), "/t": (302, "/u"), "/u": html("T")}
        )
        self.assertEqual(told(found)["/a"], ("moved", "not in the rule; 301, one hop"))
        self.assertEqual(told(found)["/t"], ("moved", "not in the rule; but 302: not permanent"))
        self.assertEqual(found.found_by.tolist(), [FoundBy.REDIRECT] * 2)
        self.assertEqual(found.address_change.tolist(), [AddressChange.UNPLANNED] * 2)

    def test_still_at_the_old_path_against_the_rule(self):
        found = ledger({"/shop/a": html("A")}, {"/store/a": (404, ""), "/shop/a": html("A")}, "/shop -> /store")
        self.assertEqual(told(found)["/shop/a"], ("moved", "still at its old path, against the rule"))

    def test_redirects_that_end_nowhere(self):
        left = {f"/{n}": html(n) for n in ("loop", "home", "gone", "long")}
        right = {
            "/loop": (301, "/loop2"),
            "/loop2": (301, "/loop"),
            "/home": (302, "/"),
            "/": html("Home"),
            "/gone": (301, "/no"),
            "/no": (404, ""),
        }
        right |= {f"/long{n or ''}": (301, f"/long{n + 1}") for n in range(20)}
        found = told(ledger(left, right))
        self.assertEqual(found["/loop"], ("lost", "redirects in a loop"))
        self.assertEqual(found["/home"], ("lost", "redirected to the home page"))
        self.assertEqual(found["/gone"], ("lost", "not found"))
        self.assertEqual(found["/long"], ("lost", "redirects in a loop"))

    def test_the_home_page_may_redirect_to_itself_elsewhere(self):
        found = told(ledger({"/": html("Home")}, {"/": (301, "/en"), "/en": html("Home")}))
        self.assertEqual(found["/"][0], "moved")

    def test_retired_comes_first(self):
        retired = Retired(frozenset({addresses.ident(f"{OLD}/a")}), frozenset({"/events"}))
        left = {"/a": html("A"), "/events": html("E"), "/events/x": html("X"), "/b": html("B")}
        found = told(ledger(left, {"/b": html("B"), "/a": html("A")}, retired=retired))
        self.assertEqual([fate for fate, _ in found.values()].count("retired"), 3)
        self.assertEqual(found["/b"][0], "kept")

    def test_server_errors_and_files_in_place_of_pages(self):
        found = told(ledger({"/a": html("A")}, {"/a": (500, "")}))
        self.assertEqual(found["/a"], ("lost", "the server failed with 500"))


class ContentTest(unittest.TestCase):
    def fate(self, left: str, right: str) -> tuple[str, str]:
        return told(ledger({"/a": (200, left)}, {"/a": (200, right)}))["/a"]

    def test_an_old_address_that_the_rule_maps_is_no_difference(self):
        markup = '<head><link rel=canonical href="{0}/a"></head><main><a href="{0}/b">b</a> see {0}/c</main>'
        self.assertEqual(self.fate(markup.format(OLD), markup.format(NEW)), ("kept", ""))

    def test_an_old_address_that_stayed_is_one(self):
        left = f'<main><a href="{OLD}/b">b</a></main>'
        self.assertEqual(self.fate(left, left), ("altered", f"link to /b leads to {OLD}/b"))
        canonical = f'<link rel=canonical href="{OLD}/a"><main>x</main>'
        self.assertEqual(self.fate(canonical, canonical), ("altered", f"canonical leads to {OLD}"))

    def test_a_link_elsewhere_stays_what_it_is(self):
        markup = '<main><a href="http://other.example/">b</a></main>'
        self.assertEqual(self.fate(markup, markup), ("kept", ""))

    def test_template_does_not_count(self):
        self.assertEqual(
            self.fate("<nav><a href=/x>x</a></nav><main>t</main>", "<nav>other</nav><main>t</main>"), ("kept", "")
        )

    def test_order_of_links_does_not_count_but_their_number_does(self):
        one, two = (
            '<main><a href="/x">l</a><a href="/y">l</a></main>',
            '<main><a href="/y">l</a><a href="/x">l</a></main>',
        )
        self.assertEqual(self.fate(one, two), ("kept", ""))
        self.assertEqual(self.fate(one, '<main><a href="/x">l</a>l</main>'), ("altered", "link to /y is missing"))

    def test_differences_in_words(self):
        left = (
            '<title>T</title><main><p>one two</p><img src="/i.png"><img src="/j.png"><form><input name=a></form></main>'
        )
        self.assertEqual(
            self.fate(left, "<title>U</title><main><p>one two three</p></main>"),
            (
                "altered",
                "“one two” became “one two three”, title now “U”, 2 images missing: /i.png, /j.png, and one other difference",
            ),
        )
        self.assertEqual(
            self.fate("<main>x</main>", "<meta name=robots content=noindex><main>x</main>"), ("altered", "noindex")
        )
        self.assertEqual(
            self.fate("<main>x</main>", "<html lang=de><main>y</main>"), ("altered", "“x” became “y”, language differs")
        )

    def test_bits_name_the_fields(self):
        found = ledger({"/a": html("A", "x")}, {"/a": html("B", "x")})
        self.assertEqual(found.content_change.tolist(), [1 << Field.TITLE])


class OrderTest(unittest.TestCase):
    def test_worst_first_by_section_and_address_with_counts(self):
        left = {f"/{s}/{n}": html(f"{s}{n}") for s in ("b", "a", "a-c") for n in ("2", "1")}
        found = ledger(
            left,
            {
                "/b/1": html("b1"),
                "/a/1": html("a1"),
                "/a/2": (404, ""),
                "/b/2": (404, ""),
                "/a-c/1": html("a-c1"),
                "/a-c/2": html("a-c2"),
            },
        )
        paths = [text.split(".example", 1)[1] for text in found.left_address]
        self.assertEqual(paths, ["/a/2", "/b/2", "/a/1", "/a-c/1", "/a-c/2", "/b/1"])
        self.assertEqual(
            counts(found),
            [("lost", "/a", 1), ("lost", "/b", 1), ("kept", "/a", 1), ("kept", "/a-c", 2), ("kept", "/b", 1)],
        )
        self.assertEqual(rows(found).by_group, [("/a", 2), ("/a-c", 2), ("/b", 2)])
        self.assertEqual(
            [paths[rank] for rank in found.place.argsort()], ["/a/1", "/a/2", "/a-c/1", "/a-c/2", "/b/1", "/b/2"]
        )

    def test_nothing_at_all(self):
        found = ledger({}, {})
        self.assertEqual((counts(found), rows(found).by_group, found.crossing), ([], [], []))

    def test_crossing_of_sections(self):
        found = ledger(
            {"/shop/a": html("A"), "/b/x": html("X")},
            {"/store/a": html("A"), "/b/x": (404, ""), "/n": html("N")},
            "/shop -> /store",
        )
        self.assertEqual(
            set(found.crossing), {("/shop", "/store", "moved", 1), ("/b", "", "lost", 1), ("", "/n", "new", 1)}
        )
