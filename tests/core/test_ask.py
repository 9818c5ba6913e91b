"""What checks want asked: each request once, variants numbered."""

import unittest

from palinode.core.checks import ask
from palinode.core.checks.ask import Ask, Variant
from palinode.core.checks.looked import Side
from palinode.core.checks.robots import asks as robots
from palinode.core.robots import RobotsFile
from palinode.core.scope import AskedFor

A, B = "http://old.example/a", "http://old.example/b"
FIELDS = (("Accept", "text/html"),)


class AskTest(unittest.TestCase):
    def test_the_plain_get_is_variant_0_and_others_are_numbered(self):
        found = ask.asking([Ask(A), Ask(A, "HEAD"), Ask(B, "HEAD"), Ask(A, fields=FIELDS), Ask(B, repeats=3)])
        self.assertEqual(found.variants, (Variant("HEAD"), Variant("GET", FIELDS), Variant(time=2), Variant(time=3)))
        self.assertEqual([(address, number) for address, _, number in found.requests],
                         [(A, 0), (A, 1), (B, 1), (A, 2), (B, 0), (B, 3), (B, 4)])  # fmt: skip

    def test_what_two_checks_want_is_asked_once(self):
        found = ask.asking([Ask(A, asked_for=AskedFor.FILE), Ask(A), Ask(A, repeats=2), Ask(A, repeats=2)])
        self.assertEqual(found.requests, ((A, AskedFor.FILE, 0), (A, AskedFor.PAGE, 1)))

    def test_what_may_not_be_asked(self):
        for asks, said in [
            ([Ask(A, "POST")], "POST may change something"),
            ([Ask(A, repeats=21)], "asked 21 times"),
            ([Ask(A, repeats=0)], "asked 0 times"),
            ([Ask(f"{A}{number}") for number in range(ask.MOST + 1)], "5,001 requests"),
        ]:
            with self.subTest(said), self.assertRaisesRegex(ValueError, said):
                ask.asking(asks)

    def test_a_variant_is_kept_and_told(self):
        for variant, words in [
            (Variant(), ""),
            (Variant("HEAD"), "HEAD"),
            (Variant("HEAD", FIELDS, 2), "HEAD; Accept: text/html; time 2"),
        ]:
            self.assertEqual((Variant.read(variant.plain()), variant.words), (variant, words))

    def test_robots_asks_the_destination_and_of_the_source_only_what_it_has_not(self):
        bare, known = Side(("http://old.example/shop/",)), Side((A,), (RobotsFile("http://www.old.example", 404),))
        self.assertEqual([one.address for one in robots(bare, "left")], ["http://old.example/robots.txt"])
        self.assertEqual(robots(known, "left"), [])
        self.assertEqual([one.address for one in robots(known, "right")], ["http://www.old.example/robots.txt"])
