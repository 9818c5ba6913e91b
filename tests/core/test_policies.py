"""Policies: what becomes of an address that is written otherwise, on both sides."""

import unittest

from palinode.core import asked_answers
from palinode.core.asked_answers import AskedAnswer
from palinode.core.checks import policies
from palinode.core.checks.looked import Looked, Side
from palinode.core.rule import read
from tests.core.build import NEW, OLD, html
from tests.core.links import links

RULE = read(f"{OLD}/ -> {NEW}/")
WWW_OLD, WWW_NEW = "http://www.old.example", "http://www.new.example"


def side(host: str, answers: dict[str, tuple[int, str]] | None) -> Side:
    """Return a side with one inner page, and what it answered: path or address to status and where that leads."""
    pages = links(host, {"/": html("Home", "x"), "/visit": html("Visit", "y"), "/visit/2019/long": html("Long", "z")})
    told = {
        (path if "://" in path else host + path): AskedAnswer(status, to if "://" in to or not to else host + to)
        for path, (status, to) in (answers or {}).items()
    }
    return Side((f"{host}/",), links=pages, asked=told or None)


def rows(left: Side, right: Side) -> dict[str, tuple[str, str, str, str]]:
    made = policies.judge(Looked(left, right, RULE, "Palinode"))
    told = made.rows
    words = [policies.VERDICTS[at].word for at in told.verdict.tolist()]
    return {
        name: (word, one, other, note)
        for name, word, one, other, note in zip(
            told.left_note, words, told.left, told.right, told.right_note, strict=True
        )
    }


class PoliciesTest(unittest.TestCase):
    def test_what_is_asked(self):
        asked = [one.address.removeprefix(OLD) for one in policies.asks(side(OLD, None), "left")]
        self.assertEqual(
            asked,
            ["/visit/", "/visit", f"{WWW_OLD}/visit", "https://old.example/visit", "/VISIT", "//visit", "/%76isit",
             "/index.html", "/", "/index.php"],
        )  # fmt: skip
        # What the source said once is what was recorded.
        self.assertEqual(policies.asks(side(OLD, {"/visit": (200, "")}), "left"), [])
        self.assertEqual(len(policies.asks(side(NEW, {"/visit": (200, "")}), "right")), 10)

    def test_each_verdict(self):
        left = {
            "/": (200, ""), "/visit": (200, ""), "/visit/": (301, "/visit"), f"{WWW_OLD}/visit": (301, "/visit"), "/VISIT": (404, ""),
            "https://old.example/visit": (-1, ""), "//visit": (301, "/visit"), "/%76isit": (200, ""), "/index.html": (301, "/"),
            "/index.php": (404, ""),
        }  # fmt: skip
        right = {
            "/": (200, ""), "/visit": (200, ""), "/visit/": (200, ""), f"{WWW_NEW}/visit": (301, "/visit"), "/VISIT": (200, ""),
            "https://new.example/visit": (200, ""), "//visit": (404, ""), "/%76isit": (200, ""), "/index.html": (301, "/index"),
            "/index": (302, "/"),
        }  # fmt: skip
        told = rows(side(OLD, left), side(NEW, right))
        self.assertEqual(
            told["Slash at the end"], ("lost", "/visit/ → /visit, 301", "/visit/ 200", "one page under two addresses")
        )
        self.assertEqual(
            told["www"][:3], ("same", "www.old.example/visit → /visit, 301", "www.new.example/visit → /visit, 301")
        )
        self.assertEqual(
            told["http and https"][1:3], ("https://old.example/visit not fetched", "https://new.example/visit 200")
        )
        self.assertEqual(told["Letter case"], ("altered", "/VISIT 404", "/VISIT 200", "not found before"))
        self.assertEqual(told["http and https"][0::3], ("unknown", "the source did not answer"))
        self.assertEqual(told["Double slash"], ("lost", "//visit → /visit, 301", "//visit 404", "not found"))
        self.assertEqual(told["Letter encoded"], ("same", "/%76isit 200", "/%76isit 200", ""))
        self.assertEqual(
            told["Index file index.html"],
            ("hops", "/index.html → /, 301", "/index.html → /index → /, 301", "2 hops, 1 before"),
        )
        self.assertEqual(told["Index file index.php"][::3], ("unknown", "not asked on both sides"))
        made = policies.judge(Looked(side(OLD, left), side(NEW, right), RULE, "Palinode"))
        self.assertEqual(
            [made.findings.kind_of(at).word for at in range(len(made.findings))], ["policy_lost", "policy_lost"]
        )

    def test_an_answer_of_the_moment_loses_nothing(self):
        left = {"/visit": (200, ""), "/visit/": (301, "/visit")}
        for status in (503, 429, 403, -1):
            told = rows(side(OLD, left), side(NEW, {"/visit": (200, ""), "/visit/": (status, "")}))
            self.assertEqual(told["Slash at the end"][::3], ("unknown", "the destination did not answer"), status)

    def test_where_nobody_asked(self):
        made = policies.judge(Looked(side(OLD, None), side(NEW, {"/": (200, "")}), RULE, "Palinode"))
        self.assertEqual((len(made.rows), made.unseen), (0, ("policies of addresses (Check now asks the source)",)))

    def test_hops(self):
        told = {"a": AskedAnswer(301, "b"), "b": AskedAnswer(301, "a"), "c": AskedAnswer(302, "d")}
        circle = asked_answers.follow(told, "a")
        self.assertEqual((circle.addresses, circle.status), (("a", "b", "a"), 0))
        self.assertEqual((asked_answers.follow(told, "c").count, asked_answers.follow(told, "c").status), (1, 0))
        self.assertIsNone(asked_answers.follow(told, "x"))
