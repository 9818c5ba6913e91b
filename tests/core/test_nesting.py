"""Markup nested deeper than any browser would go."""

import unittest

from palinode.core.markup.nesting import DEEPEST, FEWEST_TAGS, MOST_OPTIONS, bounded


def depth(text: str) -> int:
    """Return how many ``<div>`` stay."""
    return bounded(text).count("<div>")


class NestingTest(unittest.TestCase):
    def test_ordinary_markup_stays_as_it_is(self):
        row = "<tr><td>a<td>b<p>c<p>d<br><img src=x></tr>"
        for text in [
            "<div>" * 100,
            f"<table>{row * FEWEST_TAGS}</table>",
            "<ul>" + "<li>one" * FEWEST_TAGS + "</ul>",
            "<div><p>a</div>" * FEWEST_TAGS,
            "<form><div></form></div>" * FEWEST_TAGS,
            "<dl>" + "<dt>a<dd>b" * FEWEST_TAGS + "</dl>",
            ("<select>" + "<option>a" * MOST_OPTIONS + "</select>") * 10,
        ]:
            with self.subTest(text[:30]):
                self.assertIs(bounded(text), text)

    def test_what_is_too_deep_is_left_out_and_its_text_stays(self):
        found = bounded("<div>x" * 20_000)
        self.assertEqual(found.count("<div>"), DEEPEST)
        self.assertEqual(found.count("x"), 20_000)

    def test_an_end_tag_that_fits_nothing_does_not_hide_the_depth(self):
        for trick in ["<div></x>", "<b><div></b>", "<!--<div>--><div></span>", "<i><div></i></i>"]:
            with self.subTest(trick):
                self.assertLessEqual(depth(trick * 20_000), DEEPEST + 20_000 * trick.count("--"))

    def test_links_stay_however_deep(self):
        found = bounded("<span>" * 20_000 + '<a href="/x">y</a>')
        self.assertIn('<a href="/x">y</a>', found)

    def test_scripts_and_remarks_open_nothing(self):
        text = "<script>" + "'<div>'" * 20_000 + "</script><!--" + "<div>" * 20_000 + "--><div>x</div>"
        self.assertIs(bounded(text), text)

    def test_what_never_ends_is_read_to_its_end(self):
        for text in ["<script>" * 20_000, "<!--" * 20_000, "<div " * 20_000, "<textarea><div>" * 20_000]:
            with self.subTest(text[:10]):
                self.assertLessEqual(len(bounded(text)), len(text))
