"""The check of database tables: what is short, absent, damaged, made otherwise, and where an import stopped."""

import unittest
from typing import Any

from demo.wordpress_dump import Post, WordPressDump
from palinode.core.checks.looked import Looked, Side
from palinode.core.checks.outcome import Outcome
from palinode.core.checks.tables.check import CHECK, TablesOptions
from palinode.core.dumps.type_width import are_alike, is_narrower
from palinode.core.rule import read
from tests.core.site_items import database

SITE = WordPressDump(
    posts=tuple(Post(number, f"Tide {number}") for number in range(1, 9)),
    comments=((1, 1, "1"), (2, 1, "1")),
    more={
        "wp_orders": ("id int AUTO_INCREMENT, total varchar(20)", [(1, "4.50"), (2, "3.20")]),
        "wp_order_lines": ("id int, note text", [(number, f"Rye {number}") for number in range(1, 31)]),
        "wp_visits_log": ("id int", [(1,), (2,)]),
    },
)


def judged(left: WordPressDump | bytes, right: WordPressDump | bytes, options: Any = None) -> Outcome:
    """Return what the check makes of two dumps."""
    sides = [
        Side((f"http://{name}.example/",), database=database(dump)) for name, dump in (("old", left), ("new", right))
    ]
    return CHECK.judge(Looked(*sides, read("http://old.example/ -> http://new.example/"), "Palinode", options=options))


def rows(made: Outcome) -> dict[str, tuple[str, str, str, str]]:
    """Return verdict, numbers and note of each row that is not the same, by its name."""
    told = made.rows
    words = [CHECK.verdicts[number].word for number in told.verdict.tolist()]
    found = dict(zip(told.left_note, zip(words, told.left, told.right, told.right_note, strict=True), strict=True))
    return {name: row for name, row in found.items() if row[0] != "same"}


def kinds(made: Outcome) -> dict[str, str]:
    """Return what was found, by kind."""
    found = made.findings
    return {found.kind_of(place).word: found.detail[place] for place in range(len(found))}


def with_table(name: str, columns: str, values: list[Any]) -> WordPressDump:
    """Return the site with another table."""
    return SITE.but(more=SITE.more | {name: (columns, values)})


class TablesTest(unittest.TestCase):
    def test_the_same_database(self):
        made = judged(SITE, SITE)
        self.assertEqual(rows(made), {"visits_log": ("set_aside", "2", "2", "rows come and go by themselves")})
        self.assertEqual((kinds(made), made.unseen), ({}, ()))
        self.assertEqual(len(made.rows), 12)

    def test_another_prefix_is_none(self):
        right = SITE.but(prefix="mill_", more={name.replace("wp_", "mill_"): one for name, one in SITE.more.items()})
        self.assertEqual((kinds(judged(SITE, right)), len(judged(SITE, right).rows)), ({}, 12))

    def test_rows_fewer_and_more(self):
        made = judged(
            SITE, with_table("wp_order_lines", *[SITE.more["wp_order_lines"][0], SITE.more["wp_order_lines"][1][:19]])
        )
        self.assertEqual(rows(made)["order_lines"], ("short", "30", "19", "11 rows fewer"))
        self.assertEqual(kinds(made), {"table_short": "table order_lines has 11 rows fewer"})
        made = judged(SITE, with_table("wp_orders", SITE.more["wp_orders"][0], [(n, "1") for n in range(5)]))
        self.assertEqual(rows(made)["orders"], ("more", "2", "5", "3 rows more"))
        made = judged(SITE, SITE.but(comments=()), TablesOptions(("comments",)))
        self.assertEqual((rows(made)["comments"][0], kinds(made)), ("set_aside", {}))

    def test_a_table_that_is_absent_and_one_that_is_new(self):
        less = SITE.but(more={name: one for name, one in SITE.more.items() if name != "wp_orders"})
        made = judged(SITE, less)
        self.assertEqual(rows(made)["orders"], ("absent", "2", "", "absent"))
        self.assertEqual(kinds(made), {"table_absent": "table orders is absent"})
        self.assertEqual(rows(judged(less, SITE))["orders"], ("new", "", "2", "only at the destination"))

    def test_an_import_that_stopped(self):
        # The tables stand in order of their names.
        def stopped(inside: int) -> WordPressDump:
            lines = SITE.more["wp_order_lines"]
            return SITE.but(
                leave_out=frozenset(
                    {"posts", "term_relationships", "term_taxonomy", "terms", "users", "usermeta", "postmeta"}
                ),
                more={"wp_order_lines": (lines[0], lines[1][:inside])},
            )

        made = judged(SITE, stopped(7))
        self.assertEqual(
            kinds(made),
            {"import_stopped": "the import stopped inside table order_lines, after 7 of 30 rows; "
             "9 tables are empty or absent behind it"},
        )  # fmt: skip
        self.assertEqual(rows(made)["order_lines"][3], "the import stopped inside this table")
        self.assertEqual(rows(made)["users"][3], "behind where the import stopped")
        # What is short for another reason before it stays a finding of its own.
        both = stopped(7).but(comments=((1, 1, "1"),))
        self.assertEqual(set(kinds(judged(SITE, both))), {"import_stopped", "table_short"})
        # Several that are short here and there are no end.
        other = SITE.but(posts=SITE.posts[:2], comments=())
        self.assertEqual(set(kinds(judged(SITE, other))), {"table_short"})

    def test_how_a_table_is_made(self):
        for columns, kind, said in (
            ("id int, total varchar(20)", "number_lost", "table orders: id counts up, it does not"),
            (
                "id int AUTO_INCREMENT, total varchar(10)",
                "type_narrowed",
                "table orders: total varchar(20) became total varchar(10)",
            ),
            (
                "id int AUTO_INCREMENT, total varchar(40)",
                "columns_changed",
                "table orders: total varchar(20) became total varchar(40)",
            ),
            (
                "id int AUTO_INCREMENT, price varchar(20)",
                "columns_changed",
                "table orders: not there became column price",
            ),
            ("id int(11) AUTO_INCREMENT, total varchar(20)", "", ""),
        ):
            with self.subTest(columns):
                made = judged(SITE, with_table("wp_orders", columns, [(1, "4.50"), (2, "3.20")]))
                self.assertEqual(kinds(made), {kind: said} if kind else {})
        made = judged(SITE, SITE.but(engine="MyISAM", charset="latin1"))
        self.assertEqual(set(kinds(made)), {"engine_changed", "charset_changed"})
        self.assertEqual(rows(made)["orders"][3], "another character set: utf8mb4, latin1, and 1 more")
        self.assertEqual(kinds(judged(SITE, SITE.but(charset="utf8mb4"))), {})

    def test_damaged_text(self):
        left = with_table("wp_order_lines", "id int, note text", [(1, "Mühle „Ebbe“"), (2, "x")])
        broken = "Mühle „Ebbe“".encode().decode("cp1252", "replace")
        for text in (broken, "M\ufffdhle", "???? ????"):
            made = judged(left, with_table("wp_order_lines", "id int, note text", [(1, text), (2, "x")]))
            self.assertEqual((rows(made)["order_lines"][0], set(kinds(made))), ("damaged", {"text_damaged"}))
        self.assertEqual(kinds(judged(left, left)), {})
        # What was damaged at the source is no fault of the move.
        bad = with_table("wp_order_lines", "id int, note text", [(1, broken), (2, "x")])
        self.assertEqual(kinds(judged(bad, bad)), {})

    def test_prefixes_that_do_not_fit(self):
        right = SITE.but(
            prefix="mill_",
            more={"mill_orders" if name == "wp_orders" else name: one for name, one in SITE.more.items()},
        )
        made = judged(SITE, right)
        said = "2 tables still under wp_, the others under mill_: wp_order_lines"
        self.assertEqual(kinds(made), {"prefix_mixed": said})
        made = judged(SITE, SITE.but(prefix="mill_", keys="wp_", more={}))
        self.assertEqual(
            [one for one in made.findings.detail if "key" in one],
            [
                "the tables are under mill_, and the key in them is wp_user_roles",
                "the tables are under mill_, and the key of accounts is wp_capabilities",
            ],
        )

    def test_a_dump_that_is_cut_off(self):
        made = judged(SITE, SITE.sql()[:-200])
        self.assertIn("the dump of the destination is cut off. It ends within", made.unseen[0])

    def test_a_database_of_no_platform_that_is_known(self):
        tables = {f"shop_{name}": ("id int", [(1,)]) for name in ("orders", "lines", "people", "stock")}

        def sql(prefix: str) -> bytes:
            return (
                b"".join(
                    f"CREATE TABLE `{name.replace('shop_', prefix)}` (id int);\nINSERT INTO `{name.replace('shop_', prefix)}` VALUES (1);\n".encode()
                    for name in tables
                )
                + b"-- Dump completed\n"
            )

        self.assertEqual(rows(judged(sql("shop_"), sql("new_"))), {})


class TypeTest(unittest.TestCase):
    def test_narrower_types(self):
        for before, after in (
            ("varchar(255)", "varchar(191)"), ("bigint(20)", "int(11)"), ("longtext", "text"), ("text", "varchar(255)"),
            ("int(10) unsigned", "int(10)"), ("double", "float"), ("character varying(80)", "character varying(20)"),
        ):  # fmt: skip
            self.assertTrue(is_narrower(before, after), (before, after))
            self.assertFalse(is_narrower(after, before) and "unsigned" not in before, (after, before))
        self.assertTrue(are_alike("int(11)", "int"))
        self.assertTrue(are_alike("bigint(20) unsigned", "bigint unsigned"))
        self.assertFalse(are_alike("varchar(20)", "varchar(40)"))
