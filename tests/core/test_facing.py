"""Two pages facing: texts block by block and word by word, and what they refer to."""

import time
import unittest

from palinode.core import facing
from palinode.core.facing import Shown
from palinode.core.facing.texts import WHOLE


def blocks(*texts: str) -> list[tuple[str, str]]:
    return [("p", text) for text in texts]


def said(left: list[tuple[str, str]], right: list[tuple[str, str]]) -> list[str]:
    return [one.said or "same" if not one.folded else f"{one.folded} folded" for one in facing.paragraphs(left, right)]


class TextsTest(unittest.TestCase):
    def test_words_and_paragraphs(self):
        left = [("h1", "Hours"), ("p", "We open at nine on Monday"), ("p", "Groups should book a week ahead")]
        right = [("h1", "Hours"), ("p", "We open at ten on Monday"), ("p", "Just another website")]
        rows = facing.paragraphs(left, right)
        self.assertEqual([row.said for row in rows], ["", "one place changed", "paragraph gone", "paragraph came"])
        self.assertEqual([w.change for w in rows[1].left or ()], ["same", "gone", "same"])
        self.assertEqual((rows[2].words, rows[3].words), (-6, 3))

    def test_empty_sides(self):
        self.assertEqual(facing.paragraphs([], []), [])
        self.assertEqual(facing.paragraphs([], blocks("x"))[0].left, None)
        self.assertEqual(said(blocks("x"), []), ["paragraph gone"])

    def test_all_of_both_texts_is_there_once_and_in_order(self):
        left = blocks(*(f"paragraph {n}" for n in range(90)), "alone", "end of it")
        right = blocks("before all", *(f"paragraph {n}" for n in range(90) if n % 7), "end of all")
        rows = facing.paragraphs(left, right)
        for side, given in (("left", left), ("right", right)):
            told = [" ".join(run.text for run in getattr(row, side)) for row in rows if getattr(row, side) is not None]
            self.assertEqual(told, [text for _, text in given])

    def test_long_texts_fold_what_is_the_same_and_tell_it_when_asked(self):
        same = blocks(*(f"paragraph {n}" for n in range(WHOLE)))
        rows = facing.paragraphs([*same, ("p", "old end")], [*same, ("p", "new beginning of another")])
        fold = next(row for row in rows if row.folded)
        self.assertEqual(len(rows) - 1 + fold.folded, WHOLE + 2)
        told = facing.stretch([*same, ("p", "old end")], fold.first, fold.folded)
        self.assertEqual((told[0].left or ())[0].text, f"paragraph {fold.first}")
        self.assertEqual(len(told), fold.folded)
        self.assertFalse(any(row.folded for row in facing.paragraphs(same, same)), "a text of that length is whole")

    def test_pages_of_two_megabytes_take_no_minutes(self):
        # 16,000 blocks a side, of which none stands where it stood, and blocks of one word many thousand times.
        left = blocks(
            *(f"word{n} stands on line {n} of the long page with more words behind it" for n in range(16_000))
        )
        right = [*left[8_000:], *blocks(*["again"] * 4_000), *left[:4_000]]
        started = time.process_time()
        rows = facing.paragraphs(left, right)
        self.assertLess(time.process_time() - started, 20)
        self.assertTrue(any(row.said for row in rows))

    def test_blocks_that_have_nothing_in_common_are_not_held_word_against_word(self):
        left, right = blocks(*(f"a{n} b{n}" for n in range(900))), blocks(*(f"c{n} d{n}" for n in range(900)))
        self.assertEqual(set(said(left, right)), {"paragraph gone", "paragraph came"})
        one = " ".join(f"w{n}" for n in range(5_000))
        self.assertEqual(said(blocks(one), blocks(one + " more")), ["long text differs"])


class ReferencesTest(unittest.TestCase):
    EXPECTED = {f"http://o/{n}": f"http://n/{n}" for n in "abcdef"}

    def told(self, left, right, contents=({}, {})):
        one = [Shown(group, f"http://o/{at}", label) for group, at, label in left]
        other = [Shown(group, f"http://{'' if '/' in at else 'n/'}{at}", label) for group, at, label in right]
        rows = facing.beside(one, other, self.EXPECTED, contents)
        return [(row.verdict, row.left and row.left.address[9:], row.right and row.right.address[7:]) for row in rows]

    def test_as_the_rule_maps_them_in_whatever_order(self):
        left, right = [("link", "a", "A"), ("link", "b", "B")], [("link", "b", "B"), ("link", "a", "A")]
        self.assertEqual(self.told(left, right), [("as mapped", "a", "n/a"), ("as mapped", "b", "n/b")])

    def test_missing_added_and_another_target(self):
        left = [("link", "a", "A"), ("link", "b", "B"), ("link", "c", "")]
        right = [("link", "e", "A"), ("link", "b", "other words"), ("link", "f", "")]
        self.assertEqual(
            self.told(left, right),
            [("other target", "a", "n/e"), ("as mapped", "b", "n/b"), ("missing", "c", None), ("added", None, "n/f")],
        )

    def test_a_link_to_the_old_address_is_another_target(self):
        self.assertEqual(self.told([("link", "a", "A")], [("link", "o/a", "A")]), [("other target", "a", "o/a")])

    def test_the_same_image_under_another_address(self):
        contents = ({"http://o/a": 7, "http://o/b": 8}, {"http://n/x": 7, "http://n/y": 9})
        found = self.told([("image", "a", ""), ("image", "b", "")], [("image", "y", ""), ("image", "x", "")], contents)
        self.assertEqual(found, [("other address", "a", "n/x"), ("missing", "b", None), ("added", None, "n/y")])

    def test_one_target_many_times_and_groups_apart(self):
        left = [("link", "a", "A"), ("link", "a", "A"), ("menu", "a", "")]
        self.assertEqual(
            self.told(left, [("link", "a", "A"), ("menu", "a", "")]),
            [("as mapped", "a", "n/a"), ("missing", "a", None), ("as mapped", "a", "n/a")],
        )
