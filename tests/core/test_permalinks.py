"""Addresses that follow from a database."""

import unittest
from dataclasses import replace

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.platforms import permalinks
from tests.core.site_items import database


class PermalinkTest(unittest.TestCase):
    def paths(self, dump: WordPressDump) -> list[str]:
        (one,) = database(dump).installations
        return list(permalinks.of(one).all())

    def test_by_structure(self):
        site = WordPressDump(
            posts=(
                Post(1, "Tide"),
                Post(2, "About", "page"),
                Post(3, "Team", "page", parent=2),
                Post(4, "Wheel", "attachment", "inherit", parent=1),
                Post(5, "Hidden", status="private"),
                Post(6, "Start", "page"),
            ),
            terms=((1, "category", "News", 1), (2, "post_tag", "Rye", 1), (3, "nav_menu", "Menu", 1)),
        )
        expected = ["2020/03/tide/", "about/", "about/team/", "2020/03/tide/wheel/", "start/", "category/news/", "tag/rye/",
                    "author/miller/", "2020/", "2020/03/"]  # fmt: skip
        self.assertEqual(self.paths(site), expected)
        front = site.but(
            options={"show_on_front": "page", "page_on_front": "6", "permalink_structure": "/blog/%post_id%"}
        )
        self.assertEqual(
            self.paths(front),
            ["blog/1", "about", "about/team", "blog/1/wheel", "", "blog/category/news", "blog/tag/rye", "blog/author/miller",
             "blog/2020", "blog/2020/03"],
        )  # fmt: skip
        named = site.but(options={"category_base": "/topics", "permalink_structure": "/%category%/%postname%/"})
        named = named.but(posts=[replace(one, terms=(1,)) if one.number == 1 else one for one in named.posts])
        self.assertEqual(self.paths(named)[0], "news/tide/")
        self.assertIn("topics/news/", self.paths(named))
        plain = self.paths(site.but(options={"permalink_structure": ""}))
        self.assertEqual(plain, ["?p=1", "?page_id=2", "?page_id=3", "?attachment_id=4", "?page_id=6", "?cat=1", "?tag=rye",
                                 "?author=1", "?m=2020", "?m=202003"])  # fmt: skip
