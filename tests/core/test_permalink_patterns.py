"""Patterns of addresses, and what crossed from one to another."""

import random
import unittest

from palinode.core import address_patterns
from palinode.core.address_patterns import line
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.permalinks.check import CHECK
from palinode.core.rule import read
from tests.core.build import NEW, OLD, Given, found_ledger, html, ledger
from tests.words import WORDS


def named(*paths: str) -> dict[str, str]:
    """Return the pattern of each path."""
    found = address_patterns.learn(paths)
    return {path: found.names[at] for path, at in zip(paths, found.of, strict=True)}


class PatternsTest(unittest.TestCase):
    def test_each_kind_of_segment(self):
        posts = [f"/journal/{year}/{month:02}/tide-{year}-{month}" for year in (2019, 2020) for month in range(1, 5)]
        told = named(*posts, "/", "/about", "/?p=12", "/?p=x1", "/?cat=3&paged=2", "/2020/", "/2020/03/", "/2020/03/07/",
                     "/item/4711", "/2019-03-04-flood", "/2019-03-flood", "/plan.pdf", "/4711.html", "/v1.2")  # fmt: skip
        self.assertEqual(told[posts[0]], "/journal/{year}/{month}/{name}")
        self.assertEqual(
            [told[path] for path in list(told)[len(posts) :]],
            ["/", "/{name}", "/?p={number}", "/?p={value}", "/?cat={number}&paged={number}", "/{year}/", "/{year}/{month}/",
             "/{year}/{month}/{day}/", "/{name}/{number}", "/{year}-{month}-{day}-{name}", "/{year}-{month}-{name}", "/{name}.pdf",
             "/{number}.html", "/{name}"],
        )  # fmt: skip

    def test_words_and_names(self):
        shop = [f"/shop/rye-{n}" for n in range(4)]
        people = [f"/people/{name}/photo-{n}" for name in "abcdefghijklmn" for n in range(4)]
        feeds = [f"/{name}/{what}/feed" for name in ("journal", "shop") for what in "abcdef"]
        told = named(*shop, *people, *feeds, "/alone/child", "/old.example/x")
        self.assertEqual({told[one] for one in shop}, {"/shop/{name}"})
        self.assertEqual({told[one] for one in people}, {"/people/{name}/{name}"}, "so many folders are names")
        self.assertEqual({told[one] for one in feeds}, {"/journal/{name}/feed", "/shop/{name}/feed"})
        self.assertEqual(told["/alone/child"], "/{name}/{name}")
        yearly = [f"/journal/{year}/{name}" for year in range(2010, 2020) for name in ("spring-neaps", "open-day")]
        self.assertEqual(set(named(*yearly).values()), {"/journal/{year}/{name}"}, "posts of the same name each year")

    def test_further_hosts_keep_their_names(self):
        told = named("shop.old.example/a", "shop.old.example/b", "shop.old.example/", "/a")
        self.assertEqual(
            list(told.values()), ["shop.old.example/{name}", "shop.old.example/{name}", "shop.old.example/", "/{name}"]
        )

    def test_counts_add_up(self):
        paths = [f"/a/{n}" for n in range(7)] + [f"/b/c-{n}/" for n in range(5)] + ["", "/", "/x//y", "/%20", "/?"]
        found = address_patterns.learn(paths)
        self.assertEqual(len(found.of), len(paths))
        self.assertEqual(sorted(set(found.of)), list(range(len(found.names))))

    def test_the_line_that_carries_them_over(self):
        for old, new, expected in (
            ("/journal/{year}/{month}/{name}", "/journal/{name}", "/journal/<number>/<number>/ -> /journal/"),
            ("/{year}/{month}/{name}/", "/{name}/", "/<number>/<number>/ -> /"),
            ("/shop/{name}", "/store/{name}", "/shop/ -> /store/"),
            ("/{name}", "/blog/{name}", ""),
            ("/{name}.html", "/{name}/", ""),
            ("/{name}", "/{year}/{name}", ""),
            ("/people/{name}/{name}", "/team/{name}", ""),
            ("/?p={number}", "/{name}", ""),
            ("/a/{name}", "/a/{name}", ""),
        ):
            with self.subTest(old, new=new):
                self.assertEqual(line(old, new), expected)
                if expected:
                    read(f"{OLD}/ -> {NEW}/\n{expected}")


class CheckTest(unittest.TestCase):
    def judged(
        self, left: dict[str, Given], right: dict[str, Given], lines: str = "", made_of=ledger
    ) -> dict[str, tuple[str, str, str, int]]:
        rule = read(f"{OLD}/ -> {NEW}/\n{lines}")
        made = CHECK.judge(
            Looked(Side((f"{OLD}/",)), Side((f"{NEW}/",)), rule, "Palinode", pages=made_of(left, right, lines))
        )
        self.counted(made, len(left))
        told = made.rows
        words = [CHECK.verdicts[at].word for at in told.verdict.tolist()]
        return {
            left or right: (word, right, note, count)
            for left, word, right, note, count in zip(
                told.left, words, told.right, told.right_note, told.numbers["pages"].tolist(), strict=True
            )
        }

    def counted(self, made: Outcome, pages: int) -> None:
        """No page is counted twice."""
        self.assertLessEqual(sum(made.rows.numbers["pages"].tolist()), pages + 20)

    def site(self, pattern: str, count: int = 6) -> dict[str, Given]:
        return {"/": html("Home", "Welcome to the mill.")} | {
            pattern.format(n=n, y=2015 + n % 3, m=n % 12 + 1): html(f"Tide {n}", " ".join(random.Random(n).choices(WORDS, k=60)))
            for n in range(count)
        }  # fmt: skip

    def test_same_planned_and_new(self):
        left = self.site("/shop/rye-{n}")
        told = self.judged(left, left | {"/news/2026/first": html("First", "Something else entirely.")})
        self.assertEqual(told["/shop/{name}"], ("same", "/shop/{name}", "", 6))
        self.assertEqual(told["/{name}/{year}/{name}"][0], "new")
        told = self.judged(left, self.site("/store/rye-{n}"), "/shop -> /store")
        self.assertEqual(told["/shop/{name}"], ("planned", "/store/{name}", "as the address rule says", 6))

    def test_moved_without_the_rule(self):
        told = self.judged(
            self.site("/journal/{y}/{m:02}/tide-{n}", 9), self.site("/journal/tide-{n}", 9), made_of=found_ledger
        )
        self.assertEqual(
            told["/journal/{year}/{month}/{name}"],
            ("unplanned", "/journal/{name}", "the line “/journal/<number>/<number>/ -> /journal/” would carry 9 over, and none wrongly", 9),
        )  # fmt: skip

    def test_some_lost_and_none_arrived(self):
        left = self.site("/shop/rye-{n}")
        right = {path: (404, "") if path.endswith(("-1", "-2")) else given for path, given in left.items()}
        self.assertEqual(self.judged(left, right)["/shop/{name}"], ("part", "/shop/{name}", "2 did not arrive", 4))
        right = {path: given if path == "/" else (404, "") for path, given in left.items()}
        self.assertEqual(
            self.judged(left, right)["/shop/{name}"],
            ("gone", "", "all answer 404, while the home page answers: are the rewrite rules rebuilt?", 0),
        )
        right = dict.fromkeys(left, (404, ""))
        self.assertEqual(self.judged(left, right)["/shop/{name}"][2], "none arrived")
        self.assertEqual(self.judged(left, {"/": left["/"]})["/shop/{name}"][0], "unknown", "nobody asked")
