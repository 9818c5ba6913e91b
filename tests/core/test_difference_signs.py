"""Signs: what a pair of pages that differs shows of why; each where it fits, and where it nearly fits."""

import unittest

import numpy as np

from palinode.core import difference_signs, rule
from palinode.core.difference_signs import Sign
from tests.core.build import NEW, OLD, OLD_ADDRESSES, Given, text


def page(*paragraphs: str, title: str = "Tide", more: str = "") -> Given:
    body = "".join(f"<p>{one}</p>" for one in paragraphs)
    return 200, f"<html><head><title>{title}</title></head><body><main>{body}{more}</main></body></html>"


def signs(left: Given, right: Given) -> Sign:
    one, other = text(f"{OLD}/a", left), text(f"{NEW}/a", right)
    return difference_signs.signs_of(one, other, OLD_ADDRESSES)[0]


class SignsTest(unittest.TestCase):
    def test_characters_read_twice_or_replaced(self):
        whole = page("Café crème — “naïve”", "Straße")
        for damaged in (
            page("CafÃ© crÃ¨me â€” â€œnaÃ¯veâ€\u009d", "StraÃŸe"),
            page("Caf? cr?me ? ?na?ve?", "Stra?e"),
            page("Caf\ufffd cr\ufffdme", "Straße"),
            page("Caf?? cr??me ??? ???na??ve???", "Stra??e"),
        ):
            self.assertIn(Sign.DAMAGED, signs(whole, damaged), damaged)
        self.assertNotIn(Sign.DAMAGED, signs(page("CafÃ©"), page("Café")), "mended, not damaged")
        self.assertNotIn(Sign.DAMAGED, signs(whole, page("Cafe creme", "Strasse")), "written anew")
        self.assertNotIn(Sign.DAMAGED, signs(page("Is it open."), page("Is it open?")), "a question")
        self.assertNotIn(Sign.DAMAGED, signs(page("Ãngström"), page("Ångström Â")), "letters alone")

    def test_cut_at_its_end(self):
        whole = page("one two three", "four five six", "seven")
        for cut in (page("one two three"), page("one two three", "four fi"), page("one two three", "four five six")):
            self.assertIn(Sign.CUT, signs(whole, cut))
        self.assertNotIn(Sign.CUT, signs(whole, page("four five six", "seven")), "its beginning is gone")
        self.assertNotIn(Sign.CUT, signs(whole, page("one two three", "anew")))
        self.assertNotIn(Sign.CUT, signs(whole, whole))
        self.assertNotIn(Sign.CUT, signs(whole, page("one two three", "four five six", "seven", "eight")))
        self.assertNotIn(Sign.CUT, signs(whole, page()), "nothing at all is no beginning")

    def test_markers_that_stand_as_text(self):
        for marker in ('[gallery ids="1,2"]', "[contact-form-7 id=3]", "[/caption]", "{{ site.name }}", "%%sitename%%"):
            self.assertIn(Sign.MARKERS, signs(page("Tides"), page(f"Tides {marker}")), marker)
            self.assertNotIn(Sign.MARKERS, signs(page(f"x {marker}"), page(f"y {marker}")), "it stood there before")
        for plain in ("[sic]", "[1]", "[…]", "100%% sure", "a {b} c", "[see below]"):
            self.assertNotIn(Sign.MARKERS, signs(page("Tides"), page(f"Tides {plain}")), plain)

    def test_messages_of_scripts(self):
        for message in (
            "Warning: Undefined variable $a in /var/www/site/theme.php on line 12",
            "Deprecated: strlen(): Passing null in C:\\site\\a.php on line 3",
            "Traceback (most recent call last): File x",
        ):
            self.assertIn(Sign.MESSAGES, signs(page("Tides"), page("Tides", message)), message)
            self.assertNotIn(Sign.MESSAGES, signs(page(message), page(message, "more")), "it stood there before")
        for plain in ("Warning: high tides in / near the mill", "Notice: closed on Monday", "an undefined variable"):
            self.assertNotIn(Sign.MESSAGES, signs(page("Tides"), page("Tides", plain)), plain)

    def test_dates_otherwise_and_nothing_else(self):
        written = page("Posted on 12 March 2019 at 14:30.", "Flour")
        for other in ("March 12, 2019 2:30 pm.", "12.03.2019 14:30 Uhr.", "2019-03-12.", "12 mars 2019."):
            self.assertIn(Sign.DATES, signs(written, page(f"Posted on {other}", "Flour")), other)
        self.assertNotIn(Sign.DATES, signs(written, page("Posted on 2019-03-12.", "Bread")))
        self.assertNotIn(Sign.DATES, signs(page("12 sacks"), page("13 sacks")), "a number is no date")

    def test_addresses_of_the_source(self):
        link = '<a href="{}/b">b</a>'
        self.assertIn(Sign.LEADS_BACK, signs(page("x"), page("y", more=link.format(OLD))))
        self.assertNotIn(Sign.LEADS_BACK, signs(page("x", more=link.format(OLD)), page("y", more=link.format(NEW))))
        self.assertNotIn(
            Sign.LEADS_BACK, signs(page("x"), page("y", more=link.format(""))), "without a host it is here"
        )

    def test_a_site_that_moves_into_a_folder_or_out_of_one(self):
        site = "http://mill.example/"
        for source, destination, reference, is_old in (
            (site, f"{site}new/", f"{site}a", True),
            (site, f"{site}new/", f"{site}new/a", False),
            (f"{site}old/", site, f"{site}old/a", True),
            (f"{site}old/", site, f"{site}a", False),
            (site, site, f"{site}a", False),
            (site, "https://mill.example/", "//mill.example/a", False),
            (site, "https://mill.example/", f"{site}a", True),
        ):
            old = difference_signs.OldAddresses(rule.read(f"{source} -> {destination}"), (source,), (destination,))
            self.assertEqual(old.among([reference]), is_old, (source, destination, reference))

    def test_a_form_and_parts_that_are_gone(self):
        form = "<form method=post action=/ask><input name=q></form>"
        self.assertIn(Sign.FORM_GONE, signs(page("x", more=form), page("x")))
        self.assertNotIn(Sign.FORM_GONE, signs(page("x"), page("x", more=form)))
        self.assertIn(Sign.PART_GONE, signs(page("x", "Share this", "y"), page("x", "y")))
        self.assertNotIn(Sign.PART_GONE, signs(page("x", "Share this", "y"), page("x", "z")), "something came")


class GatherTest(unittest.TestCase):
    def test_what_was_not_read_shows_what_nearly_all_read_show(self):
        rows = np.arange(40)
        changed = np.where(rows < 30, 1, 2)
        read = {row: (Sign.DAMAGED if row < 20 else Sign.CUT, frozenset()) for row in range(25)}
        read |= {30: (Sign.DATES, frozenset())}
        found = difference_signs.gather(50, read, rows, changed)
        self.assertEqual(found.show(Sign.DAMAGED).sum(), 20, "of those with the same fields not nearly all")
        self.assertTrue(found.show(Sign.DATES)[30:40].all())
        self.assertFalse(found.signs[40:].any())

    def test_few_are_all_read_and_of_many_some_evenly_first(self):
        self.assertEqual(sorted(difference_signs.chosen(np.arange(7), np.zeros(7, bool)).tolist()), list(range(7)))
        rows = 10 * difference_signs.MOST_READ
        many = difference_signs.chosen(np.arange(rows), np.zeros(rows, bool))
        self.assertEqual((len(set(many.tolist())), many.min(), many.max()), (difference_signs.MOST_READ, 0, rows - 1))
        first = many[: difference_signs.FIRST_READ]
        self.assertLess(np.diff(np.sort(first)).max(), 2 * rows / difference_signs.FIRST_READ)

    def test_what_differs_as_no_other_does_is_read_before_what_many_differ_in(self):
        rows = 2 * difference_signs.MOST_READ
        own = np.arange(rows) % 50 == 7
        found = difference_signs.chosen(np.arange(rows), own)
        self.assertEqual(len(found), difference_signs.MOST_READ)
        self.assertTrue(np.isin(np.flatnonzero(own), found).all())
        self.assertEqual(len(difference_signs.chosen(np.arange(rows), np.ones(rows, bool))), len(found))

    def test_reading_ends_where_all_that_differ_alike_show_the_same(self):
        changed = np.array([1] * 100 + [2] * 100)
        same = {row: (Sign.DATES if row < 100 else Sign.NONE, frozenset()) for row in range(200)}
        self.assertTrue(difference_signs.settled(same, changed))
        some = same | {row: (Sign.DAMAGED, frozenset()) for row in range(150, 160)}
        self.assertFalse(difference_signs.settled(some, changed))
        self.assertTrue(difference_signs.settled(same | {150: (Sign.DAMAGED, frozenset())}, changed))
