"""Content on pages: items not at their address, pages in sitemaps and feeds, their days of change."""

import unittest
from dataclasses import replace

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.looked import NO_DAY, KnownAddresses
from palinode.core.checks.outcome import Outcome
from palinode.core.discovery import Discovery
from tests.core.build import NEW, OLD, html, ledger
from tests.core.content import MOVED, SITE, judged, kinds, listed, rows, without


class PagesTest(unittest.TestCase):
    """What stands in the database, and on which pages it is seen."""

    def setUp(self):
        self.paths = {
            f"/2020/03/tide-{number}/": html(f"Tide {number}", f"Text of tide {number}.") for number in range(1, 9)
        }
        self.paths |= {"/": html("Home", "Welcome to the mill.")}

    def test_all_are_there_and_some_not_at_their_address(self):
        right = {path: (404, "") if path.endswith(("-2/", "-3/")) else given for path, given in self.paths.items()}
        made = judged(SITE, SITE.but(options=MOVED), ledger(self.paths, right))
        self.assertEqual(
            rows(made)["Posts, published"], ("unreached", "8", "6", "8 in the dump, 2 not at their address")
        )
        self.assertEqual(
            listed(made, "Posts, published"),
            [(f"“Tide {n}” ({n})", f"“Tide {n}” ({n})", "its page is lost", f"/2020/03/tide-{n}/") for n in (2, 3)],
        )
        at = made.rows.left_note.index("Posts, published")
        numbers = {name: int(array[at]) for name, array in made.rows.numbers.items() if name != "items"}
        self.assertEqual(numbers, {"source_dump": 8, "destination_dump": 8, "source_pages": 8, "destination_pages": 6})

    def test_missing_items_name_their_pages(self):
        right = {path: given for path, given in self.paths.items() if "-4/" not in path}
        made = judged(SITE, without(4), ledger(self.paths, right | {"/2020/03/tide-4/": (404, "")}))
        self.assertEqual(listed(made, "Posts, published"), [("“Tide 4” (4)", "", "missing", "/2020/03/tide-4/")])

    def known(self, host: str, by: Discovery, listed_paths, day: int = 0, days: dict[str, int] | None = None):
        """Return the known addresses of a host; some are listed, with the day of their change."""
        idents = np.sort(addresses.idents([host + path for path in self.paths]))
        in_it = addresses.idents([host + path for path in listed_paths])
        known = np.where(np.isin(idents, in_it), int(by), int(Discovery.LINK))
        modified = np.where(known == int(by), day, NO_DAY).astype(np.int32)
        for path, other in (days or {}).items():
            modified[idents == addresses.ident(host + path)] = other
        return KnownAddresses(idents, known, modified)

    def but(self, *ends: str) -> list[str]:
        """Return the paths but for some."""
        return [path for path in self.paths if not path.endswith(ends)]

    def test_pages_in_the_sitemap(self):
        pages, by = ledger(self.paths, self.paths), Discovery.SITEMAP
        both = self.known(OLD, by, self.paths), self.known(NEW, by, self.but("-5/"))
        made = judged(None, None, pages, known=both)
        told = rows(made)
        said = "one page is not listed any more"
        self.assertEqual(told["Pages in the sitemap, /2020"], ("missing", "8", "7", f"{said}: /2020/03/tide-5/"))
        self.assertEqual(told["Pages in the sitemap"], ("missing", "9", "8", said))
        gone = {path: (404, "") if "-5/" in path else given for path, given in self.paths.items()}
        lost = judged(None, None, ledger(self.paths, gone), known=both)
        self.assertEqual(rows(lost)["Pages in the sitemap"], ("unreached", "9", "8", "one page is lost"))
        self.assertIn("sitemap_shorter", kinds(made))
        made = judged(None, None, pages, known=(both[0], self.known(NEW, by, ())))
        self.assertEqual(rows(made)["Pages in the sitemap"][0], "unknown")
        self.assertEqual(len(judged(None, None, pages, known=(self.known(OLD, by, ()), both[1])).rows), 0)

    def test_what_makes_the_difference_adds_up(self):
        by = Discovery.SITEMAP
        new = {"/new-1/": html("New", "Of today."), "/new-2/": html("Newer", "Of today, too, and more of it.")}
        left = {path: given for path, given in self.paths.items() if path != "/2020/03/tide-8/"}
        right = {path: (404, "") if "-5/" in path else given for path, given in left.items()} | new
        pages = ledger(left, right)
        self.paths |= new
        before = self.known(OLD, by, [path for path in left if not path.endswith("-1/")])
        after = self.known(NEW, by, [path for path in right if not path.endswith(("-5/", "tide-2/"))])
        made = judged(None, None, pages, known=(before, after))
        self.assertEqual(
            rows(made)["Pages in the sitemap"],
            ("missing", "7", "8", "one page is not listed any more; one page is lost; 2 pages are new; "
             "one page is listed now"),
        )  # fmt: skip

    def test_pages_in_the_feeds(self):
        pages, by = ledger(self.paths, self.paths), Discovery.FEED
        latest = self.but("-1/", "-2/", "-3/")
        # A later one pushed the eldest out.
        pushed = self.known(NEW, by, self.but("-1/", "-2/", "-4/"))
        made = judged(None, None, pages, known=(self.known(OLD, by, latest), pushed))
        self.assertEqual(
            rows(made)["Pages in the feeds"],
            ("same", "6", "6", "one page is not listed any more; one page is listed now"),
        )
        self.assertEqual(kinds(made), {})
        fewer = judged(None, None, pages, known=(self.known(OLD, by, latest), self.known(NEW, by, latest[2:])))
        self.assertEqual(rows(fewer)["Pages in the feeds"][:3], ("missing", "6", "4"))
        self.assertEqual(list(kinds(fewer)), ["feeds_shorter"])

    def days(self, right: KnownAddresses, given: dict | None = None) -> Outcome:
        """Judge the days of change in the sitemap, which were one at the source."""
        left = self.known(OLD, Discovery.SITEMAP, self.paths, 18_000)
        return judged(None, None, ledger(self.paths, given or self.paths), known=(left, right))

    def test_days_of_change(self):
        by, name = Discovery.SITEMAP, "Days of change in the sitemap"
        for day in (18_000, 18_001, 17_999):
            # Where it stands another day may begin earlier.
            made = self.days(self.known(NEW, by, self.paths, day))
            self.assertEqual((rows(made)[name], kinds(made)), (("same", "9", "9", ""), {}))
        made = self.days(self.known(NEW, by, self.paths, 20_000, {"/2020/03/tide-2/": NO_DAY}))
        said = "one page has no day any more; 8 pages have another day and the same content: 2024-10-04"
        self.assertEqual(rows(made)[name], ("different", "9", "0", said))
        self.assertIn(("2019-04-14", "", "without a day", "/2020/03/tide-2/"), listed(made, name))
        self.assertEqual(list(kinds(made)), ["days_changed"])
        # Where a page was changed, its day may well be another.
        other = self.paths | {"/2020/03/tide-2/": html("Tide 2", "Another text, which somebody wrote.")}
        made = self.days(self.known(NEW, by, self.paths, 18_000, {"/2020/03/tide-2/": 20_000}), other)
        self.assertEqual(rows(made)[name][0], "same")
        unread = replace(self.known(NEW, by, self.paths), modified=None)
        self.assertNotIn(name, rows(self.days(unread)))
