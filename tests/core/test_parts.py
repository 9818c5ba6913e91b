"""Menus and footers, read once for all pages that have the very same: nothing else comes of it."""

import unittest

from palinode.core import markup
from palinode.core.resolver import Resolver

MENU = '<nav><ul><li><a href="/a">A</a></li><li><a href="http://else.example/b">B <b>bold</b></a></li></ul>{}</nav>'


def html(menu: str, main: str = "<main><p>Text</p></main>", head: str = "") -> str:
    return (
        f"<!doctype html><head>{head}</head><body><header>Mill</header>{menu}{main}<footer><p>Foot</p></footer></body>"
    )


class PartsTest(unittest.TestCase):
    def same(self, *pages: tuple[str, str]) -> Resolver:
        """Read pages with one memory, and each with none: both must say the same."""
        shared = Resolver()
        for address, text in pages:
            self.assertEqual(markup.read(text, address, shared), markup.read(text, address, Resolver()))
        return shared

    def test_the_same_menu_on_page_after_page(self):
        menu = MENU.format("")
        shared = self.same(*((f"http://mill.example/{n}", html(menu, f"<main><p>{n}</p></main>")) for n in range(4)))
        self.assertEqual(len(shared._parts), 3, "header, menu and footer")

    def test_a_menu_of_relative_links_is_read_each_time(self):
        menu = MENU.format('<a href="x">X</a>')
        shared = self.same(("http://mill.example/a/", html(menu)), ("http://mill.example/b/", html(menu)))
        self.assertEqual(len(shared._parts), 2)

    def test_another_host_another_base_another_place(self):
        menu = MENU.format("")
        self.same(
            ("http://mill.example/", html(menu)),
            ("http://else.example/", html(menu)),
            ("http://mill.example/", html(menu, head='<base href="http://third.example/">')),
            ("http://mill.example/", html(f"<div>{menu}</div>")),
        )

    def test_what_is_more_than_text_and_links(self):
        for more in (
            '<form action="/find"><input name="q"></form>',
            '<script type="application/ld+json">{"@type": "Mill", "url": "/a"}</script>',
            '<img src="/i.png" alt="I">',
            "<p>Text at http://mill.example/x.</p>",
            "<main><p>A main part in a menu</p></main>",
            "<nav><aside>deep</aside></nav>",
            "loose text",
        ):
            menu = MENU.format(more)
            with self.subTest(more):
                self.same(*[("http://mill.example/a", html(menu, "loose text after it"))] * 2)

    def test_within_an_article_and_without_a_main(self):
        inner = "<article><header><h1>Head</h1></header><p>Text</p><aside><p>Beside</p></aside></article>"
        self.same(*[("http://mill.example/a", html("", inner))] * 2)
        self.same(*[("http://mill.example/a", html(MENU.format(""), "<p>no main</p>"))] * 2)

    def test_memory_is_bounded(self):
        shared = Resolver()
        for n in range(500):
            markup.read(html(MENU.format(n)), "http://mill.example/", shared)
        self.assertLessEqual(len(shared._parts), 200)
