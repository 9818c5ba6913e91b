"""Patterns of addresses, what pages bring, and the budgets that follow from it."""

import unittest

from palinode.core import novelty, pattern
from palinode.core.novelty import News, Novelty
from palinode.core.pattern import REPEATING
from palinode.core.pattern_budget import FIRST, PatternBudget

HOST = "http://mill.example"


def texts(path: str) -> list[str]:
    return [one.text for one in pattern.of(HOST + path)]


class PatternTest(unittest.TestCase):
    def test_the_narrow_one_and_the_wide_one(self):
        for path, expected in [
            ("/", ["/*"]),
            ("/about", ["/*"]),
            ("/4711", ["/0"]),
            ("/journal/flour", ["/journal/*"]),
            ("/journal/page/7", ["/journal/page/0", "/journal/*/*"]),
            ("/calendar/2031/04/", ["/calendar/0/0", "/calendar/*/*"]),
            ("/2017/03/flour", ["/0/0/*", "/0/*/*"]),
            ("/shop/red/large/linen", ["/shop/red/large/*", "/shop/*/*/*"]),
            ("/a/b/c/d/e/f", ["/a/b/c/d/e/*", "/a/*/*/*/…"]),
            ("/cal?year=1999&month=12", ["/cal?month&year", "/cal?…"]),
            ("/shop/7?f[0]=a&f[1]=b", ["/shop/0?f[0]", "/shop/0?…"]),
            ("/about;sid=7f", ["/about;sid", "…;sid"]),
            ("/shop/;a=1/7;b=2", ["/shop//0;a;b", "…;a;b"]),
            ("/about;sid=7f?x=1", ["/about?x", "/about?…"]),
        ]:
            with self.subTest(path):
                self.assertEqual(texts(path), expected)

    def test_values_do_not_count_and_names_do(self):
        for one, other in [("/x?sid=abc", "/x?sid=def"), ("/shop/7?colour=red", "/shop/19?colour=")]:
            self.assertEqual(texts(one), texts(other))
        self.assertNotEqual(texts("/cal?month=4")[0], texts("/cal?year=4")[0])
        self.assertEqual(texts("/cal?month=4")[1], texts("/cal?year=4")[1])

    def test_paths_that_repeat_themselves(self):
        for path in ("/a/a/a", "/x/a/b/a/b/a/b/y", "/de/de/de/shop?x=1", "/a/b/c/a/b/c/a/b/c"):
            with self.subTest(path):
                self.assertEqual(pattern.of(HOST + path), (REPEATING,))
        for path in ("/a/b/a/b", "/a/a", "/2026/2026/1"):
            self.assertNotEqual(pattern.of(HOST + path), (REPEATING,))

    def test_long_addresses_are_bounded(self):
        for path in (
            "/x?" + "&".join(f"name{chr(97 + n % 26) * n}=1" for n in range(200)),
            "/" + "/".join(f"s{n}" for n in range(3000)),
        ):
            self.assertLessEqual(max(map(len, texts(path))), 500)

    def test_plain_addresses(self):
        for path, plain in [("/a/b", True), ("/", True), ("/a?b=c", False), ("/a;s", False), ("/a/4", False)]:
            self.assertEqual(pattern.is_plain(HOST + path), plain, path)

    def test_addresses_with_but_a_number(self):
        for path, numbered in [
            ("/?id=7", True), ("/p17", True), ("/part/4711", True), ("/item-12.html", True), ("/shop/7?view=all", True),
            ("/journal", False), ("/calendar/2031/04", False), ("/news/page/7", False), ("/news?page=7", False),
            ("/cal?month=4", False), ("/a/1/2", False), ("/x?sid=17644211789", False),
        ]:  # fmt: skip
            self.assertEqual(pattern.is_numbered(HOST + path), numbered, path)


class NoveltyTest(unittest.TestCase):
    def new(self, known: Novelty, *said: str) -> bool:
        return known.news(novelty.of_texts(said)) is News.CONTENT

    def test_the_same_again_and_the_same_in_another_order(self):
        known = Novelty()
        said = ("Flour", "Rye is ground on Tuesdays, when the tide is high in the morning", "See also the sluice gate")
        self.assertTrue(self.new(known, *said))
        self.assertFalse(self.new(known, *said))
        self.assertFalse(self.new(known, *reversed(said)))

    def test_numbers_say_nothing_new(self):
        known = Novelty()
        self.assertTrue(self.new(known, "April 2031", "There is nothing on the 3rd of April 2031 at the mill"))
        self.assertFalse(self.new(known, "April 2047", "There is nothing on the 17rd of April 2047 at the mill"))

    def test_what_differs_in_numbers_alone(self):
        known = Novelty()
        for number, news in ((1, News.CONTENT), (2, News.NUMBERS), (3, News.NUMBERS), (2, News.NOTHING)):
            self.assertEqual(known.news(novelty.of_texts([f"Part {number}", f"It costs {number} pounds a bag"])), news)

    def test_facets_that_combine_run_out_and_pages_do_not(self):
        known = Novelty()
        values = [f"value{chr(97 + n)}" for n in range(12)]
        combined = [
            self.new(known, "Shop", "Bowls and boards for baking", f"You chose {one}, {other}, {third}")
            for one in values
            for other in values
            for third in values
        ]
        self.assertLess(sum(combined[300:]) / len(combined[300:]), 0.02)
        words = ["tide", "mill", "rye", "oats", "stone", "wheel", "sluice", "barge", "sack", "loft"]
        pages = [
            " ".join(words[(n // 10**at) % 10] for at in range(4)) + f" {words[n % 7]} {words[n % 3]}"
            for n in range(600)
        ]
        self.assertGreater(sum(self.new(known, text, f"The {text} of it") for text in pages) / 600, 0.9)

    def test_copies_under_an_address_with_parameters_take_nothing_from_the_page(self):
        known = Novelty()
        said = novelty.of_texts(["Rye", "It is ground on Tuesdays, when the tide is high in the morning"])
        one, none, two = (
            said.at(address)
            for address in ("http://mill.example/?a=1", "http://mill.example/", "http://mill.example/?a=1&b=2")
        )
        self.assertEqual(known.news(one), News.CONTENT)
        self.assertEqual(known.news(one), News.NOTHING)
        self.assertEqual(known.news(none), News.CONTENT)
        self.assertEqual(known.news(none), News.NOTHING)
        self.assertEqual(known.news(two), News.NOTHING)

    def test_files_by_their_bytes(self):
        known = Novelty()
        self.assertEqual(known.news(novelty.of_bytes(b"1234")), News.CONTENT)
        self.assertEqual(known.news(novelty.of_bytes(b"1234")), News.NOTHING)
        self.assertEqual(known.news(novelty.of_bytes(b"4321")), News.CONTENT)

    def test_a_page_that_says_nothing_brings_nothing(self):
        self.assertFalse(self.new(Novelty()))
        self.assertFalse(self.new(Novelty(), "", "2031", "Page 7"))


class PatternBudgetTest(unittest.TestCase):
    def asked(self, brought: list[bool | None]) -> PatternBudget:
        """Ask one after another while there is room."""
        budget = PatternBudget(FIRST)
        for fresh in brought:
            if not budget.room:
                break
            budget.let += 1
            budget.note([fresh])
            budget.grow()
        return budget

    def test_a_pattern_that_brings_nothing_ends(self):
        budget = self.asked([True] * 12 + [False] * 10_000)
        self.assertEqual((budget.asked, budget.fresh), (FIRST, 0))

    def test_a_pattern_that_goes_on_bringing_is_asked_whole(self):
        self.assertEqual(self.asked([True] * 10_000).asked, 10_000)
        self.assertEqual(self.asked([n % 3 == 0 for n in range(10_000)]).asked, 10_000)

    def test_one_that_brings_now_and_then_ends_and_may_hold_more(self):
        self.assertEqual(self.asked([n % 10 == 0 for n in range(10_000)]).asked, 10_000)
        budget = self.asked([n % 30 == 0 for n in range(10_000)])
        self.assertEqual((budget.asked, budget.fresh), (FIRST, 1))

    def test_answers_that_lead_nowhere_speak_for_nothing(self):
        self.assertEqual(self.asked([None] * 10_000).asked, 10_000)
        self.assertEqual(self.asked(([None] * 9 + [False]) * 1_000).asked, 2 * FIRST)

    def test_what_was_let_through_and_not_asked_is_given_back(self):
        budget = PatternBudget(FIRST, let=FIRST)
        budget.note([True] * 5)
        self.assertEqual(budget.room, 0)
        budget.settle()
        self.assertEqual(budget.room, FIRST - 5)
