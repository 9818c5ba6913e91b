"""Leftovers in a database, and serialized values: found, told apart, written anew."""

import unittest

import numpy as np

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.checks.leftovers.check import CHECK
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.dumps.quoting import Quoting
from palinode.core.dumps.script import Script
from palinode.core.leftovers import serialized, wanted
from palinode.core.leftovers.served import Gathering
from palinode.core.leftovers.stored import Finder, StoredLeftovers
from palinode.core.leftovers.wanted import Wanted
from palinode.core.php_values import PhpValueError
from tests.core.test_leftovers import NEW, OLD, RULE, WANTED, file_answers
from tests.site_files import gathered

BESIDE = wanted.fragments_of([f"{OLD}/", f"{NEW}/"])


def text(value: str) -> str:
    """Return a text as PHP serializes it."""
    return f's:{len(value.encode())}:"{value}";'


def array(*values: str) -> str:
    """Return serialized values in a serialized array."""
    return f"a:{len(values)}:{{{''.join(f'i:{at};{one}' for at, one in enumerate(values))}}}"


def stored(dump: WordPressDump, looked_for: Wanted = WANTED) -> StoredLeftovers:
    """Return the leftovers of a dump, kept and read again."""
    data = iter([dump.sql()])
    finder = Finder(looked_for, BESIDE)
    gathered(Script(lambda _: next(data, b""), Quoting.BACKSLASH).parts(), finder.take)
    made = finder.made()
    return StoredLeftovers.of(looked_for, made.plain())


def judged(left: WordPressDump, right: WordPressDump) -> Outcome:
    """Return what the check makes of two dumps, without pages."""
    nothing = np.zeros(0, np.int64)
    files, served = file_answers([], 200, nothing), Gathering(WANTED).made()
    sides = (
        Side((f"{OLD}/",), files=files, stored_leftovers=stored(left, Wanted())),
        Side((f"{NEW}/",), files=files, leftovers=served, stored_leftovers=stored(right)),
    )
    return CHECK.judge(Looked(*sides, RULE, "Palinode"))


def rows(made: Outcome) -> list[tuple[str, ...]]:
    """Return verdict, group, place, both forms and note of each row."""
    told = made.rows
    words = [CHECK.verdicts[at].word for at in told.verdict.tolist()]
    groups = [told.groups[at] for at in told.group.tolist()]
    return list(zip(words, groups, told.left_note, told.left, told.right, told.right_note, strict=True))


def kinds(made: Outcome) -> list[str]:
    """Return the kinds of what was found."""
    return [made.findings.kind_of(at).word for at in range(len(made.findings))]


class StoredTest(unittest.TestCase):
    SITE = WordPressDump(posts=(Post(1, "Tide"), Post(2, "Mill")), options={"home": NEW, "siteurl": NEW})

    def but(self, options: dict[str, str] | None = None, texts: tuple[str, ...] = ()) -> WordPressDump:
        posts = [Post(at, f"Post {at}", text=one) for at, one in enumerate(texts, 1)]
        return self.SITE.but(options=self.SITE.options | (options or {}), posts=posts or self.SITE.posts)

    def test_by_table_column_and_setting(self):
        made = judged(
            self.SITE,
            self.but(
                {"home": OLD, "widget": array(text(f"{OLD}/shop/x"), text("no"))},
                (f"<a href='{OLD}/journal/1'>x</a> {OLD}/journal/2", f"{OLD}/journal/3 http://tidemill.example.org/"),
            ),
        )
        self.assertEqual(
            rows(made),
            [
                ("broken", "In options and settings", "option home", OLD, NEW, "told by the check of the platform"),
                ("works", "In options and settings", "option widget", f"{OLD}/shop/x", f"{NEW}/store/x",
                 "inside a serialized value, whose length must change with it"),
                ("works", "In the database", "wp_posts, post_content", f"{OLD}/journal/…", f"{NEW}/journal/…", ""),
            ],
        )  # fmt: skip
        self.assertEqual(kinds(made), ["leftover_stored", "leftover_stored"])
        at = made.rows.left.index(f"{OLD}/journal/…")
        self.assertEqual([int(made.rows.numbers[name][at]) for name in ("times", "cells")], [3, 3])
        items = made.rows.items[int(made.rows.numbers["items"][at])]
        self.assertEqual(items.columns[0], ["wp_posts 1", "wp_posts 1", "wp_posts 2"])

    def test_values_that_a_careless_replacement_damaged(self):
        sound = array(text(f"{NEW}/a"), text("é"))
        careless = array(text(f"{OLD}/a"), text("é")).replace(OLD, NEW)
        self.assertEqual(kinds(judged(self.SITE, self.but({"widget": sound}))), [])
        made = judged(self.SITE, self.but({"widget": careless}))
        self.assertEqual(kinds(made), ["values_damaged"])
        ((verdict, group, place, _, _, note),) = rows(made)
        self.assertEqual((verdict, group, place), ("damaged", "In serialized values", "option widget"))
        self.assertIn("the length of a text does not fit, at byte 9", note)
        # What was damaged at the source is no fault of the move.
        self.assertEqual(kinds(judged(self.but({"widget": careless}), self.but({"widget": careless}))), [])


class SerializedTest(unittest.TestCase):
    def test_written_anew_with_its_lengths(self):
        def change(data: bytes) -> bytes:
            return data.replace(OLD.encode(), NEW.encode())

        inner = array(text(f"{OLD}/a"), text("é"))
        for before, after in (
            (text(OLD), text(NEW)),
            (array(text(OLD), "i:5;", "N;", "d:1.5;", "b:1;"), array(text(NEW), "i:5;", "N;", "d:1.5;", "b:1;")),
            (array(text(inner)), array(text(inner.replace(text(f"{OLD}/a"), text(f"{NEW}/a"))))),
            (f"a:1:{{{text(OLD)}{text(OLD)}}}", f"a:1:{{{text(OLD)}{text(NEW)}}}"),
            (f'O:4:"Mill":2:{{{text("url")}{text(OLD)}s:4:"\0*\0x";R:2;}}',
             f'O:4:"Mill":2:{{{text("url")}{text(NEW)}s:4:"\0*\0x";R:2;}}'),
            (array(f'C:1:"B":{len(OLD)}:{{{OLD}}}', 'E:11:"Suit:Hearts";', text(OLD)),
             array(f'C:1:"B":{len(OLD)}:{{{OLD}}}', 'E:11:"Suit:Hearts";', text(NEW))),
            ("i:5;", "i:5;"),
            (text("nothing"), text("nothing")),
        ):  # fmt: skip
            with self.subTest(before):
                made = serialized.rewritten(before.encode(), change)
                self.assertEqual(made.decode(), after)
                self.assertEqual(serialized.damage(made), "")
        damaged = array(text(OLD)).replace(OLD, NEW).encode()
        with self.assertRaises(PhpValueError):
            serialized.rewritten(damaged, change)

    def test_what_looks_like_one(self):
        for value, looks in (
            (array(text("a")), True), (text("a"), True), ('O:1:"A":0:{}', True), ("a:1", False), ("about: x;", False),
            ("s:text;", False), ("", False),
        ):  # fmt: skip
            with self.subTest(value):
                self.assertEqual(serialized.looks(value.encode()), looks)
