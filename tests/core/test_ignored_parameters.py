"""Parameters told by what they do to the content, and windows of hours."""

import unittest
from datetime import UTC, datetime, timedelta

from palinode.core import hours, ignored_parameters
from palinode.core.hours import HoursError

SITE = "http://mill.example"


class IdleTest(unittest.TestCase):
    def names(self, pages: dict[str, int]) -> list[str]:
        return [one.name for one in ignored_parameters.find((SITE + path, said) for path, said in pages.items())]

    def test_a_parameter_that_changes_nothing(self):
        pages = {f"/p{n}?s={n}{m}": n for n in range(3) for m in range(4)}
        self.assertEqual(self.names(pages), ["s"])
        (found,) = ignored_parameters.find((SITE + path, said) for path, said in pages.items())
        self.assertEqual((found.addresses, found.pages), (12, 3))

    def test_beside_others_and_beside_the_bare_address(self):
        pages = {f"/list?page={n}&via={m}": n for n in range(3) for m in range(5)}
        self.assertEqual(self.names(pages), ["via"])
        self.assertEqual(self.names({"/a": 1, **{f"/a?x={m}": 1 for m in range(8)}}), ["x"])

    def test_what_changes_the_content_even_once_is_not_ignored(self):
        self.assertEqual(self.names({f"/list?page={n}": n for n in range(40)}), [])
        pages = {f"/p{n}?s={n}{m}": n for n in range(3) for m in range(4)}
        self.assertEqual(self.names({**pages, "/p9?s=1": 1, "/p9?s=2": 2}), [])
        self.assertEqual(self.names({"/a": 2, **{f"/a?x={m}": 1 for m in range(20)}}), [], "the bare page is another")

    def test_too_few_to_tell(self):
        self.assertEqual(self.names({f"/a?x={m}": 1 for m in range(8)}), [])
        self.assertEqual(self.names({f"/{n}?x=1": n for n in range(50)}), [])

    def test_taken_off_an_address(self):
        names = frozenset({"sid", "via"})
        for path, bare in [
            ("/a?sid=1", "/a"),
            ("/a?sid=1&b=2&via", "/a?b=2"),
            ("/a?b=2", "/a?b=2"),
            ("/a", "/a"),
            ("/a?SID=1", "/a?SID=1"),
        ]:
            self.assertEqual(ignored_parameters.without(SITE + path, names), SITE + bare)


class HoursTest(unittest.TestCase):
    def test_open_and_shut(self):
        for window, now, wait in [
            ("22:00-06:00", (23, 0), 0),
            ("22:00-06:00", (5, 59), 0),
            ("22:00-06:00", (6, 0), 16 * 60),
            ("22:00-06:00", (21, 30), 30),
            ("9:00 - 17:30", (12, 0), 0),
            ("9:00-17:30", (17, 30), 15 * 60 + 30),
            ("9:00-17:30", (8, 0), 60),
        ]:
            with self.subTest(window=window, now=now):
                found = hours.read(window).wait(datetime(2026, 5, 4, *now, tzinfo=UTC))
                self.assertEqual(found, timedelta(minutes=wait))

    def test_reading(self):
        self.assertIsNone(hours.read(" "))
        self.assertEqual(hours.read("9:00 – 17:30").text, "09:00-17:30")
        for text, said in [("night", "two times"), ("24:00-01:00", "two times"), ("10:00-10:00", "the same")]:
            with self.subTest(text), self.assertRaisesRegex(HoursError, said):
                hours.read(text)
