"""Content counts: items, typed numbers and chosen tables of two sides facing each other."""

import unittest
from dataclasses import replace

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.checks.content.check import CHECK, ContentOptions
from palinode.core.checks.looked import Looked, Side
from palinode.core.exports import typed_numbers
from palinode.core.exports.typed_numbers import NumbersError
from palinode.core.platforms.items import SiteItems
from tests.core.build import NEW, OLD
from tests.core.content import MOVED, RULE, SITE, changed, judged, kinds, listed, rows, without
from tests.core.site_items import database, items


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
