"""How good a capture is, from its figures; and pages that stand in for others."""

import unittest
from dataclasses import replace

import numpy as np

from palinode.core.capture_quality import Figures, judge
from palinode.core.fields import Field
from palinode.core.recognition.page_kind import PageKind
from palinode.core.recognition.site import stand_ins

GOOD = Figures(pages=400, asked=520, listed=390, listed_pages=390)


class JudgementTest(unittest.TestCase):
    def test_all_is_well(self):
        found = judge(GOOD)
        self.assertEqual((found.stands, found.grounds), (True, ()))
        self.assertEqual(found.sentence, "It stands: all that was known was asked and read.")

    def test_things_to_know(self):
        for more, said in [
            (
                {"unread": {"timed out three times": 3}},
                "3 of 520 addresses were not fetched, most: timed out three times",
            ),
            ({"shut_out": 7}, "Robots rules shut 7 addresses out"),
            ({"in_part": 1}, "One page was read in part only"),
            ({"statuses": {500: 4, 503: 1}}, "5 of 520 addresses were answered with errors of the server (500, 503)"),
            ({"statuses": {403: 1}}, "1 of 520 addresses was refused (403)"),
            ({"recognised": {PageKind.LOGIN: 12}}, "12 pages of 400 are a form to sign in"),
            ({"listed_pages": 385}, "385 of 390 addresses in the sitemap gave a page"),
            ({"home": PageKind.SCRIPTED}, "The home page is a page without text unless scripts run"),
        ]:
            with self.subTest(said):
                found = judge(replace(GOOD, **more))
                self.assertTrue(found.stands)
                self.assertEqual([ground.text for ground in found.grounds], [said])
                self.assertEqual(found.sentence, "It stands, with one thing to know.")

    def test_what_matters_is_named_in_the_sentence(self):
        found = judge(replace(GOOD, unread={"timed out three times": 47}, shut_out=7))
        self.assertTrue(found.stands)
        self.assertEqual(
            found.sentence,
            "It stands, but 47 of 520 addresses (9 %) were not fetched, most: timed out three times. "
            "One more thing to know.",
        )

    def test_what_speaks_against_it(self):
        for more, said in [
            ({"pages": 0, "home": None}, "it holds no page"),
            ({"home": None}, "the home page gave no page"),
            ({"home": PageKind.NEW_SERVER}, "the home page is the default page of a server"),
            ({"recognised": {PageKind.MAINTENANCE: 398}}, "398 pages of 400 are a notice of maintenance"),
            ({"alike": 390}, "390 pages of 400 say the very same"),
            ({"limits": ["stopped at 100 addresses, the limit set"]}, "stopped at 100 addresses, the limit set"),
            ({"why": "stopped by miller"}, "stopped by miller"),
            ({"waiting": 1}, "one known address was not asked"),
            (
                {"unread": {"the host hung up": 60}},
                "60 of 520 addresses (12 %) were not fetched, most: the host hung up",
            ),
            ({"statuses": {502: 53}}, "53 of 520 addresses (10 %) were answered with errors of the server (502)"),
            ({"statuses": {401: 100, 403: 4}}, "104 of 520 addresses (20 %) were refused (401, 403)"),
            ({"pages": 0, "home": None, "statuses": {403: 520}}, "it holds no page: all that was asked answered 403"),
            ({"pages": 0, "home": None, "statuses": {503: 300}}, "it holds no page: 300 of 520 addresses answered 503"),
            ({"listed_pages": 200}, "200 of 390 addresses in the sitemap gave a page"),
        ]:
            with self.subTest(said):
                found = judge(replace(GOOD, **more))
                self.assertFalse(found.stands)
                self.assertEqual(found.sentence, f"It does not stand: {said}.")

    def test_what_speaks_against_it_is_told_first(self):
        found = judge(replace(GOOD, shut_out=3, why="stopped by miller"))
        self.assertEqual([ground.against for ground in found.grounds], [True, False])

    def test_few_pages_alike_are_no_copies(self):
        self.assertTrue(judge(Figures(pages=4, asked=6, alike=4)).stands)


class StandInsTest(unittest.TestCase):
    def kinds(self, rows: list[tuple[int, int, int, int]], impossible: list[int], home: int = 0) -> list[int]:
        """Rows are title, headings, text, words."""
        prints = np.zeros((len(rows), len(Field)), np.int64)
        prints[:, [Field.TITLE, Field.HEADINGS, Field.TEXT]] = [row[:3] for row in rows]
        which = np.arange(len(rows))
        words = np.array([row[3] for row in rows])
        return stand_ins(prints, words, np.isin(which, impossible), which == home).tolist()

    def test_what_answers_impossible_addresses_is_no_page_elsewhere_either(self):
        home, page, missing = (1, 2, 3, 90), (4, 5, 6, 300), (7, 8, 9, 12)
        self.assertEqual(self.kinds([home, page, missing, missing], [3]), [0, 0, PageKind.NOT_FOUND, 0])

    def test_it_may_name_the_address(self):
        rows = [(1, 2, 3, 90), (7, 8, 11, 14), (7, 8, 9, 12), (7, 8, 12, 60), (6, 8, 13, 12)]
        self.assertEqual(self.kinds(rows, [2]), [0, PageKind.NOT_FOUND, 0, 0, 0])

    def test_the_home_page_in_place_of_every_page(self):
        home, page = (1, 2, 3, 90), (4, 5, 6, 300)
        self.assertEqual(self.kinds([home, page, home, home], [3]), [0, 0, PageKind.HOME, 0])

    def test_what_says_the_same_as_the_home_page_stands_in_for_a_page_whatever_its_address(self):
        home, short, page = (1, 2, 3, 90), (1, 2, 3, 4), (4, 5, 6, 90)
        self.assertEqual(self.kinds([home, home, page, home], []), [0, PageKind.HOME, 0, PageKind.HOME])
        self.assertEqual(self.kinds([short, short, short], []), [0, 0, 0], "it says too little")
        self.assertEqual(self.kinds([home, page, page, page], []), [0, 0, 0, 0], "pages alike are pages")
