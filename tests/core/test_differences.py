"""Differences are told one by one; what many pages show alike is one finding, and leaves their fates alone."""

import unittest
from unittest.mock import patch

from palinode.core.checks.pages import findings as page_findings
from palinode.core.fates import Fate
from tests.core.build import html, ledger

NOINDEX = "<meta name=robots content=noindex>"
NAMES = [f"/{section}/{n}" for section in ("shop", "people") for n in range(8)]


def site(title="Page {} - Old mill", head="", text="text of {}", only=NAMES) -> dict:
    """Return pages of which some have a title, a head and a text; the others those of the source."""
    return {
        name: html(
            (title if name in only else "Page {} - Old mill").format(name),
            (text if name in only else "text of {}").format(name),
            head if name in only else "",
        )
        for name in NAMES
    }


def told(left, right):
    """Return the findings as (kind, pages, detail), and the number of pages of each fate."""
    held = ledger(left, right)
    found = page_findings.find(held)
    rows = zip(found.kind.tolist(), found.pages.tolist(), found.detail, strict=True)
    fates = {fate.word: held.count(fate) for fate in Fate if held.count(fate)}
    return sorted((found.kinds[kind].word, pages, detail) for kind, pages, detail in rows), fates


class SharedTest(unittest.TestCase):
    def test_noindex_everywhere_is_one_finding_and_every_page_is_kept(self):
        self.assertEqual(told(site(), site(head=NOINDEX)), ([("noindex", 16, "noindex")], {"kept": 16}))

    def test_what_a_few_pages_show_is_one_finding_and_alters_them(self):
        found, fates = told(site(), site(head=NOINDEX, only=NAMES[:4]))
        self.assertEqual(found, [("noindex", 4, "noindex")])
        self.assertEqual(fates, {"altered": 4, "kept": 12})

    def test_half_of_a_section_is_enough_and_less_of_all_is_not(self):
        found, fates = told(site(), site(head=NOINDEX, only=NAMES[:5]))
        self.assertEqual((found, fates), ([("noindex", 5, "noindex")], {"kept": 16}))
        spread = [*NAMES[:3], *NAMES[8:11]]
        found, fates = told(site(), site(head=NOINDEX, only=spread))
        self.assertEqual((found, fates), ([("noindex", 6, "noindex")], {"altered": 6, "kept": 10}))

    def test_titles_that_end_otherwise(self):
        found, fates = told(site(), site(title="Page {} - New mill and bakery"))
        detail = "title ends with “New mill and bakery” in place of “Old mill”"
        self.assertEqual((found, fates), ([("title", 16, detail)], {"kept": 16}))

    def test_titles_that_begin_otherwise_or_are_gone_or_lose_their_end(self):
        for left, right, detail in [
            ("Old: {} of the mill", "New: {} of the mill", "title begins with “New:” in place of “Old:”"),
            ("Page {}", "", "title missing"),
            ("Page {} | Mill", "Page {}", "title ends without “| Mill”"),
            ("Page {}", "Page {} | Mill", "title ends with “| Mill”"),
        ]:
            with self.subTest(right):
                before = {name: html(left.format(name), f"text {name}") for name in NAMES}
                after = {name: html(right.format(name), f"text {name}") for name in NAMES}
                self.assertEqual(told(before, after), ([("title", 16, detail)], {"kept": 16}))

    def test_descriptions_dropped_and_made_one(self):
        left = {name: html("T", name, f"<meta name=description content='about {name}'>") for name in NAMES}
        gone = {name: html("T", name) for name in NAMES}
        one = {name: html("T", name, "<meta name=description content='a mill'>") for name in NAMES}
        self.assertEqual(told(left, gone), ([("description", 16, "description missing")], {"kept": 16}))
        self.assertEqual(told(left, one)[0], [("description", 16, "the same description as on other pages")])

    def test_a_page_that_differs_in_more_is_altered_by_that_alone(self):
        right = site(head=NOINDEX)
        right["/shop/3"] = html("Page /shop/3 - Old mill", "other words", NOINDEX)
        found, fates = told(site(), right)
        self.assertEqual([(kind, pages) for kind, pages, _ in found], [("noindex", 16), ("text", 1)])
        self.assertEqual(fates, {"altered": 1, "kept": 15})

    def test_each_page_has_its_own_title_changed_and_nothing_is_shared(self):
        right = {name: html(f"{n} words about nothing {n}", f"text of {name}") for n, name in enumerate(NAMES)}
        found, fates = told(site(), right)
        self.assertEqual({pages for _, pages, _ in found}, {1})
        self.assertEqual(fates, {"altered": 16})

    def test_the_key_is_that_of_the_difference_whatever_pages_show_it(self):
        one = page_findings.find(ledger(site(), site(head=NOINDEX)))
        other = page_findings.find(ledger(site(), site(head=NOINDEX, only=NAMES[:12])))
        self.assertEqual((one.key.tolist(), one.seen.tolist()), (other.key.tolist(), other.seen.tolist()))
        self.assertEqual(sorted(one.single[0].on.tolist()), list(range(16)))

    def test_a_link_that_came_here_and_stands_more_often_there_is_one_to_share(self):
        link = '<a href="/mod">modules</a>'

        def markup(n: int, links: int) -> str:
            return f"<title>Page {n}</title><main><p>What stands on page {n}</p>{link * links}</main>"

        left = {f"/p{n}": (200, markup(n, n % 2)) for n in range(12)}
        right = {f"/p{n}": (200, markup(n, n % 2 + 1)) for n in range(12)}
        self.assertEqual({Fate(fate).word for fate in ledger(left, right).fate.tolist()}, {"kept"})
        few = {path: given if n < 3 else left[path] for n, (path, given) in enumerate(right.items())}
        self.assertEqual(sum(Fate(fate).word == "altered" for fate in ledger(left, few).fate.tolist()), 3)

    def test_two_forms_on_one_site(self):
        right = site(title="Page {} - New mill", only=NAMES[:8]) | {
            name: html(f"Page {name} - Other mill", f"text of {name}") for name in NAMES[8:]
        }
        found, fates = told(site(), right)
        self.assertEqual([(kind, pages) for kind, pages, _ in found], [("title", 8), ("title", 8)])
        self.assertEqual(fates, {"kept": 16})


def one(left: str, right: str, head: str = "") -> list[tuple[str, int, str]]:
    """Return the findings of a page whose main content is this."""
    page = "<title>T</title>{}<main>{}</main>"
    return told({"/a": (200, page.format(head, left))}, {"/a": (200, page.format(head, right))})[0]


class NamedTest(unittest.TestCase):
    def test_each_image_and_each_link_is_a_finding_with_its_address(self):
        left = "<img src=/img/wheel.png><img src=/img/pond.png><p>x</p><a href=/b>b</a><a href=/c>c</a>"
        self.assertEqual(
            one(left, "<p>x</p><a href=/b>b</a><span>c</span>"),
            [
                ("images", 1, "/img/pond.png is missing"),
                ("images", 1, "/img/wheel.png is missing"),
                ("links", 1, "link to /c is missing"),
            ],
        )

    def test_what_stands_in_the_place_of_another_is_told_with_it(self):
        left = "<img src=/img/wheel.png><a href=/b>b</a><form action=/send><input name=a></form>"
        right = "<img src=/new/wheel.png><a href=/c>b</a><form action=/post><input name=a></form>"
        self.assertEqual(
            one(left, right),
            [
                ("forms", 1, "form sent to /send is now sent to /post"),
                ("images", 1, "/img/wheel.png became /new/wheel.png"),
                ("links", 1, "link to /b leads to /c"),
            ],
        )

    def test_what_stands_there_less_often_is_said(self):
        twice = "<a href=/b>b</a><a href=/b>b</a>"
        self.assertEqual(one(twice, "<a href=/b>b</a>b"), [("links", 1, "link to /b stands there fewer times")])

    def test_each_block_is_a_finding_and_a_heading_is_told_once(self):
        left = "<h2>Old</h2><p>one two three four five six seven eight nine ten</p><p>going</p><p>same</p>"
        right = "<h2>New</h2><p>one two three four FIVE six seven eight nine ten</p><p>same</p><p>come</p>"
        self.assertEqual(
            one(left, right),
            [
                ("headings", 1, "“Old” became “New”"),
                ("text", 1, "“come” came"),
                ("text", 1, "“going” is gone"),
                (
                    "text",
                    1,
                    "“… two three four five six seven eight …” became “… two three four FIVE six seven eight …”",
                ),
            ],
        )

    def test_a_page_with_too_many_is_told_as_a_whole(self):
        left = "".join(f"<img src=/img/{n}.png>" for n in range(12))
        self.assertEqual(one(left, "<p>x</p>")[0], ("images", 1, "12 images missing"))
        links = "".join(f"<a href=/a{n}>{n}</a>" for n in range(12))
        self.assertEqual(one(links, links.replace("/a", "/b")), [("links", 1, "24 links differ")])

    def test_open_graph_that_only_repeats_the_title_alters_nothing_more(self):
        heads = [f"<title>{t}</title><meta property=og:title content='{t}'><main>x</main>" for t in "AB"]
        self.assertEqual(told({"/a": (200, heads[0])}, {"/a": (200, heads[1])})[0], [("title", 1, "title now “B”")])
        alone = "<title>A</title><meta property=og:title content=B><main>x</main>"
        found = told({"/a": (200, heads[0])}, {"/a": (200, alone)})[0]
        self.assertEqual(found, [("open_graph", 1, "og:title now “B”")])

    def test_one_image_gone_from_several_pages_is_one_finding_on_them(self):
        image = "<img src=/img/mill.png>"
        left = {name: (200, f"<title>T</title><main>{image}<p>{name}</p></main>") for name in NAMES}
        right = left | {name: (200, left[name][1].replace(image, "")) for name in NAMES[2:5]}
        self.assertEqual(told(left, right), ([("images", 3, "/img/mill.png is missing")], {"altered": 3, "kept": 13}))
        right = {name: (200, left[name][1].replace(image, "")) for name in NAMES}
        self.assertEqual(told(left, right), ([("images", 16, "/img/mill.png is missing")], {"kept": 16}))

    def test_links_of_the_head_are_told_by_what_became_of_them(self):
        left = {n: html("T", n, f"<link rel=canonical href=http://old.example{n}>") for n in NAMES}
        gone = {n: html("T", n) for n in NAMES}
        self.assertEqual(told(left, gone), ([("canonical", 16, "canonical missing")], {"kept": 16}))
        home = {n: html("T", n, "<link rel=canonical href=http://new.example/>") for n in NAMES}
        self.assertEqual(told(left, home), ([("canonical", 16, "canonical is now /")], {"kept": 16}))
        detail = "canonical leads to http://old.example"
        self.assertEqual(told(left, left), ([("canonical", 16, detail)], {"kept": 16}))

    def test_a_finding_stays_the_same_when_another_page_shows_it(self):
        image, keys = "<img src=/img/mill.png>", []
        left = {name: (200, f"<title>T</title><main>{image}<p>{name}</p></main>") for name in NAMES}
        for number in (1, 3):
            right = left | {name: (200, left[name][1].replace(image, "")) for name in NAMES[:number]}
            found = page_findings.find(ledger(left, right))
            keys.append((found.key.tolist(), found.seen.tolist()))
        self.assertEqual(keys[0], keys[1])

    def test_no_two_findings_have_the_same_key(self):
        left = {
            name: (200, f"<title>T</title><main><p>open at ten</p><a href=/b>b</a><p>{name}</p></main>")
            for name in NAMES
        }
        right = {
            name: (200, left[name][1].replace("ten", str(n % 3)).replace("/b", f"/{n % 3}"))
            for n, name in enumerate(NAMES)
        }
        found = page_findings.find(ledger(left, right))
        self.assertEqual(len(set(found.key.tolist())), 7)
        self.assertEqual(sorted(found.pages.tolist()), [5, 5, 5, 5, 6, 6, 16])


class BoundsTest(unittest.TestCase):
    def test_a_page_of_which_everything_is_replaced_is_told_as_a_whole_and_soon(self):
        left = "".join(f"<a href=/a{n}>l</a><p>text {n}</p>" for n in range(3_000))
        self.assertEqual(
            one(left, left.replace("/a", "/b").replace("text", "words")),
            [("links", 1, "6,000 links differ"), ("text", 1, "text differs")],
        )

    def test_references_that_would_take_too_much_memory_are_told_as_a_whole(self):
        with patch("palinode.core.differences.targets.MOST_REFERENCES", 3):
            self.assertEqual(
                one("<a href=/a>a</a><a href=/b>b</a>", "<a href=/c>a</a>b"),
                [
                    ("links", 1, "link to /a is missing"),
                    ("links", 1, "link to /b is missing"),
                    ("links", 1, "link to /c came"),
                ],
            )
            self.assertEqual(
                one("<a href=/a>a</a><a href=/b>b</a>", "<a href=/c>a</a><a href=/d>b</a>"),
                [("links", 1, "links differ")],
            )
