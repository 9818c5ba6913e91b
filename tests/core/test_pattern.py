"""Patterns of addresses: what traps have in common and pages of a site have not."""

import unittest

from palinode.core import pattern
from palinode.core.pattern import REPEATING

HOST = "http://mill.example"


class PatternTest(unittest.TestCase):
    def test_a_query_s_names_and_not_its_values(self):
        for one, other in [
            ("/cal?month=4&year=2026", "/cal?year=1999&month=12"),
            ("/shop/7?colour=red", "/shop/19?colour="),
            ("/x?sid=abc", "/x?sid=def"),
            ("/x?f[0]=a&f[1]=b", "/x?f[3]=a"),
        ]:
            with self.subTest(one):
                self.assertEqual(pattern.of(HOST + one), pattern.of(HOST + other))
        self.assertNotEqual(pattern.of(HOST + "/cal?month=4"), pattern.of(HOST + "/cal?year=4"))
        self.assertNotEqual(pattern.of(HOST + "/a?x=1"), pattern.of(HOST + "/b?x=1"))

    def test_pages_without_a_query_are_as_many_as_the_site_has(self):
        for path in ("/", "/journal/2026/05/flour", "/shop/1234", "/a/b/a/b", "/a/a", "/x?", "/2026/2026/1"):
            with self.subTest(path):
                self.assertIsNone(pattern.of(HOST + path))

    def test_paths_that_repeat_themselves(self):
        for path in ("/a/a/a", "/x/a/b/a/b/a/b/y", "/de/de/de/shop?x=1", "/a/b/c/a/b/c/a/b/c"):
            with self.subTest(path):
                self.assertEqual(pattern.of(HOST + path), REPEATING)

    def test_long_addresses_are_bounded(self):
        found = pattern.of(HOST + "/x?" + "&".join(f"name{chr(97 + n % 26) * n}=1" for n in range(200)))
        self.assertLessEqual(len(found.text), 500)
        self.assertIsNone(pattern.of(HOST + "/" + "/".join(f"s{n}" for n in range(3000))))
