"""Partners that no address led to: by what pages say, by links, by patterns of addresses, under other addresses."""

import unittest

import numpy as np

from palinode.core import address as addresses
from palinode.core.fates import Fate, FoundBy, Redirect
from palinode.core.pairing import patterns, twins
from tests.core.build import Given, found_ledger, html
from tests.words import WORDS

FEW = WORDS[:21]


def long(seed: int) -> str:
    """Return a text of sixty words that no other seed has."""
    draw = np.random.default_rng(seed)
    return " ".join(FEW[n] for n in draw.integers(0, len(FEW), 60))


def found(left: dict[str, Given], right: dict[str, Given], lines: str = "") -> dict[str, tuple[str, str, str]]:
    """Return path to fate, right path and detail; new pages by their right path."""

    ledger = found_ledger(left, right, lines)
    rows = zip(
        ledger.left_address,
        ledger.right_address,
        ledger.fate.tolist(),
        ledger.detail,
        ledger.found_by.tolist(),
        ledger.redirect.tolist(),
        strict=True,
    )
    return {
        addresses.path(old or new): (
            Fate(fate).word,
            addresses.path(new) if new else "",
            detail,
            FoundBy(by),
            Redirect(to),
        )
        for old, new, fate, detail, by, to in rows
    }


class PatternsTest(unittest.TestCase):
    def test_what_became_of_a_beginning(self):
        pairs = [(f"/2017/{month:02}/{name}", f"/{name}") for month in (3, 4) for name in ("flour", "rye")]
        (pattern,) = patterns.learn(pairs).values()
        self.assertEqual((pattern.old, pattern.new, pattern.support, pattern.exceptions), (("0", "0"), (), 4, 0))
        self.assertEqual(
            [where for where, _ in patterns.proposals("/2019/11/oats/wheel.html", {pattern.old: pattern})],
            [("oats", "wheel")],
        )

    def test_kinds_of_change(self):
        for old, new, asked, where in [
            ("/shop/{}", "/store/{}", "/shop/x/y", ("store", "x", "y")),
            ("/{}.html", "/{}/", "/x.php", ("x",)),
            ("/{}", "/en/{}", "/x", ("en", "x")),
            ("/journal/2017/{}", "/blog/{}", "/journal/2020/x", ("blog", "x")),
            ("/old/{}/index.html", "/{}", "/old/x/", ("x",)),
        ]:
            with self.subTest(old):
                learnt = patterns.learn((old.format(name), new.format(name)) for name in ("a", "b", "c"))
                self.assertIn(where, [at for at, _ in patterns.proposals(asked, learnt)])

    def test_two_pairs_are_no_pattern_and_exceptions_count(self):
        self.assertEqual(patterns.learn([("/a/x", "/b/x"), ("/a/y", "/b/y")]), {})
        self.assertEqual(patterns.learn([("/a", "/a")] * 9), {})
        learnt = patterns.learn([("/a/x", "/b/x"), ("/a/y", "/b/y"), ("/a/z", "/b/z"), ("/a/u", "/c/u")])
        self.assertEqual((learnt["a",].exceptions, learnt["a",].certainty), (1, 3 / 5))

    def test_the_longest_beginning_proposes_first(self):
        learnt = patterns.learn(
            [(f"/shop/{n}", f"/store/{n}") for n in "abc"] + [(f"/shop/tea/{n}", f"/leaves/{n}") for n in "def"]
        )
        self.assertEqual(
            [where for where, _ in patterns.proposals("/shop/tea/x", learnt)], [("leaves", "x"), ("store", "tea", "x")]
        )


class TwinsTest(unittest.TestCase):
    def test_addresses_of_one_page(self):
        for path in (
            "/a/index.html",
            "/a",
            "/a/?print=1",
            "/a;sid=7f",
            "/a/default.aspx",
            "/a/index.cgi",
            "/a?b=2&a=1",
        ):
            self.assertEqual(twins.key(path), twins.key("/a/"), path)
        for path in ("/a/b", "/A", "/a/index", "/index.html/a"):
            self.assertNotEqual(twins.key(path), twins.key("/a/"), path)


class PartnersTest(unittest.TestCase):
    def test_short_pages_and_what_is_below_them_by_what_became_of_the_others(self):
        left = {f"/2017/03/{name}": html(name, long(n)) for n, name in enumerate(("flour", "rye", "oats", "bran"))}
        right = {f"/{name}": html(name, long(n)) for n, name in enumerate(("flour", "rye", "oats", "bran"))}
        left |= {"/2018/11/closed": html("Note", "Closed today"), "/2018/12/open": html("Note", "Open again"),
                 "/2018/12/open/wheel": html("Wheel", "A picture"), "/2018/12/gone": html("Gone", "Never more")}  # fmt: skip
        right |= {"/closed": html("Note", "Closed today"), "/open": html("Note", "Open again"),
                  "/open/wheel": html("Wheel", "A picture"), "/2018/12/gone": (404, "")}  # fmt: skip
        told = found(left, right)
        for path in ("/2018/11/closed", "/2018/12/open", "/2018/12/open/wheel"):
            self.assertEqual(told[path][:2], ("moved", path[8:]), told)
        self.assertEqual(told["/2018/12/gone"][0], "lost")
        self.assertNotIn("new", {fate for fate, *_ in told.values()})

    def test_texts_that_have_nothing_in_common_refuse_a_pattern(self):
        names = ("flour", "rye", "oats")
        left = {f"/a/{name}": html(name, long(n)) for n, name in enumerate(names)} | {"/a/x": html("One", long(50))}
        right = {f"/b/{name}": html(name, long(n)) for n, name in enumerate(names)} | {"/b/x": html("Other", long(51))}
        told = found(left, right)
        self.assertEqual((told["/a/x"][0], told["/b/x"][0]), ("unknown", "new"))

    def test_a_redirect_is_evidence_and_no_proof(self):
        left = {"/": html("Home", "Welcome"), "/old": html("Flour", long(1)), "/kept": html("Rye", long(2))}
        right = {"/": html("Home", "Welcome"), "/old": (301, "/wrong"), "/wrong": html("Contact", "Write to us"),
                 "/right": html("Flour", long(1)), "/kept": (301, "/rye"), "/rye": html("Rye and more", long(2))}  # fmt: skip
        told = found(left, right)
        self.assertEqual(told["/old"][:2], ("moved", "/right"))
        self.assertIn("the old path leads to /wrong", told["/old"][2])
        self.assertEqual(told["/old"][4], Redirect.ELSEWHERE)
        self.assertEqual((told["/kept"][1], told["/kept"][3]), ("/rye", FoundBy.REDIRECT))
        self.assertEqual(told["/wrong"][0], "new")

    def test_a_redirect_stays_where_nothing_better_stands(self):
        left = {"/old": html("Flour", long(1)), "/b": html("B", "b")}
        right = {
            "/old": (301, "/new"),
            "/new": html("All about grain", long(3)),
            "/c": html("C", long(4)),
            "/b": html("B", "b"),
        }
        self.assertEqual(found(left, right)["/old"][1], "/new")

    def test_one_page_under_several_addresses_shares_its_partner(self):
        body = html("Flour", long(1))
        left = {"/a/": body, "/a/index.html": body, "/a/?print=1": body, "/b/index.html": html("B", "b"), "/copy": body}
        told = found(left, {"/a/": body, "/b/index.html": html("B", "b")})
        for path in ("/a/index.html", "/a/?print=1"):
            self.assertEqual(told[path][:2], ("moved", "/a/"), path)
            self.assertEqual(told[path][4], Redirect.NOT_ASKED)
        self.assertEqual(told["/copy"][0], "unknown", "another page that says the same is another page")

    def test_a_right_page_under_another_address_is_not_new(self):
        body = html("Flour", long(1))
        told = found(
            {"/a/": body, "/b": html("B", "b")},
            {"/a/": body, "/a/index.html": body, "/a/?s=7": body, "/b": html("B", "b"), "/c": body},
        )
        self.assertEqual({path for path, (fate, *_) in told.items() if fate == "new"}, {"/c"})

    def test_one_page_in_place_of_many(self):
        left = {f"/item?id={n}": html(f"Item {n}", long(n)) for n in range(8)} | {"/": html("Home", long(90))}
        front = html("Soon", "There will be something here before long, come back in spring")
        told = found(left, {f"/item?id={n}": front for n in range(8)} | {"/": html("Home", long(90))})
        for n in range(8):
            self.assertEqual(told[f"/item?id={n}"][0], "lost")
            self.assertIn("which answers in place of many", told[f"/item?id={n}"][2])
        self.assertNotIn("new", {fate for fate, *_ in told.values()})

    def test_pages_that_were_alike_before_are_no_stand_ins(self):
        body = html("Empty", "Nothing in this room yet")
        left = {f"/room/{n}": body for n in range(8)}
        self.assertEqual(
            {
                fate
                for fate, *_ in found(left, {path: html("Empty", "Nothing in this hall yet") for path in left}).values()
            },
            {"kept"},
        )
