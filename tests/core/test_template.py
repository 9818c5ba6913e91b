"""Templates: what differs in menus, footers and style sheets is one finding each, with a number of pages."""

import unittest

import numpy as np

from palinode.core import boilerplate, template
from palinode.core.checks.pages import kinds
from tests.core.build import NEW, OLD, Given, causes_of, ground, standing_in


def page(menu: str, style: str = "mill.css", text: str = "x", host: str = "") -> Given:
    links = "".join(f'<a href="{host}/{name.lower()}">{name}</a> ' for name in menu.split())
    head = f'<title>T</title><link rel=stylesheet href="/themes/{style}">'
    return 200, f"<head>{head}</head><nav>{links}</nav><main><p>{text}</p></main><footer>The mill</footer>"


def standing(*pairs: tuple[Given, Given, int]) -> list[tuple[template.Template, template.Template, np.ndarray]]:
    """Return the templates of pairs, each with rows of pages of its own."""
    ends = np.cumsum([count for *_, count in pairs])
    return [
        (standing_in(f"{OLD}/a", a), standing_in(f"{NEW}/a", b), np.arange(end - count, end))
        for (a, b, count), end in zip(pairs, ends, strict=True)
    ]


def told(*pairs: tuple[Given, Given, int]) -> list[tuple[str, int, str]]:
    templates = standing(*pairs)
    return [(one.kind.word, one.pages, one.detail) for one in template.differences(templates)]


class TemplateTest(unittest.TestCase):
    def test_the_same_template_on_another_host_has_none(self):
        self.assertEqual(told((page("Home Shop", host=OLD), page("Home Shop", host=NEW), 50)), [])
        self.assertEqual(told((page("Home", text="a"), page("Home", text="b"), 50)), [], "main content is none of it")

    def test_one_finding_for_many_pages(self):
        found = told((page("Home Shop"), page("Home"), 50), (page("Home Shop Visit"), page("Home Visit"), 7))
        self.assertIn(("template_link", 57, "link to /shop is gone"), found)
        self.assertEqual({pages for _, pages, _ in found if pages == 57}, {57})

    def test_a_link_to_the_old_host_is_said_as_such(self):
        found = told((page("Home", host=OLD), page("Home", host=OLD), 3))
        self.assertEqual(found, [("template_link", 3, f"link to /home leads to {OLD}/home")])

    def test_what_a_single_page_shows_is_no_template(self):
        self.assertEqual(told((page("Home Shop"), page("Home"), 1)), [])
        self.assertEqual(told((page("Home Shop"), page("Home"), 2), (page("Home"), page("Home"), 200)), [])
        self.assertEqual(len(told((page("Home Shop"), page("Home"), 9), (page("Home"), page("Home"), 200))), 2)

    def test_style_sheets_by_their_names(self):
        self.assertEqual(
            told((page("Home"), page("Home", style="plain.css"), 9)),
            [("template_styles", 9, "mill.css gone; plain.css came")],
        )
        self.assertEqual(template.style_name("/a/b/main.css?ver=3#x"), "main.css")
        self.assertEqual(template.style_name("/a/icon.png"), "")

    def test_the_order_of_pages_changes_nothing_and_the_largest_stand_for_all(self):
        left, right = np.array([1, 1, 2, 1, 3]), np.array([1, 1, 5, 1, 3])
        found = template.groups(left, right)
        self.assertEqual([one.tolist() for one in found], [[0, 1, 3], [2], [4]])

    def test_causes_of_templates(self):
        pages = {"/": page("Home"), "/a": page("Home")}

        def kinds(*pairs: tuple[Given, Given, int]) -> list[str]:
            templates = standing(*pairs)
            return [one.kind for one in causes_of(ground(pages, pages, shared=template.differences(templates)))]

        self.assertEqual(kinds((page("Home"), page("Home", style="plain.css"), 9)), ["theme_differs"])
        self.assertEqual(kinds((page("Home Shop"), page("Home"), 9)), ["template_differs"])
        self.assertEqual(kinds((page("Home", host=OLD), page("Home", host=OLD), 9)), ["leads_back"])

    def test_what_repeats_in_plain_boxes_is_template_too(self):
        menu, page_text = frozenset({"Shop", "Visit"}), [frozenset({f"text {n}"}) for n in range(20)]
        left = [(menu | text, frozenset({1, 2, 100 + n})) for n, text in enumerate(page_text)]
        right = [(frozenset({"Store", "Visit"}) | text, frozenset({3, 2, 100 + n})) for n, text in enumerate(page_text)]
        found = boilerplate.between(left, right)
        self.assertEqual((found.texts, found.targets), ({"Shop", "Store"}, {1, 3}))
        self.assertEqual(boilerplate.between(left, left), boilerplate.NOTHING)
        self.assertEqual(boilerplate.between(left[:5], right[:5]), boilerplate.NOTHING, "few pages say nothing")
        some = [(text | ({"Shop"} if n < 8 else set()), frozenset()) for n, text in enumerate(page_text)]
        self.assertEqual(boilerplate.between(some, [(text, frozenset()) for text in page_text]), boilerplate.NOTHING)

    def test_kinds_are_shared_kinds(self):
        shared = {kinds.TEMPLATE_TEXT, kinds.TEMPLATE_LINK, kinds.TEMPLATE_STYLES}
        found = template.differences(standing((page("Home Shop"), page("Home", style="b.css"), 4)))
        self.assertLessEqual({one.kind for one in found}, shared)
        self.assertEqual(len({(one.kind, one.subject) for one in found}), len(found), "each has a key of its own")
