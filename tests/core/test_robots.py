"""The check of robots rules: who is shut out of what, on made-up files and pages."""

import unittest

from palinode.core import robots as files
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.robots import CHECK, VERDICTS
from palinode.core.robots import RobotsFile
from palinode.core.rule import read
from tests.core.build import NEW, OLD, html, ledger

PATHS = ("/", "/a", "/shop/1", "/shop/2", "/cart")
PAGES = {path: html(f"Page {path}") for path in PATHS}


def file(origin: str, text: str | None = "", status: int = 200) -> RobotsFile:
    if status != 200 or text is None:
        return RobotsFile(origin, status, reason="timed out three times")
    said, rules = files.read(text.encode())
    return RobotsFile(origin, 200, said, rules=rules)


class RobotsTest(unittest.TestCase):
    def judged(self, left, right, lines=f"{OLD} -> {NEW}", pages=PAGES, agent="Palinode/1"):
        held = ledger(pages, pages)
        sides = (
            Side((base,), robots=(given if isinstance(given, RobotsFile) else file(base, given),))
            for base, given in ((OLD, left), (NEW, right))
        )
        return CHECK.judge(Looked(*sides, read(lines), agent, held))

    def told(self, *args, **more):
        made = self.judged(*args, **more)
        rows = zip(made.rows.verdict.tolist(), made.rows.left_note, made.rows.right_note, strict=True)
        return [(VERDICTS[verdict].word, name, note) for verdict, name, note in rows]

    def findings(self, *args, **more):
        found = self.judged(*args, **more).findings
        return [
            (found.kind_of(at).word, found.detail[at], int(found.pages[at]), found.row[at]) for at in range(len(found))
        ]

    def test_the_same_rules_are_the_same_and_none_as_well(self):
        for text in ("", "User-agent: *\nDisallow: /cart"):
            self.assertEqual(self.told(text, text), [("same", "robots.txt", "")])
            self.assertEqual(self.findings(text, text), [])
        none = [file(OLD, status=404), file(NEW, status=404)]
        self.assertEqual(self.told(*none), [("same", "robots.txt", "")])

    def test_all_shut_out_is_one_finding_with_its_pages(self):
        left, right = "User-agent: *\nDisallow: /cart", "User-agent: *\nDisallow: /"
        made = self.judged(left, right)
        self.assertEqual(
            self.told(left, right), [("shut_out", "robots.txt", "crawlers are shut out: 4 pages that were open, of 5")]
        )
        (finding,) = self.findings(left, right)
        self.assertEqual(finding, ("shut_out", "crawlers are shut out of pages that were open at the source", 4, 0))
        (listed,) = made.rows.items
        self.assertEqual(made.finding_items, {0: 0})
        pages = ledger(PAGES, PAGES)
        shut = [pages.left_address[row] for row in listed.rows.tolist()]
        self.assertEqual(shut, [address for address in sorted(pages.left_address) if not address.endswith("/cart")])

    def test_what_is_one_finding_stays_it_while_the_number_of_pages_changes(self):
        right = "User-agent: *\nDisallow: /shop/"
        one = self.judged("", right).findings
        other = self.judged("", right, pages=PAGES | {"/shop/3": html("Three")}).findings
        self.assertEqual((one.key.tolist(), one.seen.tolist()), (other.key.tolist(), other.seen.tolist()))
        self.assertEqual((one.pages.tolist(), other.pages.tolist()), ([2], [3]))

    def test_rules_that_open_or_say_it_otherwise_are_no_finding(self):
        self.assertEqual(
            self.told("User-agent: *\nDisallow: /shop/", "User-agent: *\nDisallow: /shop/1"),
            [("altered", "robots.txt", "open now: one page that was shut out")],
        )
        self.assertEqual(self.findings("User-agent: *\nDisallow: /shop/", ""), [])

    def test_a_crawler_that_is_named_has_a_row_of_its_own(self):
        text = "User-agent: bingbot\nDisallow: /\n\nUser-agent: *\nDisallow: /cart"
        self.assertEqual(
            self.told("User-agent: *\nDisallow: /cart", text),
            [
                ("shut_out", "robots.txt for bingbot", "crawlers are shut out: 4 pages that were open, of 5"),
                ("altered", "robots.txt", ""),
            ],
        )

    def test_patterns_are_read_by_the_library(self):
        for pattern, shut in (
            ("/*1", 1),
            ("/shop/2$", 1),
            ("*/shop", 2),
            ("/%73hop/", 2),
            ("/nothing", 0),
            ("shop/", 0),
            ("/shop/1\nDissallow: /shop/2", 2),
            ("", 0),
            ("/\nAllow: /shop/", 3),
        ):
            with self.subTest(pattern=pattern):
                found = self.findings("", f"User-agent: *\nDisallow: {pattern}")
                self.assertEqual(sum(pages for _, _, pages, _ in found), shut)

    def test_a_failing_server_shuts_everything_out_and_a_silent_one_is_not_judged(self):
        self.assertEqual(
            self.findings("", file(NEW, status=503)),
            [
                (
                    "shut_out",
                    "crawlers are shut out, since robots.txt answers 503",
                    5,
                    0,
                )
            ],
        )
        self.assertEqual(
            self.told("", file(NEW, None, -1)), [("unknown", "robots.txt", "not fetched: timed out three times")]
        )
        self.assertEqual(self.told("User-agent: *\nDisallow: /", file(NEW, status=404))[0][0], "altered")

    def test_a_host_that_was_not_asked_is_said(self):
        made = self.judged("", file("http://other.example", ""))
        self.assertEqual(made.unseen, (f"robots.txt of {NEW}, which was not asked for it",))
        self.assertEqual(len(made.rows), 0)

    def test_a_copy_under_a_temporary_address_is_judged_by_the_rules_there(self):
        temporary = "http://staging.long-name.example"
        rule = f"{OLD} -> {NEW}\n{NEW}/ at {temporary}/"
        right = file(temporary, "User-agent: *\nDisallow: /shop/")
        self.assertEqual([pages for _, _, pages, _ in self.findings("", right, lines=rule)], [2])

    def test_more_rules_than_can_be_asked_about_are_not_judged(self):
        text = "User-agent: *\n" + "".join(f"Disallow: /*{n}\n" for n in range(40_000))
        pages = PAGES | {f"/p/{n}": html(f"{n}") for n in range(1_200)}
        self.assertIn("more rules than", self.told("", text, pages=pages)[0][2])

    def test_sitemaps(self):
        left = f"Sitemap: {OLD}/sitemap.xml\nSitemap: {OLD}/news.xml\nSitemap: {OLD}/shop.xml"
        right = f"Sitemap: {NEW}/sitemap.xml\nSitemap: {OLD}/shop.xml\nSitemap: {NEW}/extra.xml"
        made = self.judged(left, right)
        self.assertEqual(made.rows.groups, ["rules", "sitemaps"])
        self.assertEqual(
            [(VERDICTS[verdict].word, one or other) for verdict, one, other in
             zip(made.rows.verdict.tolist(), made.rows.left, made.rows.right, strict=True)][:3],
            [("lost", f"{OLD}/news.xml"), ("old_host", f"{OLD}/shop.xml"), ("new", f"{NEW}/extra.xml")],
        )  # fmt: skip
        self.assertEqual(
            [(kind, detail) for kind, detail, _, _ in self.findings(left, right)],
            [
                ("sitemap_lost", f"the sitemap {NEW}/news.xml is not named in robots.txt"),
                ("sitemap_old", f"the sitemap of the old host is still named: {OLD}/shop.xml"),
            ],
        )
        same = self.judged(left, left, f"{OLD} -> {OLD}")
        self.assertEqual(len(same.findings), 0, "on the same name the old host is the new one")

    def test_ten_thousand_pages_ask_the_library_only_about_what_a_rule_may_touch(self):
        asked = []

        class Counting:
            sitemaps = ()

            def can_fetch(self, address, token):
                asked.append(address)
                return False

        text = "User-agent: *\nDisallow: /shop/"
        right = RobotsFile(NEW, 200, text, rules=Counting())
        self.assertEqual(self.findings("", right)[0][2], 2)
        self.assertEqual(len(asked), 2)
