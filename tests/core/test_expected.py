"""Expected differences: what each kind explains, nearly explains, and does not."""

import unittest
from dataclasses import replace

import numpy as np

from palinode.core import expected
from palinode.core.checks.pages import kinds
from palinode.core.differences.words import locus_of
from palinode.core.expected import Differing, Expectation, ExpectationError, Said, What
from palinode.core.findings import subject

TEXT, TITLE = kinds.TEXT, kinds.TITLE
HOST = "http://old.example"


def said(title: str = "", *texts: str) -> Said:
    return Said(title, "", [("p", text) for text in texts])


class WordsTest(unittest.TestCase):
    def explains(self, words, becomes, left, right, kind=TITLE):
        return Expectation(1, What.WORDS, words=words, becomes=becomes).explains(kind, 0, left, right)

    def test_words_in_the_place_of_others(self):
        old, new = said("Rye – Old Mill", "at the Old Mill"), said("Rye – New Mill", "at the New Mill")
        self.assertTrue(self.explains("Old Mill", "New Mill", old, new))
        self.assertTrue(self.explains("Old Mill", "New Mill", old, new, TEXT))

    def test_another_difference_beside_it_is_not_meant(self):
        self.assertFalse(self.explains("Old", "New", said("Rye Old"), said("Oats New")))
        self.assertFalse(self.explains("Old", "New", said("", "Old", "gone"), said("", "New"), TEXT))

    def test_no_difference_is_nothing_to_explain(self):
        self.assertFalse(self.explains("Old", "New", said("Rye"), said("Rye")))

    def test_stars_stand_for_anything_short(self):
        old, new = said("Posted on Monday by Ann"), said("Ann wrote on Monday")
        self.assertTrue(self.explains("Posted on * by Ann", "Ann wrote on *", old, new))
        self.assertFalse(self.explains("Posted on * by Ann", "Ann wrote on *", old, said("Ann wrote on Tuesday")))

    def test_what_looks_like_a_pattern_is_words(self):
        self.assertTrue(self.explains("a.c (d)", "x\\1", said("a.c (d)"), said("x\\1")))
        self.assertFalse(self.explains("a.c", "x", said("abc"), said("x")))

    def test_no_text_takes_long(self):
        text = "a" * 200_000
        self.assertEqual(Expectation(1, What.WORDS, words="a*a*a*b", becomes="*").replaced(text), text)


class NumbersTest(unittest.TestCase):
    def explains(self, tolerance, left, right):
        return Expectation(1, What.NUMBERS, tolerance=tolerance).explains(TEXT, 0, said("", left), said("", right))

    def test_numbers_and_dates_alone(self):
        self.assertTrue(self.explains(100, "12 sacks, updated 3.4.2025", "9 sacks, updated 24.11.2026"))
        self.assertFalse(self.explains(100, "12 sacks", "12 bags"))
        self.assertFalse(self.explains(100, "12 sacks", "sacks"))

    def test_within_a_tolerance(self):
        self.assertTrue(self.explains(10, "1,200 visitors", "1,300 visitors"))
        self.assertFalse(self.explains(10, "1,200 visitors", "1,400 visitors"))
        self.assertTrue(self.explains(10, "2.5 tons", "2.6 tons"))
        self.assertFalse(self.explains(10, "2.5 tons", "25 tons"))


class BlockTest(unittest.TestCase):
    """A finding about one block is meant where what this block says is, whatever else differs on the page."""

    def explains(self, one, about, left, right):
        return one.explains(TEXT, subject("", locus_of(*about)), left, right)

    def test_the_block_alone_counts(self):
        left, right = said("", "at the Old Mill", "12 sacks", "x"), said("", "at the New Mill", "9 sacks", "y")
        words = Expectation(1, What.WORDS, words="Old", becomes="New")
        numbers = Expectation(1, What.NUMBERS)
        for about, expected_words, expected_numbers in (
            (("at the Old Mill", "at the New Mill"), True, False),
            (("12 sacks", "9 sacks"), False, True),
            (("x", "y"), False, False),
        ):
            with self.subTest(about):
                self.assertEqual(self.explains(words, about, left, right), expected_words)
                self.assertEqual(self.explains(numbers, about, left, right), expected_numbers)

    def test_a_block_that_differs_no_more_without_a_region_was_in_it(self):
        region, page = Expectation(1, What.REGION, selector=".weather"), replace(said("", "kept"), page=5)
        self.assertTrue(self.explains(region, ("north", "west"), page, said("", "other")))
        self.assertFalse(self.explains(region, ("kept", "other"), page, said("", "other")))


class RegionTest(unittest.TestCase):
    def test_what_stands_there_is_left_out(self):
        markup = '<body><main><p>kept</p><div class="weather">wind<p>north</p></div></main></body>'
        without = expected.without(markup, ".weather")
        self.assertIn("kept", without)
        self.assertNotIn("north", without)
        one = Expectation(1, What.REGION, selector=".weather")
        self.assertTrue(one.explains(TEXT, 0, said("", "kept"), said("", "kept")))
        self.assertFalse(one.explains(TEXT, 0, said("", "kept"), said("", "other")))


class RefusedTest(unittest.TestCase):
    def test_what_cannot_be(self):
        for field, given in [
            ("kind", {"what": "field"}),
            ("words", {"what": "words", "words": " "}),
            ("words", {"what": "words", "words": "*a"}),
            ("words", {"what": "words", "words": "a*b*c*d*e"}),
            ("becomes", {"what": "words", "words": "a", "becomes": "*"}),
            ("tolerance", {"what": "numbers", "tolerance": 101}),
            ("selector", {"what": "region"}),
            ("selector", {"what": "region", "selector": "p["}),
            ("kind", {"what": "region", "selector": "p", "kind": "links"}),
            ("section", {"what": "numbers", "section": "/a", "address": f"{HOST}/a/1"}),
        ]:
            with self.subTest(**given), self.assertRaises(ExpectationError) as caught:
                Expectation.read(given)
            self.assertEqual(caught.exception.field, field)

    def test_kept_and_read_again(self):
        for given in (
            {"what": "field", "kind": "title", "section": "/shop"},
            {"what": "words", "words": "Old * mill", "becomes": "New *"},
            {"what": "numbers", "tolerance": 5.0, "address": f"{HOST}/a"},
            {"what": "region", "selector": ".date"},
        ):
            self.assertEqual(Expectation.read(given).plain(), given)
            self.assertTrue(Expectation.read(given).sentence)


class SetAsideTest(unittest.TestCase):
    def aside(self, *expectations):
        differing = Differing(
            (TITLE, TEXT, kinds.LINKS),
            np.array([0, 1, 2, 0]),
            np.zeros(4, np.int64),
            np.zeros(4, bool),
            [f"{HOST}/shop/1", f"{HOST}/shop/1", f"{HOST}/shop/2", f"{HOST}/journal/1"],
            ["", "", "", ""],
            f"{HOST}/",
        )
        pages = {
            f"{HOST}/shop/1": (said("Old", "Old 1"), said("New", "Old 2")),
            f"{HOST}/journal/1": (said("Old"), said("x")),
        }
        asked = []

        def telling(one):
            def pairs(wanted):
                asked.extend(wanted)
                return {pair: pages[pair[0]] for pair in wanted}

            return pairs

        found = expected.set_aside(differing, expectations, telling)
        self.assertLessEqual(len(asked), len(set(asked)) * len(expectations), "each pair is read once for each")
        return found.tolist()

    def test_where(self):
        any_title = {"what": "field", "kind": "title"}
        self.assertEqual(self.aside(Expectation.read(any_title, 7)), [7, 0, 0, 7])
        self.assertEqual(self.aside(Expectation.read(any_title | {"section": "/shop"}, 7)), [7, 0, 0, 0])
        self.assertEqual(self.aside(Expectation.read(any_title | {"address": f"{HOST}/journal/1"}, 7)), [0, 0, 0, 7])

    def test_what_and_the_first_that_explains(self):
        words = Expectation.read({"what": "words", "words": "Old", "becomes": "New"}, 3)
        numbers = Expectation.read({"what": "numbers"}, 4)
        self.assertEqual(self.aside(words, numbers), [3, 4, 0, 0])
        self.assertEqual(self.aside(Expectation.read({"what": "field", "kind": "title"}, 9), words), [9, 0, 0, 9])
