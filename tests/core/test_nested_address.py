"""Addresses inside addresses, plain and encoded."""

import unittest

from palinode.core import nested_address, rule

RULE = rule.read("http://old.example/ -> https://new.example/\n/shop/ -> /store/")
SHARE = "https://share.example"


class NestedAddressTest(unittest.TestCase):
    def test_as_they_were_encoded(self):
        for before, after in [
            ("/?u=http://old.example/a", "/?u=https://new.example/a"),
            ("/?u=http%3A%2F%2Fold.example%2Fshop%2Fx&t=1", "/?u=https%3A%2F%2Fnew.example%2Fstore%2Fx&t=1"),
            ("/?u=http%3a%2f%2fold.example%2fa", "/?u=https%3a%2f%2fnew.example%2fa"),
            ("/?u=http:%2F%2Fold.example%2Fa", "/?u=https%3A%2F%2Fnew.example%2Fa"),
            (
                "/?next=%2Fgo%3Fu%3Dhttp%253A%252F%252Fold.example%252Fa",
                "/?next=%2Fgo%3Fu%3Dhttps%253A%252F%252Fnew.example%252Fa",
            ),
            ("/share/http%3A%2F%2Fwww.old.example%2Fa/card", "/share/https%3A%2F%2Fnew.example%2Fa/card"),
            (
                "/?a=https://www.old.example/a&b=http://old.example/b",
                "/?a=https://new.example/a&b=https://new.example/b",
            ),
            ("/?u=http%3A%2F%2Fold.example", "/?u=https%3A%2F%2Fnew.example"),
            ("/?u=http%3A%2F%2Fold.example%2Fa%2520(b)", "/?u=https%3A%2F%2Fnew.example%2Fa%2520(b)"),
        ]:
            with self.subTest(before):
                self.assertEqual(RULE.expect(SHARE + before).address, SHARE + after)
                self.assertEqual(RULE.expect_many([SHARE + before]), [SHARE + after])

    def test_what_is_none_of_ours_stays(self):
        for path in ("/?u=http://other.example/", "/?u=%2Fold.example%2F", "/a//b", "/?u=http://", "/old.example/a",
                     "/?u=http%3A%2F%2Fold.example.other%2F", "/?u=notold.example"):  # fmt: skip
            self.assertEqual(RULE.expect(SHARE + path).address, SHARE + path)

    def test_inside_an_address_of_the_source(self):
        self.assertEqual(
            RULE.expect("http://old.example/shop/login?redirect_to=http%3A%2F%2Fold.example%2Fshop%2Fx").address,
            "https://new.example/store/login?redirect_to=https%3A%2F%2Fnew.example%2Fstore%2Fx",
        )

    def test_in_linear_time(self):
        long = SHARE + "/?u=" + "http://" * 900
        self.assertEqual(nested_address.mapped(long, lambda text: text), long)
