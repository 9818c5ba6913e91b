"""Causes of missing content, with the pages that are lost for that reason."""

import unittest
from dataclasses import replace

from demo.wordpress_dump import WordPressDump
from palinode.core import causes, findings
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.pages import findings as page_findings
from palinode.core.checks.tables.check import CHECK as TABLES
from tests.core.build import NEW, OLD, html, ledger
from tests.core.content import RULE, SITE, judged, without
from tests.core.site_items import database


class CauseTest(unittest.TestCase):
    """Rows that are missing and pages that are lost for that reason are one cause."""

    def causes(self, left: WordPressDump, right: WordPressDump, paths: dict, gone: tuple[str, ...]) -> list[Cause]:
        pages = ledger(paths, {path: (404, "") if path in gone else given for path, given in paths.items()})
        content = judged(left, right, pages)
        sides = [Side((f"{host}/",), database=database(dump)) for host, dump in ((OLD, left), (NEW, right))]
        tables = TABLES.judge(Looked(*sides, RULE, "Palinode"))
        found = findings.joined([page_findings.find(pages), content.findings, tables.findings])
        made = {"content": content, "tables": tables}
        return causes.find(Ground(pages, found, checks=("pages", "content", "tables"), outcomes=made))

    def setUp(self):
        self.paths = {f"/2020/03/tide-{n}/": html(f"Tide {n}", f"Text of tide {n}.") for n in range(1, 9)}
        self.paths |= {f"/{name}/": html(name, f"All of {name}") for name in ("about", "events", "people")}

    def test_missing_rows_and_lost_pages(self):
        gone = tuple(f"/2020/03/tide-{n}/" for n in (3, 4, 5))
        one, counters = self.causes(SITE, without(3, 4, 5), self.paths, gone)
        self.assertEqual(counters.kind, "counters_wrong")
        self.assertEqual((one.kind, one.pages, one.number), ("items_missing", 3, 6))
        self.assertEqual(
            one.detail, "posts, published: 3 missing: “Tide 3”, “Tide 4”, “Tide 5”. 3 pages are lost for that reason."
        )

    def test_an_import_that_stopped(self):
        stopped = without(5, 6, 7, 8, 20, 21, 22, 23).but(
            leave_out=frozenset({"terms", "term_taxonomy", "term_relationships", "users", "usermeta"}),
            terms=(),
            accounts=(),
        )
        gone = tuple(f"/2020/03/tide-{n}/" for n in (5, 6, 7, 8))
        made = self.causes(SITE, stopped, self.paths, gone)
        self.assertEqual(
            [one.kind for one in made], ["items_missing"] if len(made) == 1 else [one.kind for one in made]
        )

    def test_a_term_that_was_dropped(self):
        terms = ((3, "category", "News", 0), (5, "category", "Harbour", 8))
        left = SITE.but(terms=terms, posts=[replace(one, terms=(5,)) if one.terms else one for one in SITE.posts])
        right = left.but(
            terms=((3, "category", "News", 8),),
            posts=[replace(one, terms=(3,)) if one.terms else one for one in left.posts],
        )
        paths = self.paths | {"/category/harbour/": html("Harbour", "All of Harbour")}
        (one,) = [
            one for one in self.causes(left, right, paths, ("/category/harbour/",)) if one.kind != "counters_wrong"
        ]
        self.assertEqual((one.kind, one.number), ("term_dropped", 5))
        self.assertEqual(one.title, "“Harbour” was dropped, and what was in it went to “News”")
        self.assertEqual(one.detail, "8 were filed under “Harbour”. “News” had 0, and has 8.")
