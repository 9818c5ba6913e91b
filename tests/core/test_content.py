"""The check of content: items held against each other, one by one, and against the pages on which they are seen."""

import unittest
from dataclasses import replace

import numpy as np

from demo.wordpress_dump import Post, WordPressDump
from palinode.core import address as addresses
from palinode.core import causes, findings
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.content.check import CHECK, ContentOptions
from palinode.core.checks.looked import NO_DAY, KnownAddresses, Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.pages import findings as page_findings
from palinode.core.checks.tables.check import CHECK as TABLES
from palinode.core.discovery import Discovery
from palinode.core.exports import typed_numbers
from palinode.core.exports.typed_numbers import NumbersError
from palinode.core.platforms import permalinks
from palinode.core.platforms.items import SiteItems
from palinode.core.rule import read
from tests.core.build import NEW, OLD, html, ledger
from tests.core.site_items import database, items

RULE = read(f"{OLD}/ -> {NEW}/")
POSTS = tuple(Post(number, f"Tide {number}", terms=(3,)) for number in range(1, 9))
SITE = WordPressDump(
    posts=(
        *POSTS,
        Post(20, "About", "page"),
        Post(21, "Mill wheel", "attachment", "inherit"),
        Post(22, "Not yet", status="draft"),
        Post(23, "Tide 1", "revision", "inherit", slug="1-revision-v1"),
    ),
    terms=((3, "category", "News", 8), (4, "post_tag", "Rye", 0)),
    comments=((1, 1, "1"), (2, 1, "1"), (3, 2, "spam")),
    accounts=((1, "miller", "administrator"), (2, "anna", "editor")),
)
MOVED = {"home": NEW, "siteurl": NEW}


def judged(left: WordPressDump | None, right: WordPressDump | None, pages=None, options=None, known=None) -> Outcome:
    """Return what the check makes of two dumps."""
    known = known or (None, None)
    sides = [
        Side((f"{host}/",), items=items(dump) if dump else None, known=one)
        for host, dump, one in ((OLD, left, known[0]), (NEW, right, known[1]))
    ]
    return CHECK.judge(Looked(*sides, RULE, "Palinode", pages=pages, options=options))


def rows(made: Outcome) -> dict[str, tuple[str, str, str, str]]:
    """Return verdict, numbers and note of each row, by its name."""
    told = made.rows
    words = [CHECK.verdicts[number].word for number in told.verdict.tolist()]
    return dict(zip(told.left_note, zip(words, told.left, told.right, told.right_note, strict=True), strict=True))


def listed(made: Outcome, name: str) -> list[tuple[str, ...]]:
    """Return the items of a row."""
    number = int(made.rows.numbers["items"][made.rows.left_note.index(name)])
    return [] if number < 0 else list(zip(*made.rows.items[number].columns, strict=True))


def kinds(made: Outcome) -> dict[str, str]:
    """Return what was found, by kind."""
    found = made.findings
    return {found.kind_of(place).word: found.detail[place] for place in range(len(found))}


def without(*numbers: int) -> WordPressDump:
    """Return the site without some posts."""
    return SITE.but(posts=[one for one in SITE.posts if one.number not in numbers])


def changed(number: int, **changes) -> WordPressDump:
    """Return the site with another post of a number."""
    return SITE.but(posts=[replace(one, **changes) if one.number == number else one for one in SITE.posts])


class CountsTest(unittest.TestCase):
    def test_the_same_site(self):
        made = judged(SITE, SITE.but(options=MOVED, prefix="mill_"))
        told = rows(made)
        self.assertEqual(
            {name: row[:3] for name, row in told.items()},
            {
                "Posts, published": ("same", "8", "8"),
                "Pages, published": ("same", "1", "1"),
                "Media files": ("same", "1", "1"),
                "Posts, draft": ("same", "1", "1"),
                "Revisions": ("set_aside", "1", "1"),
                "Categories": ("same", "1", "1"),
                "Tags": ("same", "1", "1"),
                "Comments, approved": ("same", "2", "2"),
                "Comments, spam": ("set_aside", "1", "1"),
                "Accounts, administrator": ("same", "1", "1"),
                "Accounts, editor": ("same", "1", "1"),
                "Counters of posts that contradict their rows": ("same", "1", "1"),
            },
        )
        self.assertEqual((kinds(made), made.unseen), ({}, ()))

    def test_two_that_went_and_one_that_came(self):
        right = without(4, 5).but(posts=[*without(4, 5).posts, Post(99, "Hello world")])
        made = judged(SITE, right)
        verdict, before, after, note = rows(made)["Posts, published"]
        self.assertEqual((verdict, before, after), ("missing", "8", "7"))
        self.assertEqual(note, "2 missing: “Tide 4”, “Tide 5”; 1 more: “Hello world”")
        self.assertEqual(
            listed(made, "Posts, published"),
            [
                ("“Tide 4” (4)", "", "missing", ""),
                ("“Tide 5” (5)", "", "missing", ""),
                ("", "“Hello world” (99)", "only at the destination", ""),
            ],
        )
        self.assertEqual(kinds(made)["items_missing"], "posts, published: 2 missing: “Tide 4”, “Tide 5”")

    def test_what_became_of_an_item(self):
        for change, kind, what in (
            ({"status": "draft"}, "items_hidden", "published became draft"),
            ({"text": "Tides."}, "", ""),
            ({"author": 2}, "items_different", "author “miller” became “anna”"),
            ({"parent": 20}, "items_different", "parent nothing became “about”"),
            (
                {"date": "2021-01-01 00:00:00"},
                "items_different",
                "date “2020-03-04 05:06:07” became “2021-01-01 00:00:00”",
            ),
            ({"terms": ()}, "items_different", "posts in it: 8 became 7"),
        ):
            with self.subTest(change):
                made = judged(SITE, changed(3, **change))
                self.assertEqual(set(kinds(made)) - {"counters_wrong"}, {kind} - {""})
                said = [one[2] for name in rows(made) for one in listed(made, name) if "contradict" not in name]
                self.assertEqual(what in said if what else not said, True, said)

    def test_a_draft_that_was_published(self):
        made = judged(SITE, changed(22, status="publish"))
        self.assertEqual(rows(made)["Posts, draft"], ("different", "1", "0", "draft became published"))
        self.assertEqual(rows(made)["Posts, published"][:3], ("more", "8", "9"))
        self.assertEqual(set(kinds(made)), {"items_different"})

    def test_a_text_that_lacks_its_end(self):
        long = SITE.but(posts=[replace(one, text="Tides come and go. " * 40) for one in SITE.posts])
        short = long.but(posts=[replace(one, text=one.text[:300]) if one.number == 3 else one for one in long.posts])
        made = judged(long, short)
        self.assertEqual(rows(made)["Posts, published"][::3], ("different", "1 with a shorter text"))
        self.assertIn("items_shorter", kinds(made))
        self.assertEqual(kinds(judged(long, short, options=ContentOptions(shorter=70))), {})
        # An address that is shorter than it was is no loss.
        self.assertEqual(
            kinds(judged(long, long.but(posts=[replace(one, text=one.text[:700]) for one in long.posts]))), {}
        )

    def test_items_under_new_numbers(self):
        renumbered = [replace(one, number=one.number + 100, date=one.date) for one in SITE.posts]
        right = SITE.but(posts=renumbered, comments=((1, 101, "1"), (2, 101, "1"), (3, 102, "spam")))
        self.assertEqual(kinds(judged(SITE, right)), {})
        # Numbers that were taken by others say nothing.
        swapped = [replace(one, number=9 - one.number) if one.number < 9 else one for one in SITE.posts]
        self.assertEqual(
            kinds(judged(SITE, SITE.but(posts=swapped, comments=())))["items_missing"][:18], "comments, approved"
        )
        self.assertNotIn("items_different", kinds(judged(SITE.but(comments=()), SITE.but(posts=swapped, comments=()))))

    def test_an_item_that_was_renamed_and_one_that_took_its_title(self):
        made = judged(SITE, changed(3, title="Ebb", slug="ebb"))
        self.assertEqual(
            rows(made)["Posts, published"][3], "1 different: title “Tide 3” became “Ebb”, slug “tide-3” became “ebb”"
        )

    def test_a_parent_that_was_renamed_is_the_same_one(self):
        below = [Post(30, "Shop", "page"), Post(31, "Rye", "page", parent=30)]
        left = SITE.but(posts=[*SITE.posts, *below])
        right = SITE.but(posts=[*SITE.posts, replace(below[0], slug="store"), below[1]])
        made = judged(left, right)
        self.assertEqual([one[2] for one in listed(made, "Pages, published")], ["slug “shop” became “store”"])
        # One whose parent is missing is told with that alone.
        made = judged(left, SITE.but(posts=[*SITE.posts, below[1]]))
        self.assertEqual(rows(made)["Pages, published"][3], "1 missing: “Shop”")

    def test_left_out_and_folded(self):
        right = SITE.but(comments=())
        self.assertEqual(
            kinds(judged(SITE, right)), {"items_missing": "comments, approved: 2 missing: number 1, number 2"}
        )
        made = judged(SITE, right, options=ContentOptions(("comments, approved",)))
        self.assertEqual((kinds(made), rows(made)["Comments, approved"][0]), ({}, "set_aside"))

    def test_accounts_by_role(self):
        right = SITE.but(accounts=((1, "miller", "administrator"), (2, "anna", "subscriber")))
        made = rows(judged(SITE, right))
        self.assertEqual(made["Accounts, editor"], ("missing", "1", "0", "editor became subscriber"))
        self.assertEqual(made["Accounts, subscriber"][:3], ("more", "0", "1"))

    def test_counters_that_contradict_their_rows(self):
        right = SITE.but(terms=((3, "category", "News", 41), (4, "post_tag", "Rye", 0)))
        made = judged(SITE, right)
        self.assertEqual(rows(made)["Counters of terms that contradict their rows"],
                         ("different", "0", "1", "News: counter 41, rows 8"))  # fmt: skip
        self.assertIn("counters_wrong", kinds(made))

    def test_one_side_alone(self):
        made = judged(SITE, None)
        self.assertEqual(rows(made)["Post, published"], ("unknown", "8", "", ""))
        self.assertEqual(
            made.unseen, ("content, of which there is a dump or an export of the source, and none of the destination",)
        )
        nothing = judged(None, None)
        self.assertEqual(
            (len(nothing.rows), nothing.unseen), (0, ("content counts (neither side has a dump or an export)",))
        )

    def test_evidence_of_two_kinds(self):
        """A dump against an export: what visitors see is compared, the rest is not judged."""
        held = items(SITE)[0]
        shown = SITE.but(
            posts=[one for one in SITE.posts if one.status != "draft" and one.number != 4], comments=(), accounts=()
        )
        right = (replace(items(shown)[0], kind="export"),)
        sides = Side((f"{OLD}/",), items=(held,)), Side((f"{NEW}/",), items=right)
        told = rows(CHECK.judge(Looked(*sides, RULE, "Palinode")))
        self.assertEqual(told["Posts, published"][::3], ("missing", "1 missing: “Tide 4”"))
        for name in ("Posts, draft", "Comments, approved", "Accounts, editor"):
            self.assertEqual(told[name][0], "unknown")
        self.assertEqual(told["Posts, draft"][3], "the dump and the export do not show the same of these")

    def test_each_installation_has_marks_of_its_own(self):
        def both(shop: WordPressDump, kind: str = "dump", prefixes=("wp_", "shop_")) -> SiteItems:
            held = [replace(items(one)[0].installations[0], prefix=prefix)
                    for one, prefix in zip((SITE, shop), prefixes, strict=True)]  # fmt: skip
            return SiteItems(kind, tuple(held))

        shop = without(4, 5, 6)
        alone = SiteItems("api", (replace(items(SITE)[0].installations[0], prefix=""),))
        held = (both(shop), both(without(7), "export"), alone)
        made = CHECK.judge(
            Looked(Side((f"{OLD}/",), items=held), Side((f"{NEW}/",), items=(both(shop),)), RULE, "Palinode")
        )
        told = made.rows
        numbers = {
            name: {
                kind: int(array[at])
                for kind, array in told.numbers.items()
                if kind.startswith("source_") and array[at] >= 0
            }
            for at, name in enumerate(told.left_note)
            if "osts, published" in name
        }
        self.assertEqual(
            numbers,
            # Nobody knows of which of the two the API is.
            {"Wp_ posts, published": {"source_dump": 8, "source_export": 8},
             "Shop_ posts, published": {"source_dump": 5, "source_export": 7}},
        )  # fmt: skip

    def test_a_finding_is_the_same_as_long_as_the_same_items_are_missing(self):
        one, same, other = (judged(SITE, without(*gone)).findings for gone in ((4, 5), (5, 4), (4, 6)))
        self.assertEqual((one.key.tolist(), one.seen.tolist()), (same.key.tolist(), same.seen.tolist()))
        self.assertEqual(one.key.tolist(), other.key.tolist())
        self.assertNotEqual(one.seen.tolist(), other.seen.tolist())


class TypedNumbersTest(unittest.TestCase):
    def test_tables_as_people_type_them(self):
        text = "Orders 1,284\nNewsletter subscribers:\t731\n\nPages of 2020 = 1 284\nForms | 3\nA, B; 2"
        self.assertEqual(
            typed_numbers.read(text),
            {"Orders": 1284, "Newsletter subscribers": 731, "Pages of 2020": 1284, "Forms": 3, "A, B": 2},
        )
        for bad, said in (("Orders", "Line 1 does not end"), ("A 1\na 2", "second time"), ("\n", "No line counts")):
            with self.assertRaisesRegex(NumbersError, said):
                typed_numbers.read(bad)

    def test_beside_dumps_and_alone(self):
        left, right = (
            {"Posts, published": 8, "Orders": 12, "Forms": 3},
            {"posts, published": 7, "Orders": 11, "Gifts": 1},
        )
        sides = [
            Side((f"{host}/",), items=(*items(SITE), SiteItems("numbers", (), numbers)))
            for host, numbers in ((OLD, left), (NEW, right))
        ]
        made = CHECK.judge(Looked(*sides, RULE, "Palinode"))
        told = rows(made)
        at = made.rows.left_note.index("Posts, published")
        self.assertEqual([int(made.rows.numbers[f"{side}_typed"][at]) for side in ("source", "destination")], [8, 7])
        self.assertEqual(told["Orders"], ("missing", "12", "11", "1 fewer, by numbers typed by hand"))
        self.assertEqual(told["Forms"][0], "unknown")
        self.assertEqual(told["Gifts"][:3], ("unknown", "", "1"))
        self.assertEqual(kinds(made), {"numbers_differ": "Orders: 12 became 11"})
        alone = CHECK.judge(Looked(*(replace(side, items=side.items[1:]) for side in sides), RULE, "Palinode"))
        self.assertEqual(set(rows(alone)), {"Posts, published", "Orders", "Forms", "Gifts"})
        self.assertIn("content counts", alone.unseen[0])


class ChosenTablesTest(unittest.TestCase):
    def test_tables_that_a_person_chose(self):
        columns = "id int, status varchar(20)"
        left = SITE.but(more={"wp_orders": (columns, [(1, "paid"), (2, "paid"), (3, "open")])})
        right = SITE.but(more={"wp_orders": (columns, [(1, "paid"), (3, "open"), (4, "lost")])})
        sides = [Side((f"{host}/",), database=database(dump)) for host, dump in ((OLD, left), (NEW, right))]
        options = ContentOptions(tables=("Orders: status", "posts", "orders: id", "gone"))
        made = CHECK.judge(Looked(*sides, RULE, "Palinode", options=options))
        told = rows(made)
        self.assertEqual(told["Orders, paid"], ("missing", "2", "1", "1 fewer"))
        self.assertEqual(
            [told[name][0] for name in ("Orders, open", "Orders, lost", "posts")], ["same", "more", "same"]
        )
        self.assertEqual(kinds(made), {"rows_fewer": "Orders, paid: 2 became 1"})
        self.assertEqual(
            made.unseen[1:],
            (
                "table orders by its column id, by which its dump is counted when this is saved",
                "table gone, which the source does not have",
            ),
        )
        alone = CHECK.judge(Looked(sides[0], Side((f"{NEW}/",)), RULE, "Palinode", options=options))
        self.assertIn("no dump of both sides", alone.unseen[1])


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
