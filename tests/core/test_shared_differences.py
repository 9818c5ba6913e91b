"""What many pages show alike is one finding with its pages, and leaves their fates alone."""

import unittest

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


class SharedDifferencesTest(unittest.TestCase):
    def test_noindex_everywhere_is_one_finding_and_every_page_is_kept(self):
        self.assertEqual(told(site(), site(head=NOINDEX)), ([("noindex", 16, "noindex")], {"kept": 16}))

    def test_a_few_pages_share_nothing(self):
        found, fates = told(site(), site(head=NOINDEX, only=NAMES[:4]))
        self.assertEqual([kind for kind, pages, _ in found], ["noindex"] * 4)
        self.assertEqual(fates, {"altered": 4, "kept": 12})

    def test_half_of_a_section_is_enough_and_less_of_all_is_not(self):
        found, fates = told(site(), site(head=NOINDEX, only=NAMES[:5]))
        self.assertEqual((found, fates), ([("noindex", 5, "noindex")], {"kept": 16}))
        spread = [*NAMES[:3], *NAMES[8:11]]
        found, fates = told(site(), site(head=NOINDEX, only=spread))
        self.assertEqual((len(found), fates), (6, {"altered": 6, "kept": 10}))

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

    def test_two_forms_on_one_site(self):
        right = site(title="Page {} - New mill", only=NAMES[:8]) | {
            name: html(f"Page {name} - Other mill", f"text of {name}") for name in NAMES[8:]
        }
        found, fates = told(site(), right)
        self.assertEqual([(kind, pages) for kind, pages, _ in found], [("title", 8), ("title", 8)])
        self.assertEqual(fates, {"kept": 16})
