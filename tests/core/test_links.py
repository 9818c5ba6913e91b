"""Links of two sides: what answers, what does not, and what did not before; pages that nothing links any more."""

import random
import unittest
from unittest import mock

import numpy as np

from palinode.core.checks.links.check import CHECK
from palinode.core.checks.links.reach import NOT_REACHED, Reach
from palinode.core.checks.links.targets import LINKED
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome, PageSet
from palinode.core.fields import Place
from palinode.core.rule import read
from tests.core.build import NEW, OLD, Given, html, ledger
from tests.core.links import links

RULE = read(f"{OLD}/ -> {NEW}/")
MENU = '<nav><a href="/menu">Menu</a></nav>'


def linking(title: str, *to: str, more: str = "") -> Given:
    """Return a page whose text links some addresses."""
    return html(title, f"Words of {title}. " + " ".join(f'<a href="{one}">{one[-9:]}</a>' for one in to) + more)


class LinksTest(unittest.TestCase):
    def judged(self, left: dict[str, Given], right: dict[str, Given], lines: str = "", **more) -> Outcome:
        rule = read(f"{OLD}/ -> {NEW}/\n{lines}")
        pages = ledger(left, right, lines)
        files = more.pop("files", ())
        sides = Side((f"{OLD}/",), links=links(OLD, left, files=files)), Side((f"{NEW}/",), links=links(NEW, right, files=files, **more))  # fmt: skip
        self.pages = pages
        return CHECK.judge(Looked(*sides, rule, "Palinode", pages=pages))

    def rows(self, made: Outcome) -> dict[str, tuple[str, str, str, int]]:
        """Return verdict, what is said on either side and the number of pages, by what stands right."""
        told = made.rows
        words = [CHECK.verdicts[at].word for at in told.verdict.tolist()]
        pages = told.numbers["pages"].tolist()
        return {
            right: (word, note, said, number)
            for right, word, note, said, number in zip(
                told.right, words, told.left_note, told.right_note, pages, strict=True
            )
        }

    def kinds(self, made: Outcome) -> list[str]:
        return sorted(made.findings.kind_of(at).word for at in range(len(made.findings)))

    def test_each_verdict(self):
        to = (
            "/a",
            "/gone",
            "/gone-too",
            "/hop",
            "/far",
            "/mended",
            f"{OLD}/x",
            "http://other.example/",
            "/shut",
            "/never",
        )
        pages = {"/a": linking("A"), "/b": linking("B")}
        left = {
            "/": linking("Home", *to, "/b"), **pages, "/gone": linking("Gone"), "/gone-too": (404, ""), "/hop": (301, "/a"),
            "/far": (301, "/a"), "/mended": (404, ""), "/shut": linking("Shut"),
        }  # fmt: skip
        right = {
            "/": linking("Home", *to, "/b", "/new-and-gone"), **pages, "/gone": (404, ""), "/gone-too": (404, ""), "/hop": (301, "/a"),
            "/far": (301, "/hop"), "/mended": linking("Mended"), "/shut": (403, ""), "/new-and-gone": (404, ""),
        }  # fmt: skip
        made = self.judged(left, right)
        told = self.rows(made)
        self.assertEqual(told["/a"], ("answers", "200", "", 1))
        self.assertEqual(told["/gone"], ("broken", "200", "404; its page is lost", 1))
        self.assertEqual(told["/gone-too"], ("before", "404", "404; broken before, too", 1))
        self.assertEqual(told["/hop"], ("redirected", "301, one hop", "one hop, as before", 1))
        self.assertEqual(told["/far"], ("redirected", "301, one hop", "2 hops now", 1))
        self.assertEqual(told["/mended"][:2], ("mended", "404"))
        self.assertEqual(told["old.example/x"][0], "old_host")
        self.assertEqual(told["other.example/"][:3], ("unknown", "not asked", "not asked"))
        self.assertEqual(told["/shut"], ("unknown", "200", "403", 1))
        self.assertEqual(told["/never"][0], "unknown")
        self.assertEqual(told["/new-and-gone"], ("broken", "", "404", 1))
        # That /gone is lost is told by the check of pages.
        self.assertEqual(self.kinds(made), ["link_broken", "link_hops"])
        self.assertEqual(made.unseen, ("links to other sites (one address)",))

    def test_a_page_that_is_not_the_pair(self):
        left = {"/": linking("Home", "/old-name"), "/old-name": (301, "/a"), "/a": linking("A"), "/b": linking("B")}
        right = {"/": linking("Home", "/old-name"), "/old-name": (301, "/b"), "/a": linking("A"), "/b": linking("B")}
        made = self.judged(left, right)
        self.assertEqual(self.rows(made)["/old-name"][::2][:2], ("elsewhere", "leads to /b, the page stands at /a"))
        self.assertEqual(self.kinds(made), ["link_elsewhere"])
        same = self.judged(left, left | {"/": linking("Home", "/old-name")})
        self.assertEqual(self.rows(same)["/old-name"][0], "redirected")

    def test_where_nobody_asked_before_nothing_is_said_to_be_more(self):
        left = {"/": linking("Home", "/?p=1"), "/a": linking("A")}
        made = self.judged(left, left | {"/?p=1": (301, "/a")})
        self.assertEqual(self.rows(made)["/?p=1"][::2][:2], ("redirected", "one hop"))
        self.assertEqual(self.kinds(made), [])

    def test_more_than_fit(self):
        left = {
            "/": linking("Home", "/a", "/b", "/c", "/gone"),
            "/a": linking("A"),
            "/b": linking("B"),
            "/c": linking("C"),
        }
        with (
            mock.patch("palinode.core.checks.links.check._MOST_ROWS", 2),
            mock.patch("palinode.core.checks.links.check._MOST_PAGES", 0),
        ):
            made = self.judged(left, left | {"/gone": (404, "")})
        told = self.rows(made)
        self.assertEqual(told["/gone"][::3], ("broken", 1))
        self.assertEqual(len([one for one in told.values() if one[0] == "answers"]) <= 3, True)
        self.assertIn("further linked address", made.unseen[0])

    def test_in_the_template(self):
        def side(menu: Given) -> dict[str, Given]:
            found = {f"/{n}": (200, linking(f"Page {n}")[1].replace("<main>", f"{MENU}<main>")) for n in range(8)}
            return found | {"/menu": menu}

        made = self.judged(side(linking("Menu")), side((404, "")))
        self.assertEqual(
            self.rows(made)["/menu"], ("broken", "200", "404; its page is lost; in the template: one place to mend", 8)
        )

    def test_what_a_redirect_leads_to_when_it_goes_in_a_circle(self):
        left = {"/": linking("Home", "/x"), "/x": linking("X")}
        made = self.judged(left, {"/": linking("Home", "/x"), "/x": (301, "/y"), "/y": (301, "/x")})
        word, _, said, _ = self.rows(made)["/x"]
        self.assertEqual((word, said.split(";")[0]), ("broken", "301, in a circle"))

    def test_images_and_files_stand_apart(self):
        left = {
            "/": html("Home", 'x <img src="/a.png"> <a href="/plan.pdf">plan</a>'),
            "/a.png": (200, ""),
            "/plan.pdf": (200, ""),
        }
        made = self.judged(left, left | {"/a.png": (404, "")}, files=("/a.png", "/plan.pdf"))
        groups = dict(zip(made.rows.right, [made.rows.groups[at] for at in made.rows.group.tolist()], strict=True))
        self.assertEqual((groups["/a.png"], groups["/plan.pdf"]), ("Images and files", "Images and files"))

    def test_pages_that_nothing_links_any_more(self):
        def side(*to: str) -> dict[str, Given]:
            return {"/": linking("Home", *to), "/a": linking("A"), "/b": linking("B", "/b"), "/c": linking("C")}

        made = self.judged(side("/a", "/b", "/c"), side("/a"), by_sitemap=("/c",))
        told = self.rows(made)
        self.assertEqual(told["/b"][:3], ("unlinked", "linked, one step from the home page", "nothing links to it"))
        self.assertEqual(told["/c"][2], "only the sitemap names it")
        self.assertNotIn("unlinked", told.get("/a", ("",)))
        never = self.rows(self.judged(side("/a"), side("/a")))
        self.assertNotIn("unlinked", [word for word, *_ in never.values()], "never linked")
        back = self.rows(self.judged(side("/a", "/b"), side("/a", f"{OLD}/b")))
        self.assertEqual(back["/b"][2], "only links to the old host lead there")

    def test_further_from_the_home_page(self):
        left = {"/": linking("Home", *(f"/{n}" for n in range(8)))} | {f"/{n}": linking(f"P{n}") for n in range(8)}
        right = {"/": linking("Home", "/0")} | {f"/{n}": linking(f"P{n}", f"/{n + 1}") for n in range(8)}
        told = self.rows(self.judged(left, right))
        self.assertEqual(told["half within 4 steps, all within 8 steps"][0], "deeper")

    def test_who_refers_is_who_contains_it(self):
        draw = random.Random(4)
        paths = [f"/{n}" for n in range(40)]
        left: dict[str, Given] = {path: linking(path, *draw.sample(paths, 5)) for path in paths}
        right: dict[str, Given] = {
            path: (404, "") if draw.random() < 0.3 else linking(path, *draw.sample(paths, 5)) for path in paths
        }
        made = self.judged(left, right)
        told = made.rows
        seen = 0
        for at in np.flatnonzero(told.verdict == 0).tolist():
            held = told.items[int(told.numbers["items"][at])] if told.numbers["items"][at] >= 0 else None
            self.assertIsInstance(held, PageSet)
            self.assertEqual(len(held), told.numbers["pages"][at])
            for row in held.rows.tolist():
                seen += 1
                path = self.pages.right_address[row].removeprefix(NEW)
                self.assertIn(f'"{told.right[at]}"', right[path][1])
        self.assertGreater(seen, 20)


class ArraysTest(unittest.TestCase):
    def test_counts_are_those_of_plain_sets(self):
        draw = random.Random(9)
        paths = [f"/{n}" for n in range(30)]
        site = {path: linking(path, *draw.choices([*paths, "/none", "http://other.example/x"], k=draw.randrange(8))) for path in paths}  # fmt: skip
        found = links(OLD, site)
        referring = found.by_target(LINKED)
        texts = found.texts(np.arange(found.addresses))
        for number, text in enumerate(texts):
            path = text.removeprefix(OLD)
            linked = {one for one, (_, body) in site.items() if f'"{path}"' in body}
            self.assertEqual(referring.pages[number], len(linked), path)
            self.assertEqual({texts[at].removeprefix(OLD) for at in referring.of(number).tolist()}, linked)

    def test_nothing_at_all(self):
        empty = links(OLD, {"/": (404, "")})
        self.assertEqual(empty.by_target(LINKED).pages.tolist(), [0])
        reach = Reach(empty, frozenset({Place.LINK}), 1)
        self.assertEqual(reach.depth.tolist(), [NOT_REACHED])
