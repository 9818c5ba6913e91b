"""What is learnt from two readings of a page, and kept out of comparison."""

import unittest

from palinode.core import facts, http_cache, volatile, wording
from palinode.core.fields import Field
from palinode.core.volatile import Volatile

ADDRESS = "http://mill.example/a"


def reading(main: str, title: str = "A") -> facts.Facts:
    body = f"<title>{title}</title><main><h1>A</h1>{main}</main>"
    return facts.read(ADDRESS, {"content-type": "text/html"}, body.encode())


def learnt(one: str, other: str) -> Volatile:
    return volatile.learn(ADDRESS, reading(one), reading(other))


class LearnTest(unittest.TestCase):
    def test_words_in_a_sentence_become_a_gap(self):
        found = learnt("<p>Page made at 10:00:01 in 0.2 seconds</p>", "<p>Page made at 10:00:07 in 0.5 seconds</p>")
        self.assertEqual(found.templates, ("Page made at … in … seconds",))
        self.assertTrue(volatile.alike(reading("<p>Page made at 23:59 in 9 seconds</p>"), reading("<p>Page made at 1 in 2 seconds</p>"), found))  # fmt: skip
        self.assertFalse(
            volatile.alike(reading("<p>Page made by hand</p>"), reading("<p>Page made at 1 in 2 seconds</p>"), found)
        )

    def test_a_time_in_such_a_sentence_changes_too(self):
        found = learnt(
            "<p>Fresh at 10:00:01 in 7 ms, for 12 pence</p>", "<p>Fresh at 10:00:01 in 8 ms, for 12 pence</p>"
        )
        self.assertEqual(found.templates, ("Fresh at №:№:№ in … ms, for 12 pence",))

    def test_a_lone_time_is_known_by_its_shape(self):
        found = learnt("<p>Flour</p><p>10:00:01</p>", "<p>Flour</p><p>10:00:07</p>")
        self.assertEqual(found.templates, ("№:№:№",))
        self.assertEqual(found.paths, (), "other paragraphs stand at the same place")
        self.assertTrue(volatile.alike(reading("<p>1:2:3</p>"), reading("<p>23:59:59</p>"), found))
        self.assertFalse(volatile.alike(reading("<p>Rye</p>"), reading("<p>Oats</p>"), found))

    def test_a_block_that_differs_altogether_is_known_by_its_place(self):
        one, other = (
            "<aside></aside><p>Same</p><blockquote>a3f9c1</blockquote>",
            "<p>Same</p><blockquote>zzk</blockquote>",
        )
        found = learnt(one, other)
        self.assertEqual(len(found.paths), 1)
        self.assertTrue(found.paths[0].startswith("blockquote"))
        self.assertTrue(volatile.alike(reading(one), reading(other), found))

    def test_shuffled_teasers_are_a_field_apart(self):
        found = learnt('<p><a href="/x">T</a></p>', '<p><a href="/y">T</a></p>')
        self.assertEqual(found.fields, (Field.LINKS,))

    def test_a_title_with_a_token(self):
        found = volatile.learn(ADDRESS, reading("", "Basket 17 of the mill"), reading("", "Basket 99 of the mill"))
        self.assertEqual(found.masked_text("Basket 3 of the mill"), "Basket … of the mill")
        self.assertEqual(found.masked_text("Mill"), "Mill")

    def test_nothing_differs(self):
        self.assertFalse(learnt("<p>a</p>", "<p>a</p>"))

    def test_kept_and_read_back(self):
        found = learnt("<p>Made at 1 o'clock sharp</p>", "<p>Made at 2 o'clock sharp</p>")
        self.assertEqual(Volatile.read(found.plain()), found)
        self.assertEqual(Volatile.read({}), volatile.NOTHING)
        self.assertEqual((found | found).templates, found.templates)

    def test_no_pattern_takes_long(self):
        found = Volatile(templates=tuple(f"a {'… b ' * 8}c{n}" for n in range(100)))
        self.assertEqual(found.masked_text("a " + "x b " * 4_000), "a " + "x b " * 4_000)


class FreshnessTest(unittest.TestCase):
    def test_what_caches_say(self):
        self.assertEqual(http_cache.age({"age": "7200"}), 7200)
        self.assertEqual(http_cache.age({"age": "soon"}), 0)
        for said, seconds in [("max-age=60", 60), ('public, max-age="60", s-maxage=900', 900), ("no-store", 0)]:
            self.assertEqual(http_cache.keeps({"cache-control": said}), seconds)
        self.assertRegex(http_cache.new_query("http://a.example/?x=1"), r"\?x=1&fresh=\w{12}$")
        for seconds, said in [(1, "one second"), (59, "59 seconds"), (7200, "2 hours"), (90_000, "one day")]:
            self.assertEqual(wording.duration(seconds), said)
